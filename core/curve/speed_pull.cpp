#include "core/curve/speed_pull.h"

#include <algorithm>
#include <cmath>

namespace virga {

Curve withSpeedPulled(const Curve& curve, double time, double speed, Kept kept) {
    const int count = int(curve.keys.size());
    int i = segmentAt(curve, time);
    const auto onKey = [&](int k) { return k >= 0 && k < count && curve.keys[std::size_t(k)].time == time; };
    if (kept == Kept::First && (onKey(i) || onKey(count - 1))) i = onKey(count - 1) ? count - 2 : i - 1;
    if (i < 0 || !std::isfinite(speed)) return curve;
    Curve out = curve;
    Key &a = out.keys[std::size_t(i)], &b = out.keys[std::size_t(i) + 1];
    if (a.next == Interpolation::Hold) return curve;
    const double duration = b.time - a.time, va = toSpace(a.value, out.space), vb = toSpace(b.value, out.space);
    if (a.next == Interpolation::Linear) {
        a.next = Interpolation::Eased;
        a.leave = b.arrive = {1.0 / 3, (vb - va) / 3};
    }
    const double x1 = std::clamp(a.leave.reach, 0.0, 1.0), x2 = 1 - std::clamp(b.arrive.reach, 0.0, 1.0);
    double s = solveBezier(x1, x2, (time - a.time) / duration);
    const auto slope = [&](double p, double q, double w) {
        const double r = 1 - s;
        return 3 * (r * r * p + 2 * r * s * q + s * s * w);
    };
    if (slope(x1, x2 - x1, 1 - x2) < 1e-6) s = std::clamp(s, 1e-3, 1 - 1e-3); // a handle without reach
    const double dx = slope(x1, x2 - x1, 1 - x2);
    const double missing =
        speed * dx * duration - slope(a.leave.rise, vb - va - a.leave.rise - b.arrive.rise, b.arrive.rise);
    // The derivative is a quadratic Bezier over three control speeds; Bernstein's weights say how much each counts.
    const double w0 = (1 - s) * (1 - s), w1 = 2 * s * (1 - s), w2 = s * s, sum = w0 * w0 + w1 * w1 + w2 * w2;
    const double each = missing / (3 * sum), gained = each * (w0 + w1 + w2);
    a.leave.rise += each * w0;
    b.arrive.rise += each * w2;
    const int from = kept == Kept::First ? i + 1 : 0, to = kept == Kept::First ? count : i + 1;
    for (int k = from; k < to; ++k) {
        Key& key = out.keys[std::size_t(k)];
        key.value = fromSpace(toSpace(key.value, out.space) + (kept == Kept::First ? gained : -gained), out.space);
    }
    return out;
}

} // namespace virga
