#include "app/lanes/lane_drag.h"

#include <algorithm>
#include <cmath>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

// How far a group may go in time so that it stays a gap away from keys that stay.
std::pair<double, double> roomOf(const Curve& curve, const KeyGroup& group, double gap) {
    double back = -1e9, forth = 1e9;
    const auto moves = [&](int i) { return std::binary_search(group.begin(), group.end(), i); };
    for (const int i : group) {
        const double t = curve.keys[std::size_t(i)].time;
        // Where they already lie closer they may stay so.
        if (i > 0 && !moves(i - 1)) back = std::max(back, std::min(0.0, curve.keys[std::size_t(i) - 1].time + gap - t));
        if (i + 1 < int(curve.keys.size()) && !moves(i + 1))
            forth = std::min(forth, std::max(0.0, curve.keys[std::size_t(i) + 1].time - gap - t));
    }
    return {back, forth};
}

double snappedValue(const Project& before, const KeyDrag& drag, double value, double from, const ValueScale& values) {
    const CurveAddress& at = drag.pressed.curve;
    const ChannelInfo& info = channelInfoAt(before, at);
    CurveAddress other = at;
    other.side = at.side == Side::Outgoing ? Side::Incoming : Side::Outgoing;
    std::vector<double> snaps{info.neutral, from};
    if (at.place.kind == StackPlace::Cut && !curveAt(before, other).isEmpty())
        snaps.push_back(evaluate(curveAt(before, other), 0));
    for (const CurveAddress& a : {at, other})
        for (int i = 0; i < int(curveAt(before, a).keys.size()); ++i)
            if (std::find(drag.keys.begin(), drag.keys.end(), KeyAddress{a, i}) == drag.keys.end())
                snaps.push_back(curveAt(before, a).keys[std::size_t(i)].value);
    const double y = values.yOf(value);
    double nearest = clinging;
    double found = NAN;
    for (const double snap : snaps)
        if (const double far = std::abs(values.yOf(snap) - y); far < nearest) nearest = far, found = snap;
    if (std::isfinite(found)) return found;
    const double grain = std::pow(10.0, -info.decimals);
    return std::round(value / grain) * grain;
}

} // namespace

KeyDragResult dragKeys(const Project& before, const KeyDrag& drag, double dx, double dy, const FrameScale& axis,
                       const ValueScale& values, double playhead, DragManner manner) {
    if (!hasCurve(before, drag.pressed.curve)) return {before, {}};
    const CurveAddress& at = drag.pressed.curve;
    const Curve& curve = curveAt(before, at);
    const Key& from = curve.keys[std::size_t(drag.pressed.key)];
    const ChannelInfo& info = channelInfoAt(before, at);
    if (manner.oneAxis) (std::abs(dx) >= std::abs(dy) ? dy : dx) = 0;
    double time = from.time + dx / axis.pixelsPerFrame;
    double value = std::abs(dy) < 0.5 ? from.value : values.valueAt(values.yOf(from.value) + dy);
    std::optional<double> guide;
    const auto groups = byCurve(before, drag.keys);
    if (!manner.free) {
        value = std::abs(dy) < 0.5 ? value : snappedValue(before, drag, value, from.value, values);
        const double origin = sideOrigin(before, at.place, at.side);
        double nearest = clinging, clung = dx == 0 ? time : std::round(time);
        const auto cling = [&](double frame) { // a frame of the axis
            const double far = std::abs(frame - origin - time) * axis.pixelsPerFrame;
            if (far >= nearest) return;
            nearest = far;
            clung = frame - origin;
            guide = frame;
        };
        if (dx != 0) {
            cling(playhead);
            for (const CurveKeys& other : byCurve(before, keysOfStack(before, at.place))) {
                if (other.curve == at) continue;
                const auto moving = std::find_if(groups.begin(), groups.end(),
                                                 [&](const CurveKeys& g) { return g.curve == other.curve; });
                for (const int i : other.keys)
                    if (moving == groups.end() || !std::binary_search(moving->keys.begin(), moving->keys.end(), i))
                        cling(curveAt(before, other.curve).keys[std::size_t(i)].time +
                              sideOrigin(before, at.place, other.curve.side));
            }
        }
        time = clung;
    }
    value = std::clamp(value, info.lowest, info.highest);
    double shift = time - from.time;
    const double gap = manner.free ? smallestKeyGap : 1;
    for (const CurveKeys& g : groups) {
        const auto [back, forth] = roomOf(curveAt(before, g.curve), g.keys, gap);
        shift = std::clamp(shift, back, forth);
    }
    if (guide && std::abs(from.time + shift - time) > 1e-9) guide.reset(); // it did not get there
    std::vector<std::pair<CurveAddress, Curve>> changed;
    const double step = toSpace(value, curve.space) - toSpace(from.value, curve.space);
    for (const CurveKeys& g : groups) {
        const Curve& was = curveAt(before, g.curve);
        const bool sameLane = g.curve.move == at.move && g.curve.channel == at.channel;
        Curve next;
        if (g.curve == at && g.keys.size() == 1) // to the very value, and with its neighbours' shapes
            next = withKeyMoved(was, drag.pressed.key, from.time + shift, value);
        else
            next = withGroupMoved(was, g.keys, shift, sameLane ? step : 0);
        changed.push_back({g.curve, withinRange(std::move(next), channelInfoAt(before, g.curve))});
    }
    return {withCurves(before, changed), guide};
}

