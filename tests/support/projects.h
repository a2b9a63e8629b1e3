#pragma once
// Projects for tests: two clips with a move at their cut.
#include <functional>
#include <memory>

#include "core/curve/shape.h"
#include "core/edit/move_edits.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga::test {

/// Two clips of 25 frames with a second spare at both ends, 1280 x 720 at 25, mirrored edges, 180 degrees. The media
/// are `a` and `b`, which need not exist.
Project twoClips(const std::filesystem::path& a = "/media/a.mp4", const std::filesystem::path& b = "/media/b.mp4");

/// One channel's move put on a cut: outgoing from o0 at -before to o1 at 0, incoming from i0 at 0 to i1 at after. A
/// side of 0 frames has no keys.
Project withMove(const Project& project, int cut, MoveKind kind, int channel, double o0, double o1, double before,
                 double i0, double i1, double after, const Shape& out = departingShape(),
                 const Shape& in = arrivingShape());

/// What a stack alone does to the frame at a time of one side, and how fast that is seen there
/// (core/plan/seen_speed.h).
ScreenMap movementOf(const Stack& stack, Side side, double time, Size frame);
double seenSpeedOf(const Stack& stack, Side side, double time, Size frame);

/// zoom 1 -> 2.5 in 5 frames into 0.62 -> 1 in 12.
Project plungeProject(const std::filesystem::path& a = "/media/a.mp4", const std::filesystem::path& b = "/media/b.mp4");

/// Three seconds of a shot at 25 pictures of 1280 x 720; what each of its steps does is told by its number.
std::shared_ptr<const ShotMovement> shotMovement(const std::function<TurnZoomSlide(int)>& step);

} // namespace virga::test
