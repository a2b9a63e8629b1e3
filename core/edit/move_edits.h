#pragma once
// Edits of moves: where stacks of them stand in a project, their curves and keys. What is not there leaves the project
// as it is.
#include "core/base/error.h"
#include "core/project/stack_place.h"

namespace virga {

Project withStack(const Project& project, StackPlace place, const Stack& stack);

/// In place of a move's number: the speed of the shots themselves. At a cut the outgoing clip's keys that count from
/// its end and the incoming clip's that count from its start, else those of the one clip.
inline constexpr int shotSpeed = -2;

/// One curve of one stack, or of a shot's speed.
struct CurveAddress {
    StackPlace place;
    int move = 0;
    int channel = 0;
    Side side = Side::Outgoing;
    bool operator==(const CurveAddress&) const = default;
};

bool hasCurve(const Project& project, const CurveAddress& at);
/// REQUIRES: hasCurve.
const Curve& curveAt(const Project& project, const CurveAddress& at);
const ChannelInfo& channelInfoAt(const Project& project, const CurveAddress& at);
/// The curves of both sides. REQUIRES: hasCurve for one of them; what a side does not have is empty.
Channel channelAt(const Project& project, const CurveAddress& at);
/// The kind of the move that a curve belongs to. REQUIRES: hasCurve.
MoveKind kindAt(const Project& project, const CurveAddress& at);
/// Whether a curve's place has a side for it: a clip has one for its drift, two for its speed.
bool hasSide(const CurveAddress& at);

Project withTransition(const Project& project, int cut, const Transition& transition);
Project withCurve(const Project& project, const CurveAddress& at, const Curve& curve);
/// Several curves set at once, for one copy of the project.
Project withCurves(const Project& project, const std::vector<std::pair<CurveAddress, Curve>>& curves);

/// A move with no keys yet, on top of the stack.
Project withMoveAdded(const Project& project, StackPlace place, MoveKind kind);
/// A move that shows at once what its kind does, by its table's usual amount: movement carries through a cut, over a
/// clip or into and out of an overlay or adjustment; finishing is strongest at a cut and stays over all of a clip, an
/// overlay or an adjustment.
Project withUsualMove(const Project& project, StackPlace place, MoveKind kind);
Project withoutMove(const Project& project, StackPlace place, int move);
Project withMoveChanged(const Project& project, StackPlace place, int move, const Move& changed);
/// A move taken out of the stack and put back as its entry `to`.
Project withMoveReordered(const Project& project, StackPlace place, int from, int to);
/// A move soloed, and thereby turned on; or no longer.
Project withSolo(const Project& project, StackPlace place, int move, bool solo);
/// No move soloed any more.
Project withoutSolo(const Project& project, StackPlace place);

/// Start and end of one side, as the number fields set them. A side without keys gets two, over `frames` frames, with
/// the shape that departs or arrives; one with keys has its first or last value changed, its shape kept.
Project withSideValues(const Project& project, const CurveAddress& at, double start, double end, int frames);

/// How many frames a new move should take on each side: eight, or what the clip has; a drift takes the whole clip.
int usualFrames(const Project& project, StackPlace place, Side side);

} // namespace virga