Curve dragHandle(const Channel& channel, Side side, const HandleRef& h, double x, double y, const FrameScale& frames,
                 const ValueScale& values, bool joint, DragManner manner) {
    const Curve& curve = channel.side(side);
    const int other = h.leave ? h.key + 1 : h.key - 1;
    if (h.key < 0 || other < 0 || std::max(h.key, other) >= int(curve.keys.size())) return curve;
    const Key &k = curve.keys[std::size_t(h.key)], &o = curve.keys[std::size_t(other)];
    const Handle was = h.leave ? k.leave : k.arrive;
    const double duration = std::abs(o.time - k.time), here = toSpace(k.value, curve.space);
    Handle handle;
    handle.reach = std::clamp((h.leave ? frames.frameAt(x) - k.time : k.time - frames.frameAt(x)) / duration, 0.0, 1.0);
    handle.rise = (values.spaceAt(y) - here) * (h.leave ? 1 : -1);
    if (manner.oneAxis) {
        const double dx = std::abs(handle.reach - was.reach) * duration * frames.pixelsPerFrame,
                     dy = std::abs(values.yOfSpace(handle.rise) - values.yOfSpace(was.rise));
        (dx >= dy ? handle.rise : handle.reach) = dx >= dy ? was.rise : was.reach;
    }
    if (!manner.free) {
        std::vector<double> speeds{0};
        if (joint && std::abs(k.time) < 1e-9) // at the cut: the other side's speed
            speeds.push_back(side == Side::Outgoing ? speedAfter(channel.incoming, 0)
                                                    : speedBefore(channel.outgoing, 0));
        if (const double beyond = h.leave ? speedBefore(curve, k.time) : speedAfter(curve, k.time); beyond != 0)
            speeds.push_back(beyond); // one line through the key
        double nearest = clinging;
        const double rise = handle.rise;
        for (const double speed : speeds) {
            const double wanted = speed * handle.reach * duration,
                         far = std::abs(values.yOfSpace(wanted) - values.yOfSpace(rise));
            if (far < nearest) nearest = far, handle.rise = wanted;
        }
    }
    return h.leave ? withLeaveHandle(curve, h.key, handle) : withArriveHandle(curve, h.key, handle);
}

Curve dragSpeed(const Channel& channel, Side side, double time, double y, const SpeedScale& speeds,
                const ChannelInfo& info, Kept kept, bool joint, DragManner manner) {
    const Curve& curve = channel.side(side);
    const double was = side == Side::Outgoing ? speedBefore(curve, time) : speedAfter(curve, time);
    // Standing still has no direction of its own: it takes that of the whole side.
    const double direction = was != 0 ? was : curve.isEmpty() ? 1 : curve.keys.back().value - curve.keys.front().value;
    double height = std::max(0.0, speeds.floor - y);
    if (!manner.free) {
        if (height < clinging) height = 0;
        if (joint && std::abs(time) < 0.5) {
            const double other =
                std::abs(side == Side::Outgoing ? speedAfter(channel.incoming, 0) : speedBefore(channel.outgoing, 0));
            if (std::abs(speeds.floor - speeds.yOf(other) - height) < clinging) height = other * speeds.perUnit;
        }
    }
    const double speed = std::copysign(height / speeds.perUnit, direction);
    const Curve pulled = withSpeedPulled(curve, time, speed, kept);
    for (const Key& k : pulled.keys)
        if (k.value < info.lowest || k.value > info.highest) return curve; // no farther than the channel goes
    return pulled;
}

KeyGroup keysInBox(const Curve& curve, const FrameScale& frames, const ValueScale& values, double left, double top,
                   double right, double bottom) {
    KeyGroup group;
    for (int i = 0; i < int(curve.keys.size()); ++i) {
        const double x = frames.xOf(curve.keys[std::size_t(i)].time), y = values.yOf(curve.keys[std::size_t(i)].value);
        // The drop's body counts as well: it is what is seen.
        if (x >= left && x <= right && y >= top && y - 9 <= bottom) group.push_back(i);
    }
    return group;
}

} // namespace virga
