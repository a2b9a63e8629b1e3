#pragma once
// Edits of what happens at a cut: moves, their curves and keys.
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

/// One curve of one cut.
struct CurveAddress {
    int cut = -1;
    int move = 0;
    int channel = 0;
    Side side = Side::Outgoing;
    bool operator==(const CurveAddress&) const = default;
};

bool hasCurve(const Project& project, const CurveAddress& at);
/// REQUIRES: hasCurve.
const Curve& curveAt(const Project& project, const CurveAddress& at);
const ChannelInfo& channelInfoAt(const Project& project, const CurveAddress& at);

Project withTransition(const Project& project, int cut, const Transition& transition);
Project withCurve(const Project& project, const CurveAddress& at, const Curve& curve);

/// A move with no keys yet, on top of the stack.
Project withMoveAdded(const Project& project, int cut, MoveKind kind);
Project withoutMove(const Project& project, int cut, int move);
Project withMoveChanged(const Project& project, int cut, int move, const Move& changed);

/// Start and end of one side, as the number fields set them. A side without keys gets two, over `frames` frames, with
/// the shape that departs or arrives; one with keys has its first or last value changed, its shape kept.
Project withSideValues(const Project& project, const CurveAddress& at, double start, double end, int frames);

/// One side of a transition removed from all its moves.
Project withSideCleared(const Project& project, int cut, Side side);

/// How many frames a cut's new move should take on each side: eight, or what the clip has.
int usualFrames(const Project& project, int cut, Side side);

} // namespace virga
