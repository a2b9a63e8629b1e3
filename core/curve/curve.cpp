#include "core/curve/curve.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

double bezier(double a, double b, double c, double d, double s) {
    const double r = 1 - s;
    return r * r * r * a + 3 * r * r * s * b + 3 * r * s * s * c + s * s * s * d;
}

double bezierSlope(double a, double b, double c, double d, double s) {
    const double r = 1 - s;
    return 3 * (r * r * (b - a) + 2 * r * s * (c - b) + s * s * (d - c));
}

struct Segment {
    double start, duration, a, b; // a and b in the curve's space
    Interpolation kind;
    Handle leave, arrive;
};

Segment segmentOf(const Curve& curve, int i) {
    const Key& k = curve.keys[std::size_t(i)];
    const Key& n = curve.keys[std::size_t(i) + 1];
    return {k.time,  n.time - k.time, toSpace(k.value, curve.space), toSpace(n.value, curve.space), k.next,
            k.leave, n.arrive};
}

double reachOf(const Handle& h) {
    return std::clamp(h.reach, 0.0, 1.0);
}

double valueIn(const Segment& g, double time) {
    const double x = g.duration > 0 ? std::clamp((time - g.start) / g.duration, 0.0, 1.0) : 1;
    if (g.kind == Interpolation::Hold) return x < 1 ? g.a : g.b;
    if (g.kind == Interpolation::Linear) return g.a + (g.b - g.a) * x;
    const double s = solveBezier(reachOf(g.leave), 1 - reachOf(g.arrive), x);
    return bezier(g.a, g.a + g.leave.rise, g.b - g.arrive.rise, g.b, s);
}

double speedIn(const Segment& g, double time) {
    if (g.duration <= 0 || g.kind == Interpolation::Hold) return 0;
    if (g.kind == Interpolation::Linear) return (g.b - g.a) / g.duration;
    const double x = std::clamp((time - g.start) / g.duration, 0.0, 1.0);
    const double x1 = reachOf(g.leave), x2 = 1 - reachOf(g.arrive);
    double s = solveBezier(x1, x2, x);
    double dx = bezierSlope(0, x1, x2, 1, s);
    if (dx < 1e-9) { // a handle of no reach: take the limit just inside the segment
        s = std::clamp(s, 1e-5, 1 - 1e-5);
        dx = std::max(bezierSlope(0, x1, x2, 1, s), 1e-12);
    }
    return bezierSlope(g.a, g.a + g.leave.rise, g.b - g.arrive.rise, g.b, s) / (dx * g.duration);
}

} // namespace

double toSpace(double value, Space space) {
    switch (space) {
    case Space::Log2:
        return std::log2(std::max(value, 1e-6));
    case Space::Depth:
        return -std::log2(std::max(1 - value, 1e-6));
    case Space::Linear:
        break;
    }
    return value;
}
double fromSpace(double value, Space space) {
    switch (space) {
    case Space::Log2:
        return std::exp2(value);
    case Space::Depth:
        return 1 - std::exp2(-value);
    case Space::Linear:
        break;
    }
    return value;
}

double solveBezier(double x1, double x2, double x) {
    if (x <= 0) return 0;
    if (x >= 1) return 1;
    double low = 0, high = 1, s = x;
    for (int i = 0; i < 100; ++i) {
        const double miss = bezier(0, x1, x2, 1, s) - x;
        if (std::abs(miss) < 1e-13) break;
        (miss > 0 ? high : low) = s;
        const double slope = bezierSlope(0, x1, x2, 1, s);
        const double next = slope > 0 ? s - miss / slope : -1;
        s = next > low && next < high ? next : (low + high) / 2;
    }
    return s;
}

int segmentAt(const Curve& curve, double time) {
    const auto& keys = curve.keys;
    if (keys.empty() || time < keys.front().time || time >= keys.back().time) return -1;
    const auto after =
        std::upper_bound(keys.begin(), keys.end(), time, [](double t, const Key& k) { return t < k.time; });
    return int(after - keys.begin()) - 1;
}

double evaluate(const Curve& curve, double time, double fallback) {
    const auto& keys = curve.keys;
    if (keys.empty()) return fallback;
    if (time <= keys.front().time) return keys.front().value;
    if (time >= keys.back().time) return keys.back().value;
    return fromSpace(valueIn(segmentOf(curve, segmentAt(curve, time)), time), curve.space);
}

double evaluateExposed(const Curve& curve, double frame, double time, Ends ends, double fallback) {
    constexpr double touching = 1e-9; // frames
    const auto& keys = curve.keys;
    if (ends == Ends::Hold || keys.size() < 2) return evaluate(curve, time, fallback);
    const double first = keys.front().time, last = keys.back().time;
    if ((time >= first && time <= last) || frame < first - touching || frame > last + touching)
        return evaluate(curve, time, fallback);
    const Key& end = time < first ? keys.front() : keys.back();
    const double tangent = runOnSpeed(curve, time < first ? CurveEnd::First : CurveEnd::Last);
    return fromSpace(toSpace(end.value, curve.space) + tangent * (time - end.time), curve.space);
}

double runOnSpeed(const Curve& curve, CurveEnd end, double frame) {
    if (curve.keys.size() < 2) return 0;
    const bool first = end == CurveEnd::First;
    const Key& key = first ? curve.keys.front() : curve.keys.back();
    const double half = frame / 2, within = toSpace(evaluate(curve, key.time + (first ? half : -half)), curve.space),
                 most = 2 * std::abs(within - toSpace(key.value, curve.space)) / half;
    return std::clamp(first ? speedAfter(curve, key.time) : speedBefore(curve, key.time), -most, most);
}

double changeOver(const Curve& curve, double frame, Ends ends) {
    if (curve.keys.size() < 2) return 0;
    return toSpace(evaluateExposed(curve, frame, frame + 0.5, ends), curve.space) -
           toSpace(evaluateExposed(curve, frame, frame - 0.5, ends), curve.space);
}

double speedAfter(const Curve& curve, double time) {
    const int i = segmentAt(curve, time);
    return i < 0 ? 0 : speedIn(segmentOf(curve, i), time);
}

double speedBefore(const Curve& curve, double time) {
    const auto& keys = curve.keys;
    if (keys.empty() || time <= keys.front().time || time > keys.back().time) return 0;
    const auto at = std::lower_bound(keys.begin(), keys.end(), time, [](const Key& k, double t) { return k.time < t; });
    return speedIn(segmentOf(curve, int(at - keys.begin()) - 1), time);
}

} // namespace virga
