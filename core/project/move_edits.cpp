#include "core/project/move_edits.h"

#include <algorithm>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

bool hasCut(const Project& project, int cut) {
    return cut >= 0 && cut < cutCount(project);
}
bool hasMove(const Project& project, int cut, int move) {
    return hasCut(project, cut) && move >= 0 && move < int(transitionAt(project, cut).moves.size());
}
Stack& movesOf(Project& project, int cut) {
    return project.reel[std::size_t(cut) + 1].transition.moves;
}

} // namespace

bool hasCurve(const Project& project, const CurveAddress& at) {
    return hasMove(project, at.cut, at.move) && at.channel >= 0 &&
           at.channel < int(transitionAt(project, at.cut).moves[std::size_t(at.move)].channels.size());
}

const Curve& curveAt(const Project& project, const CurveAddress& at) {
    return transitionAt(project, at.cut).moves[std::size_t(at.move)].channels[std::size_t(at.channel)].side(at.side);
}

const ChannelInfo& channelInfoAt(const Project& project, const CurveAddress& at) {
    return moveInfo(transitionAt(project, at.cut).moves[std::size_t(at.move)].kind).channels[std::size_t(at.channel)];
}

Project withTransition(const Project& project, int cut, const Transition& transition) {
    if (!hasCut(project, cut)) return project;
    Project out = project;
    out.reel[std::size_t(cut) + 1].transition = transition;
    // Moves that were not at this cut before come from elsewhere and may carry ids that are taken.
    const Stack& before = transitionAt(project, cut).moves;
    for (Move& move : movesOf(out, cut)) {
        const bool known = std::any_of(before.begin(), before.end(), [&](const Move& m) { return m.id == move.id; });
        if (!known || move.id.empty()) move.id.clear(), move.id = freshId(out, "move-");
    }
    return out;
}

Project withCurve(const Project& project, const CurveAddress& at, const Curve& curve) {
    if (!hasCurve(project, at)) return project;
    Project out = project;
    movesOf(out, at.cut)[std::size_t(at.move)].channels[std::size_t(at.channel)].side(at.side) = curve;
    return out;
}

Project withMoveAdded(const Project& project, int cut, MoveKind kind) {
    if (!hasCut(project, cut) || kind == MoveKind::Unknown) return project;
    Project out = project;
    movesOf(out, cut).push_back(makeMove(kind, freshId(project, "move-")));
    return out;
}

Project withoutMove(const Project& project, int cut, int move) {
    if (!hasMove(project, cut, move)) return project;
    Project out = project;
    movesOf(out, cut).erase(movesOf(out, cut).begin() + move);
    return out;
}

Project withMoveChanged(const Project& project, int cut, int move, const Move& changed) {
    if (!hasMove(project, cut, move)) return project;
    Project out = project;
    Move& m = movesOf(out, cut)[std::size_t(move)];
    m = changed;
    for (int c = 0; c < int(m.channels.size()); ++c) {
        auto& channel = m.channels[std::size_t(c)];
        channel.outgoing.space = channel.incoming.space = spaceOf(m, c);
    }
    return out;
}

Project withSideValues(const Project& project, const CurveAddress& at, double start, double end, int frames) {
    if (!hasCurve(project, at)) return project;
    Curve curve = curveAt(project, at);
    if (curve.keys.size() < 2) {
        frames = std::max(frames, 1);
        curve = at.side == Side::Outgoing ? twoKeys(curve.space, -frames, start, 0, end, departingShape())
                                          : twoKeys(curve.space, 0, start, frames, end, arrivingShape());
    } else {
        const int last = int(curve.keys.size()) - 1;
        if (curve.keys.front().value != start) curve = withKeyMoved(curve, 0, curve.keys.front().time, start);
        if (curve.keys.back().value != end) curve = withKeyMoved(curve, last, curve.keys.back().time, end);
    }
    return withCurve(project, at, curve);
}

Project withSideCleared(const Project& project, int cut, Side side) {
    if (!hasCut(project, cut)) return project;
    Project out = project;
    for (Move& move : movesOf(out, cut))
        for (Channel& channel : move.channels) channel.side(side).keys.clear();
    return out;
}

int usualFrames(const Project& project, int cut, Side side) {
    if (!hasCut(project, cut)) return 8;
    const auto length = project.reel[std::size_t(cut) + (side == Side::Incoming ? 1 : 0)].length;
    return int(std::clamp<std::int64_t>(length, 1, 8));
}

} // namespace virga
