#include "core/curve/curve_edit.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

bool has(const Curve& curve, int key) {
    return key >= 0 && key < int(curve.keys.size());
}

double difference(const Curve& curve, int i) {
    return toSpace(curve.keys[std::size_t(i) + 1].value, curve.space) -
           toSpace(curve.keys[std::size_t(i)].value, curve.space);
}

void scaleSegment(Curve& curve, int i, double before) {
    const double now = difference(curve, i);
    if (std::abs(before) < 1e-12 || std::abs(now) < 1e-12) return;
    curve.keys[std::size_t(i)].leave.rise *= now / before;
    curve.keys[std::size_t(i) + 1].arrive.rise *= now / before;
}

} // namespace

Curve withKeyMoved(const Curve& curve, int key, double time, double value) {
    if (!has(curve, key) || !std::isfinite(time) || !std::isfinite(value)) return curve;
    Curve out = curve;
    const bool first = key == 0, last = key + 1 == int(out.keys.size());
    const double before = first ? 0 : difference(out, key - 1), after = last ? 0 : difference(out, key);
    Key& k = out.keys[std::size_t(key)];
    if (!first) time = std::max(time, out.keys[std::size_t(key) - 1].time + smallestKeyGap);
    if (!last) time = std::min(time, out.keys[std::size_t(key) + 1].time - smallestKeyGap);
    k.time = time;
    k.value = value;
    if (!first) scaleSegment(out, key - 1, before);
    if (!last) scaleSegment(out, key, after);
    return out;
}

Curve withKeyAdded(const Curve& curve, double time, double fallback, int* added) {
    Curve out = curve;
    const auto at =
        std::lower_bound(out.keys.begin(), out.keys.end(), time, [](const Key& k, double t) { return k.time < t; });
    const int index = int(at - out.keys.begin());
    if (added) *added = index;
    if (at != out.keys.end() && at->time - time < smallestKeyGap) return curve;
    if (at != out.keys.begin() && time - (at - 1)->time < smallestKeyGap) {
        if (added) *added = index - 1;
        return curve;
    }
    Key fresh;
    fresh.time = time;
    fresh.value = evaluate(curve, time, fallback);
    if (index > 0 && index < int(out.keys.size())) {
        Key& a = out.keys[std::size_t(index) - 1];
        Key& b = out.keys[std::size_t(index)];
        fresh.next = a.next;
        if (a.next == Interpolation::Eased) {
            // de Casteljau at s splits the segment; the reaches are then taken as fractions of the two new durations.
            const double duration = b.time - a.time, va = toSpace(a.value, out.space), vb = toSpace(b.value, out.space);
            const double s = solveBezier(a.leave.reach, 1 - b.arrive.reach, (time - a.time) / duration);
            const auto mix = [s](double p, double q) { return p + (q - p) * s; };
            const double x1 = a.leave.reach, x2 = 1 - b.arrive.reach, y1 = va + a.leave.rise, y2 = vb - b.arrive.rise;
            const double xa = mix(0, x1), xm = mix(x1, x2), xb = mix(x2, 1), ya = mix(va, y1), ym = mix(y1, y2),
                         yb = mix(y2, vb);
            const double xl = mix(xa, xm), xr = mix(xm, xb), yl = mix(ya, ym), yr = mix(ym, yb), x = mix(xl, xr),
                         y = mix(yl, yr);
            a.leave = {x > 0 ? xa / x : 0, ya - va};
            fresh.arrive = {x > 0 ? (x - xl) / x : 0, y - yl};
            fresh.leave = {x < 1 ? (xr - x) / (1 - x) : 0, yr - y};
            b.arrive = {x < 1 ? (1 - xb) / (1 - x) : 0, vb - yb};
        }
    }
    out.keys.insert(out.keys.begin() + index, fresh);
    return out;
}

Curve withKeyRemoved(const Curve& curve, int key) {
    Curve out = curve;
    if (has(curve, key)) out.keys.erase(out.keys.begin() + key);
    return out;
}

