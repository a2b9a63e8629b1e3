#include "app/lanes/lane_scale.h"

#include <algorithm>
#include <cmath>

namespace virga {

FrameScale FrameScale::zoomed(double factor, double x) const {
    const double frame = frameAt(x), next = std::clamp(pixelsPerFrame * factor, leastPerFrame, mostPerFrame);
    return {x - frame * next, next};
}

int FrameScale::labelStep() const {
    for (const int step : {1, 2, 5, 10, 25, 50, 100, 250})
        if (step * pixelsPerFrame >= 30) return step;
    return 500;
}

ValueScale ValueScale::fitting(const Channel& channel, const ChannelInfo& info, Space space, double top,
                               double bottom) {
    double low = toSpace(info.neutral, space), high = low;
    const auto see = [&](double v) { low = std::min(low, v), high = std::max(high, v); };
    for (const Curve* curve : {&channel.outgoing, &channel.incoming}) {
        if (!curve->isEmpty()) see(toSpace(curve->keys.back().value, space));
        for (std::size_t i = 0; i + 1 < curve->keys.size(); ++i) {
            const Key &k = curve->keys[i], &n = curve->keys[i + 1];
            const double a = toSpace(k.value, space), b = toSpace(n.value, space);
            see(a);
            if (k.next != Interpolation::Eased) continue;
            for (const double s : {0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9}) { // along the segment's own parameter
                const double r = 1 - s;
                see(r * r * r * a + 3 * r * r * s * (a + k.leave.rise) + 3 * r * s * s * (b - n.arrive.rise) +
                    s * s * s * b);
            }
        }
    }
    // A still lane is not stretched to nothing, and one that creeps is seen to.
    const bool still = high - low < 1e-9;
    const double least = still ? 5 * info.leastSpan : info.leastSpan;
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

SpeedScale SpeedScale::fitting(const Channel& channel, double floor, double height) {
    double fastest = 0;
    for (const Curve* curve : {&channel.outgoing, &channel.incoming})
        for (std::size_t i = 0; i + 1 < curve->keys.size(); ++i) {
            const Key &a = curve->keys[i], &b = curve->keys[i + 1];
            const double d = b.time - a.time, change = toSpace(b.value, curve->space) - toSpace(a.value, curve->space);
            if (a.next == Interpolation::Linear) fastest = std::max(fastest, std::abs(change / d));
            if (a.next != Interpolation::Eased) continue;
            const double r0 = std::clamp(a.leave.reach, 0.0, 1.0), r1 = std::clamp(b.arrive.reach, 0.0, 1.0);
            for (int k = 0; k <= 12; ++k) {
                const double s = std::clamp(k / 12.0, 1e-4, 1 - 1e-4), q = 1 - s;
                const double dx = q * q * r0 + 2 * q * s * (1 - r1 - r0) + s * s * r1,
                             dy = q * q * a.leave.rise + 2 * q * s * (change - a.leave.rise - b.arrive.rise) +
                                  s * s * b.arrive.rise;
                fastest = std::max(fastest, std::abs(dy) / (std::max(dx, 1e-9) * d));
            }
        }
    return {floor, fastest > 1e-9 ? height / fastest : height};
}

std::vector<HandleRef> shownHandles(const Curve& curve, const KeyGroup& selected) {
    std::vector<HandleRef> handles;
    if (selected.size() > 6) return handles;
    const auto add = [&](int key, bool leave) {
        const HandleRef h{key, leave};
        if (key >= 0 && key < int(curve.keys.size()) && std::find(handles.begin(), handles.end(), h) == handles.end())
            handles.push_back(h);
    };
    for (const int key : selected) {
        add(key, true), add(key + 1, false); // the segment that leaves it
        add(key - 1, true), add(key, false); // and the one that comes in
    }
    return handles;
}

LaneHit hitLane(const Channel& channel, const LaneAxes& axes, double x, double y, const SideKeys& selected,
                bool drift) {
    const auto near = [&](double px, double py, double radius) { return std::hypot(x - px, y - py) <= radius; };
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const Curve& curve = channel.side(side);
        for (const HandleRef& h : shownHandles(curve, selected.of(side))) {
            const auto at = h.leave ? leaveHandleAt(curve, h.key, axes.of(side), axes.values)
                                    : arriveHandleAt(curve, h.key, axes.of(side), axes.values);
            if (at && near(at->x, at->y, 6.5)) return {h.leave ? LaneHit::OnLeave : LaneHit::OnArrive, side, h.key};
        }
    }
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const Curve& curve = channel.side(side);
        for (int i = 0; i < int(curve.keys.size()); ++i) {
            const double kx = axes.of(side).xOf(curve.keys[std::size_t(i)].time),
                         ky = axes.values.yOf(curve.keys[std::size_t(i)].value);
            // A drop's body is above its tip; both can be grasped.
            if (near(kx, ky - 9, 7.5) || near(kx, ky, 5)) return {LaneHit::OnKey, side, i};
        }
    }
    const auto isThere = [&](Side side, double t) {
        const Curve& curve = channel.side(side);
        if (curve.isEmpty()) return false;
        return drift || (side == Side::Outgoing ? t <= std::max(0.0, curve.keys.back().time)
                                                : t >= std::min(0.0, curve.keys.front().time));
    };
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const Curve& curve = channel.side(side);
        const double t = axes.of(side).frameAt(x);
        if (!isThere(side, t)) continue;
        double nearest = 1e9; // vertical distance over a few pixels across, for steep curves
        for (int dx = -4; dx <= 4; dx += 2)
            nearest = std::min(
                nearest, std::hypot(double(dx), y - axes.values.yOf(evaluate(curve, axes.of(side).frameAt(x + dx)))));
        if (nearest <= 7) return {LaneHit::OnCurve, side, segmentAt(curve, t)};
    }
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const Curve& curve = channel.side(side);
        const double t = axes.of(side).frameAt(x);
        const int segment = segmentAt(curve, t);
        if (!isThere(side, t) || segment < 0 || (!drift && (side == Side::Outgoing ? t > 0 : t < 0)) ||
            curve.keys[std::size_t(segment)].next == Interpolation::Hold)
            continue;
        if (std::abs(y - axes.speeds.yOf(speedAfter(curve, t))) <= 5) return {LaneHit::OnSpeed, side, segment};
    }
    return {};
}

} // namespace virga
