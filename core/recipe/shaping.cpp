#include "core/recipe/shaping.h"

#include <algorithm>
#include <cmath>

#include "core/curve/backwards.h"
#include "core/curve/curve_edit.h"

namespace virga {
namespace {

template <typename Do> void forEachCurve(Transition& transition, const Do& act) {
    for (Move& move : transition.moves) {
        const MoveInfo& info = moveInfo(move.kind);
        for (std::size_t c = 0; c < move.channels.size() && c < info.channels.size(); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming})
                act(move, info.channels[c], move.channels[c].side(side), int(c), side);
    }
}

// What has no sign, such as how much a shake sways, has no other way round.
bool hasSign(const ChannelInfo& info) {
    return info.lowest < info.neutral;
}
bool hasSign(const ParameterInfo& info) {
    return info.lowest < 0;
}

// The numbers of an axis replaced by their opposites.
void flip(Transition& transition, std::initializer_list<Axis> axes) {
    const auto turns = [&](Axis axis) { return std::find(axes.begin(), axes.end(), axis) != axes.end(); };
    forEachCurve(transition, [&](Move&, const ChannelInfo& info, Curve& curve, int, Side) {
        if (turns(info.axis) && hasSign(info)) curve = flipped(curve, info.neutral);
    });
    for (Move& move : transition.moves) {
        const MoveInfo& info = moveInfo(move.kind);
        for (std::size_t i = 0; i < move.parameters.size() && i < info.parameters.size(); ++i)
            if (turns(info.parameters[i].axis) && hasSign(info.parameters[i])) move.parameters[i] *= -1;
    }
}

Transition mirroredDown(const Transition& transition) {
    Transition out = transition;
    flip(out, {Axis::Down, Axis::Turn, Axis::TiltsDown});
    for (Move& move : out.moves) move.anchor.y = 1 - move.anchor.y;
    return out;
}

// By a quarter, clockwise: what went right goes down, and what leant back turns its right side away.
Transition quarterTurned(const Transition& transition) {
    Transition out = transition;
    const auto exchange = [](auto& values, const auto& infos, Axis a, Axis b) {
        std::size_t first = values.size(), second = values.size();
        for (std::size_t i = 0; i < values.size() && i < infos.size(); ++i) {
            if (infos[i].axis == a) first = i;
            if (infos[i].axis == b) second = i;
        }
        if (first < values.size() && second < values.size()) std::swap(values[first], values[second]);
    };
    for (Move& move : out.moves) {
        const MoveInfo& info = moveInfo(move.kind);
        exchange(move.channels, info.channels, Axis::Across, Axis::Down);
        exchange(move.channels, info.channels, Axis::TiltsDown, Axis::TurnsAcross);
        exchange(move.parameters, info.parameters, Axis::Across, Axis::Down);
        // A treatment's angle turns along; a spin is one either way.
        for (std::size_t i = 0; i < move.parameters.size() && i < info.parameters.size(); ++i)
            if (info.parameters[i].axis == Axis::Turn && hasSign(info.parameters[i])) {
                double& angle = move.parameters[i];
                angle += 90;
                if (angle > info.parameters[i].highest) angle -= 360;
            }
        move.anchor = {1 - move.anchor.y, move.anchor.x};
    }
    // (x, y) became (y, x) and is to be (-y, x).
    forEachCurve(out, [](Move&, const ChannelInfo& info, Curve& curve, int, Side) {
        if ((info.axis == Axis::Across || info.axis == Axis::TiltsDown) && hasSign(info))
            curve = flipped(curve, info.neutral);
    });
    return out;
}

// A quarter of the circle: 0 right, 1 down, 2 left, 3 up; -1 for others.
int quarterOf(Heading heading) {
    switch (heading) {
    case Heading::Right:
        return 0;
    case Heading::Down:
        return 1;
    case Heading::Left:
        return 2;
    case Heading::Up:
        return 3;
    default:
        return -1;
    }
}

// About rest, in the channel's space, within its range.
Curve scaled(const Curve& curve, const ChannelInfo& info, double factor) {
    Curve out = curve;
    const double rest = toSpace(info.neutral, curve.space);
    for (Key& key : out.keys) {
        key.value = std::clamp(fromSpace(rest + factor * (toSpace(key.value, curve.space) - rest), curve.space),
                               info.lowest, info.highest);
        key.leave.rise *= factor, key.arrive.rise *= factor;
    }
    return out;
}

// How far from rest a curve goes, with its sign.
double farthestOf(const Curve& curve, double neutral) {
    double farthest = 0;
    for (const Key& key : curve.keys)
        if (std::abs(key.value - neutral) > std::abs(farthest)) farthest = key.value - neutral;
    return farthest;
}

// Keys that lay on whole frames put on whole ones again, but for those from `firstFree` on.
Curve onWholeFrames(Curve scaled, const Curve& before, std::size_t firstFree) {
    Curve exact = scaled;
    for (std::size_t i = 0; i < std::min({scaled.keys.size(), before.keys.size(), firstFree}); ++i)
        if (std::abs(std::round(before.keys[i].time) - before.keys[i].time) < 1e-9)
            scaled.keys[i].time = std::round(scaled.keys[i].time);
    for (std::size_t i = 1; i < scaled.keys.size(); ++i)
        if (scaled.keys[i].time - scaled.keys[i - 1].time < smallestKeyGap) return exact;
    return scaled;
}

} // namespace

double reachOf(const Transition& transition, Side side) {
    double reach = 0;
    for (const Move& move : transition.moves)
        for (const Channel& channel : move.channels)
            if (const auto& keys = channel.side(side).keys; !keys.empty())
                reach = std::max(reach, side == Side::Outgoing ? -keys.front().time : keys.back().time);
    return reach;
}

