#include "core/edit/move_edits.h"

#include <algorithm>

#include "core/curve/curve_edit.h"
#include "core/edit/speed_edits.h"

namespace virga {
namespace {

bool hasMove(const Project& project, StackPlace place, int move) {
    const Stack* stack = stackAt(project, place);
    return stack && move >= 0 && move < int(stack->size());
}
// The clip whose speed an address means, or null: stills and gaps have none.
template <class Any> auto clipAt(Any& project, const CurveAddress& at) -> decltype(&project.reel[0]) {
    decltype(&project.reel[0]) clip = nullptr;
    const auto entry = [&](int i) { return hasClip(project, i) ? &project.reel[std::size_t(i)] : nullptr; };
    if (at.place.kind == StackPlace::Cut && hasCut(project, at.place.index))
        clip = entry(at.place.index + (at.side == Side::Incoming));
    else if (at.place.kind == StackPlace::Drift)
        clip = entry(at.place.index);
    else if (at.place.kind == StackPlace::Overlay && at.place.index >= 0 &&
             at.place.index < int(project.overlays.size()))
        clip = &project.overlays[std::size_t(at.place.index)].clip;
    if (!clip || clip->isGap()) return nullptr;
    const Media* media = findMedia(project, clip->mediaId);
    return media && media->still ? nullptr : clip;
}

Curve& curveOf(Project& project, const CurveAddress& at) { // REQUIRES: it is there
    if (at.move == shotSpeed) return clipAt(project, at)->speedCurve.side(at.side);
    return (*ownStackAt(project, at.place))[std::size_t(at.move)].channels[std::size_t(at.channel)].side(at.side);
}

Stack& movesOf(Project& project, StackPlace place) { // REQUIRES: it is there
    return *ownStackAt(project, place);
}

} // namespace

Project withStack(const Project& project, StackPlace place, const Stack& stack) {
    if (!stackAt(project, place)) return project;
    Project out = project;
    movesOf(out, place) = stack;
    return out;
}

bool hasCurve(const Project& project, const CurveAddress& at) {
    if (at.move == shotSpeed) return at.channel == 0 && clipAt(project, at);
    return hasMove(project, at.place, at.move) && at.channel >= 0 &&
           at.channel < int((*stackAt(project, at.place))[std::size_t(at.move)].channels.size());
}

const Curve& curveAt(const Project& project, const CurveAddress& at) {
    if (at.move == shotSpeed) return clipAt(project, at)->speedCurve.side(at.side);
    return (*stackAt(project, at.place))[std::size_t(at.move)].channels[std::size_t(at.channel)].side(at.side);
}

MoveKind kindAt(const Project& project, const CurveAddress& at) {
    return at.move == shotSpeed ? MoveKind::ShotSpeed : (*stackAt(project, at.place))[std::size_t(at.move)].kind;
}

Channel channelAt(const Project& project, const CurveAddress& at) {
    Channel channel;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        CurveAddress one = at;
        one.side = side;
        if (hasCurve(project, one)) channel.side(side) = curveAt(project, one);
    }
    return channel;
}

bool hasSide(const CurveAddress& at) {
    return at.move == shotSpeed || hasSide(at.place, at.side);
}

const ChannelInfo& channelInfoAt(const Project& project, const CurveAddress& at) {
    return moveInfo(kindAt(project, at)).channels[std::size_t(at.channel)];
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
    curveOf(out, at) = curve;
    return out;
}

Project withCurves(const Project& project, const std::vector<std::pair<CurveAddress, Curve>>& curves) {
    Project out = project;
    for (const auto& [at, curve] : curves)
        if (hasCurve(out, at)) curveOf(out, at) = curve;
    return out;
}

Project withMoveAdded(const Project& project, StackPlace place, MoveKind kind) {
    if (!stackAt(project, place) || kind == MoveKind::Unknown || kind == MoveKind::ShotSpeed) return project;
    Project out = project;
    movesOf(out, place).push_back(makeMove(kind, freshId(project, "move-")));
    return out;
}

namespace {

// Into and out of a cut, or into and out of a clip, where there is a shot that runs.
Project withUsualRamps(const Project& project, StackPlace place) {
    const Ramp out = rampPresets().front().out, in = rampPresets().front().in;
    if (place.kind == StackPlace::Cut) return withRampsAtCut(project, place.index, &out, &in);
    Project next = project;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const CurveAddress at{place, shotSpeed, 0, side};
        if (!hasCurve(project, at)) continue;
        Ramp ramp = side == Side::Outgoing ? out : in;
        ramp.frames = int(std::clamp<std::int64_t>(clipAt(project, at)->length / 2, 1, ramp.frames));
        next = withCurve(next, at, withRamp({}, side, ramp).speedCurve.side(side));
    }
    return next;
}

} // namespace

