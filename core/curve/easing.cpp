#include "core/curve/easing.h"

#include <algorithm>
#include <cmath>

#include "core/curve/curve_edit.h"
#include "core/curve/key_group.h"

namespace virga {

Easing easingOf(const Shape& shape) {
    return {twoKeys(Space::Linear, 0, 0, 1, 1, shape)};
}

std::optional<Easing> easingOf(const Curve& curve, int first, int last) {
    if (first < 0 || last >= int(curve.keys.size()) || first >= last) return std::nullopt;
    const auto key = [&](int i) -> const Key& { return curve.keys[std::size_t(i)]; };
    const double start = key(first).time, length = key(last).time - start,
                 from = toSpace(key(first).value, curve.space), way = toSpace(key(last).value, curve.space) - from;
    if (std::abs(way) < 1e-12) return std::nullopt;
    Easing easing;
    for (int i = first; i <= last; ++i) {
        Key k = key(i);
        k.time = (k.time - start) / length;
        k.value = (toSpace(k.value, curve.space) - from) / way;
        k.leave.rise /= way;
        k.arrive.rise /= way;
        easing.unit.keys.push_back(k);
    }
    Key &head = easing.unit.keys.front(), &tail = easing.unit.keys.back();
    head.arrive = tail.leave = {}; // outside: not its business
    tail.next = Interpolation::Eased;
    tail.time = tail.value = 1;
    return easing;
}

std::optional<Shape> shapeOf(const Easing& easing) {
    if (easing.unit.keys.size() != 2) return std::nullopt;
    return shapeOf(easing.unit, 0);
}

double wayAt(const Easing& easing, double time) {
    return evaluate(easing.unit, time);
}

Curve withEasing(const Curve& curve, int first, int last, const Easing& easing) {
    if (first < 0 || last >= int(curve.keys.size()) || first >= last || easing.unit.keys.size() < 2) return curve;
    Curve out = curve;
    const Key from = curve.keys[std::size_t(first)], to = curve.keys[std::size_t(last)];
    const double start = from.time, length = to.time - start, low = toSpace(from.value, curve.space),
                 way = toSpace(to.value, curve.space) - low;
    const auto& unit = easing.unit.keys;
    std::vector<Key> run;
    for (std::size_t i = 0; i < unit.size(); ++i) {
        Key k = unit[i];
        k.leave.rise *= way;
        k.arrive.rise *= way;
        if (i == 0) {
            k.time = from.time, k.value = from.value, k.arrive = from.arrive;
        } else if (i + 1 == unit.size()) {
            k.time = to.time, k.value = to.value, k.next = to.next, k.leave = to.leave;
        } else {
            k.time = std::max(start + k.time * length, run.back().time + smallestKeyGap);
            k.value = fromSpace(low + k.value * way, curve.space);
            if (k.time > to.time - smallestKeyGap) continue;
        }
        run.push_back(k);
    }
    const auto at = out.keys.erase(out.keys.begin() + first, out.keys.begin() + last + 1);
    out.keys.insert(at, run.begin(), run.end());
    return out;
}

Easing halves(const Easing& first, const Easing& second) {
    Easing out;
    for (int part = 0; part < 2; ++part)
        for (Key k : (part == 0 ? first : second).unit.keys) {
            k.time = (k.time + part) / 2;
            k.value = (k.value + part) / 2;
            k.leave.rise /= 2;
            k.arrive.rise /= 2;
            if (part == 1 && k.time == 0.5) { // where they meet there is one key
                Key& middle = out.unit.keys.back();
                middle.next = k.next;
                middle.leave = k.leave;
            } else {
                out.unit.keys.push_back(k);
            }
        }
    return out;
}

Easing turned(const Easing& easing) {
    Easing out{reversed(easing.unit, allKeys(easing.unit))};
    for (Key& k : out.unit.keys) {
        k.value = 1 - k.value;
        k.leave.rise = -k.leave.rise;
        k.arrive.rise = -k.arrive.rise;
    }
    return out;
}

bool isLike(const Easing& a, const Easing& b, double tolerance) {
    if (a.unit.keys.size() != b.unit.keys.size()) return false;
    const auto near = [&](double p, double q) { return std::abs(p - q) <= tolerance; };
    for (std::size_t i = 0; i < a.unit.keys.size(); ++i) {
        const Key &p = a.unit.keys[i], &q = b.unit.keys[i];
        if (!near(p.time, q.time) || !near(p.value, q.value)) return false;
        if (i + 1 == a.unit.keys.size()) break;
        const Key &pn = a.unit.keys[i + 1], &qn = b.unit.keys[i + 1];
        if (p.next != q.next) return false;
        if (p.next == Interpolation::Eased &&
            !(near(p.leave.reach, q.leave.reach) && near(p.leave.rise, q.leave.rise) &&
              near(pn.arrive.reach, qn.arrive.reach) && near(pn.arrive.rise, qn.arrive.rise)))
            return false;
    }
    return true;
}

} // namespace virga