bool passesWholeFrames(const Move& move, int channel, Side side) {
    const MoveInfo& info = moveInfo(move.kind);
    if (channel < 0 || channel >= int(info.channels.size())) return false;
    const Quantity q = info.channels[std::size_t(channel)].quantity;
    if (q != Quantity::ShareOfWidth && q != Quantity::ShareOfHeight) return false;
    const double way = std::abs(farthestOf(move.channels[std::size_t(channel)].side(side), 0));
    return way > 0.5 && std::abs(way - std::round(way)) < 1e-6;
}

Transition mirrored(const Transition& transition) {
    Transition out = transition;
    flip(out, {Axis::Across, Axis::Turn, Axis::TurnsAcross});
    for (Move& move : out.moves) move.anchor.x = 1 - move.anchor.x;
    return out;
}

Transition reversed(const Transition& transition) {
    Transition out = transition;
    for (Move& move : out.moves)
        for (Channel& channel : move.channels) {
            const Curve outgoing = channel.outgoing;
            channel.outgoing = backwards(channel.incoming, 0);
            channel.incoming = backwards(outgoing, 0);
        }
    out.overlap = {transition.overlap.after, transition.overlap.before};
    if (!out.overlap.isEmpty()) out.top = transition.top == Side::Incoming ? Side::Outgoing : Side::Incoming;
    return out;
}

Transition turned(const Transition& transition, Heading from, Heading to) {
    if (from == to || to == Heading::AsMade) return transition;
    if (const int a = quarterOf(from), b = quarterOf(to); a >= 0 && b >= 0) {
        if (b == (a + 2) % 4) return a % 2 == 0 ? mirrored(transition) : mirroredDown(transition);
        Transition out = transition;
        for (int turns = (b - a + 4) % 4; turns > 0; --turns) out = quarterTurned(out);
        return out;
    }
    const auto pair = [&](Heading one, Heading other) {
        return (from == one && to == other) || (from == other && to == one);
    };
    if (pair(Heading::Clockwise, Heading::Counter)) return mirrored(transition);
    if (!pair(Heading::In, Heading::Out)) return transition;
    Transition out = transition;
    flip(out, {Axis::Depth});
    return out;
}

Transition strengthened(const Transition& transition, double factor) {
    if (factor == 1) return transition;
    Transition out = transition;
    forEachCurve(out, [&](Move& move, const ChannelInfo& info, Curve& curve, int c, Side side) {
        const MoveRole role = moveInfo(move.kind).role;
        if (role == MoveRole::Opacity || role == MoveRole::Time) return;
        double by = factor;
        if (passesWholeFrames(move, c, side)) {
            const double way = std::abs(farthestOf(curve, 0));
            by = std::max(1.0, std::round(way * factor)) / way;
        }
        curve = scaled(curve, info, by);
    });
    return out;
}

Transition passing(const Transition& transition, int wholeFrames, int before) {
    if (wholeFrames <= 0 || before <= 0 || wholeFrames == before) return transition;
    Transition out = transition;
    forEachCurve(out, [&](Move& move, const ChannelInfo& info, Curve& curve, int c, Side side) {
        if (passesWholeFrames(move, c, side)) curve = scaled(curve, info, double(wholeFrames) / before);
    });
    return out;
}

Transition lasting(const Transition& transition, double factorOut, double factorIn) {
    const auto count = [](std::int64_t frames, double factor) {
        return frames == 0 ? 0 : std::max<std::int64_t>(1, std::llround(double(frames) * factor));
    };
    Transition out = transition;
    out.overlap = {count(transition.overlap.before, factorOut), count(transition.overlap.after, factorIn)};
    // The outgoing side's movement goes on to its shot's last frame, as it does after a change of the rate.
    const double end = double(out.overlap.after), off = end - double(transition.overlap.after) * factorOut;
    forEachCurve(out, [&](Move& move, const ChannelInfo& info, Curve& curve, int, Side side) {
        const double factor = side == Side::Outgoing ? factorOut : factorIn;
        if (factor == 1) return;
        const Curve before = curve, scaled = stretched(curve, factor);
        curve = scaled;
        if (side == Side::Outgoing && !move.holds && moveInfo(move.kind).role == MoveRole::Movement)
            curve = withRunOnToEnd(scaled, end, factor + off, info.lowest, info.highest);
        const std::size_t kept = std::min(curve.keys.size(), scaled.keys.size());
        curve = onWholeFrames(curve, before, curve.keys.size() > scaled.keys.size() ? kept - 1 : kept);
    });
    return out;
}

Transition evened(const Transition& transition, Side evenedSide, double share) {
    if (share <= 0) return transition;
    Transition out = transition;
    forEachCurve(out, [&](Move& move, const ChannelInfo&, Curve& curve, int, Side side) {
        if (side != evenedSide || moveInfo(move.kind).role != MoveRole::Movement) return;
        for (std::size_t i = 0; i + 1 < curve.keys.size(); ++i) {
            Key &a = curve.keys[i], &b = curve.keys[i + 1];
            const double way = toSpace(b.value, curve.space) - toSpace(a.value, curve.space);
            if (a.next != Interpolation::Eased || std::abs(way) < 1e-12) continue; // a dip stays
            for (Handle* h : {&a.leave, &b.arrive}) {
                h->reach += share * (1.0 / 3 - h->reach);
                h->rise += share * (way / 3 - h->rise);
            }
        }
    });
    return out;
}

} // namespace virga