Project withUsualMove(const Project& project, StackPlace place, MoveKind kind) {
    if (kind == MoveKind::ShotSpeed) return withUsualRamps(project, place);
    Project out = withMoveAdded(project, place, kind);
    if (out == project) return out;
    Move& move = movesOf(out, place).back();
    const MoveInfo& info = moveInfo(kind);
    const ChannelInfo& c = info.channels.front();
    const Space space = spaceOf(move, 0);
    Channel& channel = move.channels.front();
    const int before = hasSide(place, Side::Outgoing) ? usualFrames(project, place, Side::Outgoing) : 0,
              after = usualFrames(project, place, Side::Incoming);
    // Movement comes in from the other side of its rest; a shake, a fade and finishing are one thing on both sides.
    const bool carries = info.role == MoveRole::Movement && c.lowest < c.neutral;
    const double other = fromSpace(2 * toSpace(c.neutral, space) - toSpace(c.usual, space), space);
    const double arrives = carries ? std::clamp(other, c.lowest, c.highest) : c.usual;
    if (place.kind == StackPlace::Cut) {
        channel.outgoing = twoKeys(space, -before, c.neutral, 0, c.usual, departingShape());
        channel.incoming = twoKeys(space, 0, arrives, after, c.neutral, arrivingShape());
    } else if (info.role == MoveRole::Movement && !carries) {
        channel.incoming = twoKeys(space, 0, c.usual, after, c.neutral, arrivingShape());
    } else if (info.role != MoveRole::Movement && info.role != MoveRole::Opacity) {
        channel.incoming = {space, {Key{0, c.usual}}};
    } else if (place.kind == StackPlace::Drift) {
        // Over a whole clip a little is much.
        const double part =
            fromSpace(toSpace(c.neutral, space) + (toSpace(c.usual, space) - toSpace(c.neutral, space)) / 4, space);
        channel.incoming = twoKeys(space, 0, c.neutral, after, part, {Interpolation::Linear});
    } else {
        channel.incoming = twoKeys(space, 0, arrives, after, c.neutral, arrivingShape());
        channel.outgoing = twoKeys(space, -before, c.neutral, 0, carries ? c.usual : arrives, departingShape());
    }
    return out;
}

Project withoutMove(const Project& project, StackPlace place, int move) {
    if (!hasMove(project, place, move)) return project;
    Project out = project;
    movesOf(out, place).erase(movesOf(out, place).begin() + move);
    return out;
}

Project withMoveChanged(const Project& project, StackPlace place, int move, const Move& changed) {
    if (!hasMove(project, place, move)) return project;
    Project out = project;
    Move& m = movesOf(out, place)[std::size_t(move)];
    m = changed;
    for (int c = 0; c < int(m.channels.size()); ++c) {
        auto& channel = m.channels[std::size_t(c)];
        channel.outgoing = inSpace(channel.outgoing, spaceOf(m, c));
        channel.incoming = inSpace(channel.incoming, spaceOf(m, c));
    }
    return out;
}

Project withMoveReordered(const Project& project, StackPlace place, int from, int to) {
    if (!hasMove(project, place, from) || !hasMove(project, place, to) || from == to) return project;
    Project out = project;
    Stack& moves = movesOf(out, place);
    if (from < to)
        std::rotate(moves.begin() + from, moves.begin() + from + 1, moves.begin() + to + 1);
    else
        std::rotate(moves.begin() + to, moves.begin() + from, moves.begin() + from + 1);
    return out;
}

Project withSolo(const Project& project, StackPlace place, int move, bool solo) {
    if (!hasMove(project, place, move)) return project;
    Project out = project;
    Move& m = movesOf(out, place)[std::size_t(move)];
    m.solo = solo;
    m.enabled = m.enabled || solo;
    return out;
}

Project withoutSolo(const Project& project, StackPlace place) {
    if (!stackAt(project, place)) return project;
    Project out = project;
    for (Move& move : movesOf(out, place)) move.solo = false;
    return out;
}

Project withSideValues(const Project& project, const CurveAddress& at, double start, double end, int frames) {
    if (!hasCurve(project, at)) return project;
    Curve curve = curveAt(project, at);
    if (curve.keys.size() < 2) {
        frames = std::max(frames, 1);
        if (at.move == shotSpeed) {
            const bool out = at.side == Side::Outgoing;
            const auto length = clipAt(project, at)->length;
            const Ramp ramp{out ? start : end, out ? end : start, int(std::clamp<std::int64_t>(length, 1, 12))};
            curve = withRamp({}, at.side, ramp).speedCurve.side(at.side);
        } else if (at.place.kind == StackPlace::Drift) // a creeping shot creeps evenly
            curve = twoKeys(curve.space, 0, start, frames, end, {Interpolation::Linear});
        else
            curve = at.side == Side::Outgoing ? twoKeys(curve.space, -frames, start, 0, end, departingShape())
                                              : twoKeys(curve.space, 0, start, frames, end, arrivingShape());
    } else {
        const int last = int(curve.keys.size()) - 1;
        if (curve.keys.front().value != start) curve = withKeyMoved(curve, 0, curve.keys.front().time, start);
        if (curve.keys.back().value != end) curve = withKeyMoved(curve, last, curve.keys.back().time, end);
    }
    return withCurve(project, at, curve);
}

int usualFrames(const Project& project, StackPlace place, Side side) {
    if (!stackAt(project, place)) return 8;
    const SideSpan span = sideSpan(project, place, side);
    const double length = std::max(1.0, span.to - span.from);
    return int(place.kind == StackPlace::Drift ? length : std::min(length, 8.0));
}

} // namespace virga
