#pragma once
// Fixes of keys and of what lies between cuts: edits that put keys where they are seen, spread them over a shot, and
// hand over what is left between neighbours. What is not there leaves the project as it is.
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

/// Moves of a cut that held at their ends run on.
Project withMovesRunningOn(const Project& project, int cut);

/// The end keys of one side that miss the cut by less than two frames put on it: frame 0 on both sides, past the last
/// frame that the outgoing one shows.
Project withEndKeysAtCut(const Project& project, int cut, Side side);

/// One side of one channel with its times scaled so that its key beyond the cut lies on frame 0.
Project withKeysBroughtToCut(const Project& project, int cut, int move, int channel, Side side);
/// The same with its value raised so far that what the key says is reached on the frame beside the cut. Errors:
/// BadInput where that would leave the channel's range.
Expected<Project> withValueReached(const Project& project, int cut, int move, int channel, Side side);

/// One side of one channel with its times scaled so that it begins, or ends, with its clip, and its way with them: its
/// rates stay.
Project withSideFitted(const Project& project, int cut, int move, int channel, Side side);

/// A drift's channel with its times scaled so that it ends with its clip.
Project withDriftFitted(const Project& project, int clip, int move, int channel);

/// The handles of every segment of one side of one channel kept between its two values.
Project withoutOvershoot(const Project& project, int cut, int move, int channel, Side side);

/// How far a curve leaves the span between two neighbouring keys, as a share of their way; segments that go nowhere and
/// such as are named shapes (core/curve/easing_library.h) have none.
double overshootOf(const Curve& curve);

/// Inner keys of one side whose neighbours lie on both sides of their value run through: handles by the monotone rule
/// of Steffen ("A simple method for monotonic interpolation in one dimension", Astronomy and Astrophysics 239, 1990).
/// Errors: BadInput where there is none.
Expected<Project> withKeysRunThrough(const Project& project, int cut, Side side);

/// Both cuts' moves spread over a clip that stands still between them: they leave a little of their way to the stretch
/// [from, to) of its frames, the arrival to its first half, the departure to its second, or one of them to all of it
/// where the other would show copies for long. Their rates stay. Errors: BadInput where there is nothing to spread.
Expected<Project> withKeysSpread(const Project& project, int clip, std::int64_t from, std::int64_t to);

/// A clip given a slow zoom along its whole length, by about a thirtieth; the way the movement before it went, out or
/// in.
Project withCreepingDrift(const Project& project, int clip);

/// What a clip begins with as drift, in degrees and as a factor, until it has its own again at its end.
Project withTiltTaken(const Project& project, int clip, double degrees);
Project withScaleTaken(const Project& project, int clip, double factor);

} // namespace virga