Curve withRunOnToEnd(const Curve& curve, double end, double frame, double lowest, double highest) {
    constexpr double touching = 1e-6; // frames
    const double last = end - 1;      // the last frame's own time
    Curve out = curve;
    if (out.keys.size() < 2) return out;
    if (frame < 1 && out.keys.size() > 2 && out.keys.back().time > last + touching) {
        Curve without = out;
        without.keys.pop_back();
        const double time = out.keys.back().time, before = without.keys.back().time;
        const double runsTo = toSpace(without.keys.back().value, out.space) +
                              runOnSpeed(without, CurveEnd::Last, 1) * (time - before),
                     is = toSpace(out.keys.back().value, out.space);
        if (out.keys[out.keys.size() - 2].next == Interpolation::Linear && before >= last - touching && before < end &&
            std::abs(runsTo - is) < 1e-6 * std::max(1.0, std::abs(is)))
            return without.keys.back().next = Interpolation::Eased, without;
        return out;
    }
    Key& key = out.keys.back();
    if (key.time < end - frame - touching || key.time > last - touching) return out;
    const double way = runOnSpeed(curve, CurveEnd::Last, frame) * (last - key.time);
    if (std::abs(way) < 1e-9) return out; // it arrives at rest
    Key next;
    next.time = last;
    next.value = std::clamp(fromSpace(toSpace(key.value, out.space) + way, out.space), lowest, highest);
    next.arrive = {1.0 / 3, way / 3};
    key.next = Interpolation::Linear;
    out.keys.push_back(next);
    return out;
}

Curve withShape(const Curve& curve, int key, const Shape& shape) {
    if (key < 0 || key + 1 >= int(curve.keys.size())) return curve;
    Curve out = curve;
    const double d = difference(out, key);
    Key& a = out.keys[std::size_t(key)];
    Key& b = out.keys[std::size_t(key) + 1];
    a.next = shape.kind;
    if (shape.kind == Interpolation::Eased) {
        a.leave = {shape.x1, shape.y1 * d};
        b.arrive = {1 - shape.x2, (1 - shape.y2) * d};
    }
    return out;
}

Curve withLeaveHandle(const Curve& curve, int key, Handle handle) {
    if (key < 0 || key + 1 >= int(curve.keys.size())) return curve;
    Curve out = curve;
    handle.reach = std::clamp(handle.reach, 0.0, 1.0);
    out.keys[std::size_t(key)].leave = handle;
    out.keys[std::size_t(key)].next = Interpolation::Eased;
    return out;
}

Curve withArriveHandle(const Curve& curve, int key, Handle handle) {
    if (key < 1 || !has(curve, key)) return curve;
    Curve out = curve;
    handle.reach = std::clamp(handle.reach, 0.0, 1.0);
    out.keys[std::size_t(key)].arrive = handle;
    out.keys[std::size_t(key) - 1].next = Interpolation::Eased;
    return out;
}

Curve flipped(const Curve& curve, double neutral) {
    Curve out = curve;
    const double about = toSpace(neutral, curve.space);
    for (Key& k : out.keys) {
        k.value = fromSpace(2 * about - toSpace(k.value, out.space), out.space);
        k.leave.rise = -k.leave.rise;
        k.arrive.rise = -k.arrive.rise;
    }
    return out;
}

Curve inSpace(const Curve& curve, Space space) {
    if (curve.space == space) return curve;
    Curve out = curve;
    out.space = space;
    for (int i = 0; i + 1 < int(out.keys.size()); ++i) {
        const double before = difference(curve, i), k = std::abs(before) < 1e-12 ? 0 : difference(out, i) / before;
        out.keys[std::size_t(i)].leave.rise *= k;
        out.keys[std::size_t(i) + 1].arrive.rise *= k;
    }
    return out;
}

Curve twoKeys(Space space, double t0, double v0, double t1, double v1, const Shape& shape) {
    Curve curve;
    curve.space = space;
    curve.keys = {{t0, v0, Interpolation::Eased, {}, {}},
                  {std::max(t1, t0 + smallestKeyGap), v1, Interpolation::Eased, {}, {}}};
    return withShape(curve, 0, shape);
}

} // namespace virga
