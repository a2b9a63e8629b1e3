#pragma once
// Inside core/motion only: what each kind of movement does to the picture, in the frame's pixels, for the table of
// moves.
#include "core/motion/move.h"

namespace virga::parts {

MovePart zoom(const MoveValues& values, Size frame);
MovePart spin(const MoveValues& values, Size frame);
MovePart slide(const MoveValues& values, Size frame);
/// Scale 1 / (1 - d): an object at distance z is f / z large (pinhole camera). Nothing is seen from d = 1 on.
MovePart push(const MoveValues& values, Size frame);
/// The picture's plane turned about the anchor's horizontal, then vertical axis, seen from (H/2) / tan(fov/2) in front
/// of the frame's middle: a homography.
MovePart tilt(const MoveValues& values, Size frame);
MovePart warp(const MoveValues& values, Size frame);
MovePart shake(const MoveValues& values, Size frame);
/// A shake's course on the first axis that it moves on.
double shakePattern(const MoveValues& values);

} // namespace virga::parts
