#include "core/edit/key_fixes.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/curve/backwards.h"
#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"
#include "core/curve/matching.h"
#include "core/edit/move_edits.h"
#include "core/plan/clip_facts.h"

namespace virga {
namespace {

Stack& movesAt(Project& project, int cut) {
    return project.reel[std::size_t(cut) + 1].transition.moves;
}

// The key of a side that lies at the cut.
double cutKeyTime(const Curve& curve, Side side) {
    return side == Side::Outgoing ? curve.keys.back().time : curve.keys.front().time;
}

const ChannelInfo& zoomInfo() {
    return moveInfo(MoveKind::Zoom).channels.front();
}

// The drift's own move of a kind with one channel, made where there is none.
Move& driftMove(Project& project, int clip, MoveKind kind) {
    Stack& drift = project.reel[std::size_t(clip)].drift;
    for (Move& move : drift)
        if (move.kind == kind && isOn(drift, move)) return move;
    drift.push_back(makeMove(kind, freshId(project, "move-")));
    return project.reel[std::size_t(clip)].drift.back();
}

// A drift's curve begun by so much more, in its space, and eased back to what it was by its end.
Project withDriftBegun(const Project& project, int clip, MoveKind kind, double more) {
    if (!hasClip(project, clip)) return project;
    Project out = project;
    const double length = double(project.reel[std::size_t(clip)].length);
    Move& move = driftMove(out, clip, kind);
    Curve& curve = move.channels.front().incoming;
    const double neutral = moveInfo(kind).channels.front().neutral;
    const auto moved = [&](double value) { return fromSpace(toSpace(value, curve.space) + more, curve.space); };
    const Shape calm{Interpolation::Eased, 0.4, 0, 0.6, 1};
    if (curve.keys.size() < 2) {
        const double now = curve.isEmpty() ? neutral : curve.keys.front().value;
        curve = twoKeys(curve.space, 0, moved(now), std::max(1.0, length - 1), now, calm);
    } else {
        curve = withKeyMoved(curve, 0, curve.keys.front().time, moved(curve.keys.front().value));
        curve = withShape(curve, 0, calm);
    }
    return out;
}

} // namespace

Project withMovesRunningOn(const Project& project, int cut) {
    Project out = project;
    if (hasCut(project, cut))
        for (Move& move : movesAt(out, cut)) move.holds = false;
    return out;
}

Project withEndKeysAtCut(const Project& project, int cut, Side side) {
    Project out = project;
    if (!hasCut(project, cut)) return out;
    for (Move& move : movesAt(out, cut)) {
        if (moveInfo(move.kind).role != MoveRole::Movement) continue;
        for (Channel& channel : move.channels) {
            Curve& curve = channel.side(side);
            if (curve.keys.size() < 2) continue;
            const double time = cutKeyTime(curve, side);
            const int key = side == Side::Outgoing ? int(curve.keys.size()) - 1 : 0;
            if (side == Side::Outgoing && time < 0 && time > -2 && (move.holds || time < -1))
                curve = withKeyMoved(curve, key, 0, curve.keys.back().value);
            if (side == Side::Incoming && time < 1 && (time > 0 || (move.holds && time == 0)))
                curve = withKeyMoved(curve, key, move.holds ? -1 : 0, curve.keys.front().value);
        }
    }
    return out;
}

Project withKeysBroughtToCut(const Project& project, int cut, int move, int channel, Side side) {
    const CurveAddress at{cut, move, channel, side};
    if (!hasCurve(project, at) || curveAt(project, at).keys.size() < 2) return project;
    Curve curve = curveAt(project, at);
    const double cutKey = cutKeyTime(curve, side),
                 far = side == Side::Outgoing ? curve.keys.front().time : curve.keys.back().time;
    if (std::abs(cutKey - far) < smallestKeyGap || far == 0) return project;
    for (Key& key : curve.keys) key.time = far + (key.time - far) * (0 - far) / (cutKey - far);
    return withCurve(project, at, curve);
}

Expected<Project> withValueReached(const Project& project, int cut, int move, int channel, Side side) {
    const CurveAddress at{cut, move, channel, side};
    if (!hasCurve(project, at) || curveAt(project, at).keys.size() < 2) return project;
    Curve curve = curveAt(project, at);
    const ChannelInfo& info = channelInfoAt(project, at);
    const int key = side == Side::Outgoing ? int(curve.keys.size()) - 1 : 0;
    const double meant = toSpace(curve.keys[std::size_t(key)].value, curve.space),
                 beside = side == Side::Outgoing ? -1 : 0;
    // The shape is kept, so what is reached grows with the key's value: by the secant's step, which is exact for one
    // segment.
    for (int round = 0; round < 8; ++round) {
        const double now = toSpace(evaluate(curve, beside), curve.space),
                     there = toSpace(curve.keys[std::size_t(key)].value, curve.space),
                     rest = toSpace(curve.keys[std::size_t(side == Side::Outgoing ? key - 1 : 1)].value, curve.space);
        if (std::abs(now - rest) < 1e-9) break;
        const double value = fromSpace(rest + (there - rest) * (meant - rest) / (now - rest), curve.space);
        if (!(value >= info.lowest && value <= info.highest))
            return fail(ErrorCode::BadInput, fmt::format("the key would have to be {}", spokenValue(value, info)), {},
                        "bring the key to the cut instead");
        curve = withKeyMoved(curve, key, curve.keys[std::size_t(key)].time, value);
        if (std::abs(now - meant) < 1e-9) break;
    }
    return withCurve(project, at, curve);
}

Project withSideFitted(const Project& project, int cut, int move, int channel, Side side) {
    const CurveAddress at{cut, move, channel, side};
    if (!hasCurve(project, at) || curveAt(project, at).keys.size() < 2) return project;
    const Curve& curve = curveAt(project, at);
    const double length = double(project.reel[std::size_t(cut + (side == Side::Incoming))].length),
                 far = side == Side::Outgoing ? -curve.keys.front().time : curve.keys.back().time;
    if (far <= length) return project;
    // Half the time for half the way: the rate at the cut stays.
    const double factor = length / far;
    const int rest = side == Side::Outgoing ? 0 : int(curve.keys.size()) - 1;
    return withCurve(project, at, scaledAbout(stretched(curve, factor), rest, factor));
}

Project withDriftFitted(const Project& project, int clip, int move, int channel) {
    const CurveAddress at{{StackPlace::Drift, clip}, move, channel, Side::Incoming};
    if (!hasCurve(project, at) || curveAt(project, at).keys.size() < 2) return project;
    const Curve& curve = curveAt(project, at);
    const double length = double(project.reel[std::size_t(clip)].length), far = curve.keys.back().time;
    return far > length ? withCurve(project, at, stretched(curve, length / far)) : project;
}

Project withoutOvershoot(const Project& project, int cut, int move, int channel, Side side) {
    const CurveAddress at{cut, move, channel, side};
    if (!hasCurve(project, at)) return project;
    Curve curve = curveAt(project, at);
    for (std::size_t i = 0; i + 1 < curve.keys.size(); ++i) {
        Key &a = curve.keys[i], &b = curve.keys[i + 1];
        const double way = toSpace(b.value, curve.space) - toSpace(a.value, curve.space);
        if (a.next != Interpolation::Eased || way == 0) continue;
        // A cubic stays between its ends where its control points do.
        a.leave.rise = std::clamp(a.leave.rise, std::min(way, 0.0), std::max(way, 0.0));
        b.arrive.rise = std::clamp(b.arrive.rise, std::min(way, 0.0), std::max(way, 0.0));
    }
    return withCurve(project, at, curve);
}

double overshootOf(const Curve& curve) {
    double worst = 0;
    for (int i = 0; i + 1 < int(curve.keys.size()); ++i) {
        const Key &a = curve.keys[std::size_t(i)], &b = curve.keys[std::size_t(i) + 1];
        const double va = toSpace(a.value, curve.space), way = toSpace(b.value, curve.space) - va;
        if (a.next != Interpolation::Eased || std::abs(way) < 1e-9) continue;
        const double y1 = a.leave.rise / way, y2 = 1 - b.arrive.rise / way;
        if (std::min(y1, y2) >= 0 && std::max(y1, y2) <= 1) continue;
        double beyond = 0;
        for (int k = 1; k < 40; ++k) {
            const double s = k / 40.0, q = 1 - s, y = 3 * q * q * s * y1 + 3 * q * s * s * y2 + s * s * s;
            beyond = std::max({beyond, -y, y - 1});
        }
        if (beyond <= worst) continue;
        const KeyRun run = runAround(curve, i);
        if (!easingLike(curve, run.first, run.last)) worst = beyond;
    }
    return worst;
}

Expected<Project> withKeysRunThrough(const Project& project, int cut, Side side) {
    if (!hasCut(project, cut)) return project;
    Project out = project;
    bool any = false;
    for (Move& move : movesAt(out, cut)) {
        if (moveInfo(move.kind).role != MoveRole::Movement) continue;
        for (Channel& channel : move.channels) {
            Curve& curve = channel.side(side);
            for (std::size_t i = 1; i + 1 < curve.keys.size(); ++i) {
                Key &a = curve.keys[i - 1], &k = curve.keys[i], &b = curve.keys[i + 1];
                const double h0 = k.time - a.time, h1 = b.time - k.time, v = toSpace(k.value, curve.space),
                             s0 = (v - toSpace(a.value, curve.space)) / h0,
                             s1 = (toSpace(b.value, curve.space) - v) / h1;
                if (s0 * s1 <= 0) continue; // it turns there
                const double p = (s0 * h1 + s1 * h0) / (h0 + h1), sign = s0 > 0 ? 1 : -1,
                             slope = 2 * sign * std::min({std::abs(s0), std::abs(s1), 0.5 * std::abs(p)});
                a.next = k.next = Interpolation::Eased;
                k.arrive = {1.0 / 3, slope * h0 / 3};
                k.leave = {1.0 / 3, slope * h1 / 3};
                any = true;
            }
        }
    }
    if (!any)
        return fail(ErrorCode::BadInput, "no key in the middle of the way stops it", {}, "shape its curves by hand");
    return out;
}

Expected<Project> withKeysSpread(const Project& project, int clip, std::int64_t from, std::int64_t to) {
    if (!hasClip(project, clip)) return project;
    const Clip& c = project.reel[std::size_t(clip)];
    // So much of each way is left for the stretch: enough to be seen over its length.
    const double part = std::clamp(0.002 * double(to - from), 0.04, 0.3);
    std::vector<std::pair<CurveAddress, Curve>> changed;
    const auto spread = [&](int cut, Side side, double reaches) {
        if (!hasCut(project, cut)) return;
        const Stack& moves = transitionAt(project, cut).moves;
        for (int m = 0; m < int(moves.size()); ++m)
            for (int ch = 0; ch < int(moves[std::size_t(m)].channels.size()); ++ch) {
                const Move& move = moves[std::size_t(m)];
                Curve curve = move.channels[std::size_t(ch)].side(side);
                if (moveInfo(move.kind).role != MoveRole::Movement || curve.keys.size() < 2) continue;
                const bool out = side == Side::Outgoing;
                const Key rest = out ? curve.keys.front() : curve.keys.back();
                const double time = out ? reaches - double(c.length) : reaches,
                             way = toSpace((out ? curve.keys.back() : curve.keys.front()).value, curve.space) -
                                   toSpace(rest.value, curve.space);
                if (way == 0 || (out ? time >= rest.time : time <= rest.time)) continue;
                // The whole side is shifted a little away from rest, which keeps its rates, and creeps the rest of it.
                curve = shifted(curve, part * way);
                Key end = rest;
                end.time = time;
                end.next = Interpolation::Linear;
                if (out) {
                    curve.keys.insert(curve.keys.begin(), end);
                } else {
                    curve.keys.back().next = Interpolation::Linear;
                    curve.keys.push_back(end);
                }
                const ChannelInfo& info = moveInfo(move.kind).channels[std::size_t(ch)];
                const bool fits = std::all_of(curve.keys.begin(), curve.keys.end(), [&](const Key& k) {
                    return k.value >= info.lowest && k.value <= info.highest;
                });
                if (fits) changed.push_back({{cut, m, ch, side}, curve});
            }
    };
    // Each takes its half, or one of them all of it: where the other does not reach in, or would show copies for as
    // long.
    const double begin = double(from), end = double(to), middle = (begin + end) / 2;
    bool any = false;
    for (const auto& [arrives, departs] : {std::pair(middle, middle), {begin, begin}, {end, end}}) {
        changed.clear();
        if (arrives > begin) spread(clip - 1, Side::Incoming, arrives);
        const std::size_t arriving = changed.size();
        if (departs < end) spread(clip, Side::Outgoing, departs);
        any = any || !changed.empty();
        if ((arrives > begin && arriving == 0) || (departs < end && changed.size() == arriving)) continue;
        Project spreadOut = withCurves(project, changed);
        const std::int64_t at = clipStart(project, clip);
        bool bare = false;
        for (const std::int64_t n : {from, (3 * from + to) / 4, (from + to) / 2, (from + 3 * to) / 4, to - 1})
            bare = bare || factsOf(spreadOut, at + n).uncovered > factsOf(project, at + n).uncovered + 1e-3;
        if (!bare) return spreadOut;
    }
    return any ? fail(ErrorCode::BadInput, "spread over the shot the moves would show copies for long", {},
                      "add a creeping drift instead")
               : fail(ErrorCode::BadInput, "no move reaches into this shot", {}, "add a creeping drift instead");
}

Project withCreepingDrift(const Project& project, int clip) {
    if (!hasClip(project, clip)) return project;
    Project out = project;
    const double length = double(project.reel[std::size_t(clip)].length);
    // Fast enough to be seen, slow enough not to be noticed: common practice, with no published source.
    const double way = std::clamp(0.0008 * length, 0.045, 0.4); // in doublings, about
    bool inward = true;                                         // as the nearest zoom before it
    for (int cut = clip - 1; cut >= 0; --cut) {
        double zoom = 0;
        for (const Move& move : transitionAt(project, cut).moves)
            for (std::size_t c = 0; c < move.channels.size(); ++c)
                if (moveInfo(move.kind).channels[c].space != Space::Linear && zoom == 0)
                    zoom = changeOver(move.channels[c].outgoing, -1, move.ends());
        if (zoom == 0) continue;
        inward = zoom > 0;
        break;
    }
    Move& move = driftMove(out, clip, MoveKind::Zoom);
    Curve& curve = move.channels.front().incoming;
    // Never smaller than the frame.
    const double large = fromSpace(toSpace(zoomInfo().neutral, Space::Log2) + way, Space::Log2);
    curve = twoKeys(curve.space, 0, inward ? 1 : large, length, inward ? large : 1, {Interpolation::Linear});
    return out;
}

Project withTiltTaken(const Project& project, int clip, double degrees) {
    return withDriftBegun(project, clip, MoveKind::Spin, degrees);
}

Project withScaleTaken(const Project& project, int clip, double factor) {
    return factor > 0 ? withDriftBegun(project, clip, MoveKind::Zoom, std::log2(factor)) : project;
}

} // namespace virga
