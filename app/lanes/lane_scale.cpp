#include "app/lanes/lane_scale.h"

#include <algorithm>
#include <cmath>

namespace virga {

FrameScale FrameScale::zoomed(double factor, double x) const {
    const double frame = frameAt(x), next = std::clamp(pixelsPerFrame * factor, 3.0, 200.0);
    return {x - frame * next, next};
}

int FrameScale::labelStep() const {
    for (const int step : {1, 2, 5, 10, 25, 50, 100})
        if (step * pixelsPerFrame >= 30) return step;
    return 200;
}

ValueScale ValueScale::fitting(const Channel& channel, const ChannelInfo& info, Space space, double top,
                               double bottom) {
    double low = toSpace(info.neutral, space), high = low;
    for (const Curve* curve : {&channel.outgoing, &channel.incoming}) {
        if (curve->isEmpty()) continue;
        const double a = curve->keys.front().time, b = curve->keys.back().time;
        for (int i = 0; i <= 48; ++i) {
            const double v = toSpace(evaluate(*curve, a + (b - a) * i / 48), space);
            low = std::min(low, v), high = std::max(high, v);
        }
    }
    const double least = info.unit == "°"       ? 20
                         : space == Space::Log2 ? 1
                                                : 0.2; // a still lane is not stretched to nothing
    if (high - low < least) {
        const double middle = (low + high) / 2;
        low = middle - least / 2, high = middle + least / 2;
    }
    const double room = (high - low) * 0.12;
    return {space, low - room, high + room, top, bottom};
}

std::optional<LanePoint> leaveHandleAt(const Curve& curve, int key, const FrameScale& frames,
                                       const ValueScale& values) {
    if (key < 0 || key + 1 >= int(curve.keys.size()) || curve.keys[std::size_t(key)].next != Interpolation::Eased)
        return std::nullopt;
    const Key &a = curve.keys[std::size_t(key)], &b = curve.keys[std::size_t(key) + 1];
    return LanePoint{frames.xOf(a.time + a.leave.reach * (b.time - a.time)),
                     values.yOfSpace(toSpace(a.value, curve.space) + a.leave.rise)};
}

std::optional<LanePoint> arriveHandleAt(const Curve& curve, int key, const FrameScale& frames,
                                        const ValueScale& values) {
    if (key < 1 || key >= int(curve.keys.size()) || curve.keys[std::size_t(key) - 1].next != Interpolation::Eased)
        return std::nullopt;
    const Key &a = curve.keys[std::size_t(key) - 1], &b = curve.keys[std::size_t(key)];
    return LanePoint{frames.xOf(b.time - b.arrive.reach * (b.time - a.time)),
                     values.yOfSpace(toSpace(b.value, curve.space) - b.arrive.rise)};
}

LaneHit hitLane(const Channel& channel, const FrameScale& frames, const ValueScale& values, double x, double y,
                const std::optional<SelectedKey>& selected) {
    const auto near = [&](double px, double py, double radius) { return std::hypot(x - px, y - py) <= radius; };
    if (selected) {
        const Curve& curve = channel.side(selected->side);
        const auto ring = [&](std::optional<LanePoint> at) { return at && near(at->x, at->y, 6.5); };
        for (const int key : {selected->key, selected->key - 1})
            if (ring(leaveHandleAt(curve, key, frames, values))) return {LaneHit::OnLeave, selected->side, key};
        for (const int key : {selected->key, selected->key + 1})
            if (ring(arriveHandleAt(curve, key, frames, values))) return {LaneHit::OnArrive, selected->side, key};
    }
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const Curve& curve = channel.side(side);
        for (int i = 0; i < int(curve.keys.size()); ++i) {
            const double kx = frames.xOf(curve.keys[std::size_t(i)].time),
                         ky = values.yOf(curve.keys[std::size_t(i)].value);
            // A drop's body is above its tip; both can be grasped. Outgoing and incoming drops on the cut lean apart.
            if (near(kx, ky - 9, 7.5) || near(kx, ky, 5)) return {LaneHit::OnKey, side, i};
        }
    }
    const double t = frames.frameAt(x);
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const Curve& curve = channel.side(side);
        if (curve.isEmpty()) continue;
        if (side == Side::Outgoing ? t > std::max(0.0, curve.keys.back().time)
                                   : t < std::min(0.0, curve.keys.front().time))
            continue;
        double nearest = 1e9; // vertical distance over a few pixels across, for steep curves
        for (int dx = -4; dx <= 4; dx += 2)
            nearest =
                std::min(nearest, std::hypot(double(dx), y - values.yOf(evaluate(curve, frames.frameAt(x + dx)))));
        if (nearest <= 7) return {LaneHit::OnCurve, side, segmentAt(curve, t)};
    }
    return {};
}

} // namespace virga
