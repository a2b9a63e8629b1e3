#include "core/curve/easing_families.h"

#include <cmath>
#include <numbers>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

using std::numbers::pi;

// "In" as one Bezier. Exact ones by comparing coefficients; the others fitted for the least eighth power of the error
// over the segment, with the slope at the start that the formula has.
Shape oneSegment(PennerFamily family) {
    const auto eased = [](double x1, double y1, double x2, double y2) {
        return Shape{Interpolation::Eased, x1, y1, x2, y2};
    };
    constexpr double third = 1.0 / 3, twoThirds = 2.0 / 3;
    switch (family) {
    case PennerFamily::Sine: // off by 0.00004
        return eased(0.36031, 0, 0.67103, 0.48277);
    case PennerFamily::Quad: // t^2
        return eased(third, 0, twoThirds, third);
    case PennerFamily::Cubic: // t^3
        return eased(third, 0, twoThirds, 0);
    case PennerFamily::Quart: // off by 0.0007
        return eased(0.45611, 0, 0.7365, -0.04619);
    case PennerFamily::Quint: // off by 0.0017
        return eased(0.55129, 0, 0.78068, -0.07663);
    case PennerFamily::Expo: // off by 0.001
        return eased(0.63427, 0.01977, 0.84488, -0.06197);
    case PennerFamily::Circ: // off by 0.0004
        return eased(0.55722, 0, 1, 0.45333);
    default:
        return {};
    }
}

// t^2 ((s + 1) t - s)
Easing back(double s) {
    return easingOf(Shape{Interpolation::Eased, 1.0 / 3, 0, 2.0 / 3, -s / 3});
}

// Bezier handles of half a swing between two turning points, by how much smaller each swing is than the one before:
// fitted for the least eighth power of the error.
struct Swing {
    double leave, arrive; // reaches
};
Swing swingOf(double ratio) {
    struct Fitted {
        double ratio, x1, x2;
    };
    static constexpr Fitted table[] = {{0.12, 0.25134, 0.42753},      {0.2, 0.26951, 0.48322}, {0.3, 0.28777, 0.52565},
                                       {0.35355339, 0.29623, 0.5422}, {0.4, 0.30299, 0.55436}, {0.5, 0.31615, 0.57565}};
    const Fitted *a = table, *b = table + 1;
    while (b->ratio < ratio && b != std::end(table) - 1) ++a, ++b;
    const double part = (ratio - a->ratio) / (b->ratio - a->ratio);
    return {a->x1 + (b->x1 - a->x1) * part, 1 - (a->x2 + (b->x2 - a->x2) * part)};
}

// Turning points one unit of time apart from `start` on, about 1; the first one at 1 - size.
Curve swings(double start, double size, double ratio, int count) {
    const Swing swing = swingOf(ratio);
    Curve curve;
    for (int i = 0; i < count; ++i, size *= -ratio)
        curve.keys.push_back({start + i, 1 - size, Interpolation::Eased, {swing.leave, 0}, {swing.arrive, 0}});
    return curve;
}

// Times from 0 to 1, the last key on its goal.
Easing framed(Curve curve) {
    const double last = curve.keys.back().time;
    for (Key& key : curve.keys) key.time /= last;
    Key &head = curve.keys.front(), &tail = curve.keys.back();
    head.time = head.value = 0;
    tail.time = tail.value = 1;
    head.arrive = tail.leave = {};
    return {curve};
}

// 1 - r^u cos(pi u), u in half swings. Its turning points lie a little before the half swings, where tan(pi u) =
// ln r / pi; the piece from u = 0 is cut out of the swing that contains it.
Curve vibration(double ratio, double end) {
    const double early = std::atan(-std::log(ratio) / pi) / pi;
    const auto way = [&](double u) { return 1 - std::pow(ratio, u) * std::cos(pi * u); };
    Curve curve = swings(-early, 1 - way(-early), ratio, int(std::ceil(end + early)) + 1);
    int at = 0;
    curve = withKeyAdded(curve, 0, 0, &at);
    curve.keys.erase(curve.keys.begin(), curve.keys.begin() + at);
    curve.keys.front().value = 0;
    if (curve.keys.back().time > end + 1e-9) {
        curve = withKeyAdded(curve, end, 1, &at);
        curve.keys.resize(std::size_t(at) + 1);
    }
    return curve;
}

// Penner's: four parabolas, 7.5625 t^2 and what bounces off 1.
Easing bounceOut() {
    Curve curve;
    const double unit = 1 / 2.75, heights[] = {1, 0.25, 0.0625, 0.015625}, times[] = {0, 1, 2, 2.5, 2.75};
    curve.keys.push_back({0, 0, Interpolation::Eased, {1.0 / 3, 0}, {}});
    for (int i = 0; i < 4; ++i) {
        // As a Bezier a parabola's inner points lie a third along, 4/3 of its height away; the first is half of one.
        const double rise = i == 0 ? 2.0 / 3 : 4 * heights[i] / 3;
        if (i > 0) curve.keys.back().leave = {1.0 / 3, -rise};
        curve.keys.push_back({times[i + 1] * unit, 1, Interpolation::Eased, {}, {1.0 / 3, rise}});
    }
    curve.keys.back().time = 1;
    return {curve};
}

Easing outEasing(PennerFamily family) {
    if (family == PennerFamily::Elastic) { // 1 - 2^(-10 t) cos(2 pi t / 0.3): a half swing takes 0.15
        Curve curve = vibration(std::exp2(-1.5), 1 / 0.15);
        return framed(curve);
    }
    if (family == PennerFamily::Bounce) return bounceOut();
    return turned(family == PennerFamily::Back ? back(1.70158) : easingOf(oneSegment(family)));
}

} // namespace

Easing pennerEasing(PennerFamily family, EasingWay way) {
    Easing out = outEasing(family), in = turned(out);
    if (way == EasingWay::In) return in;
    if (way == EasingWay::Out) return out;
    if (family == PennerFamily::Back) return halves(back(1.70158 * 1.525), turned(back(1.70158 * 1.525)));
    return halves(in, out);
}

Easing settling(double ratio, int halfSwings) {
    return framed(swings(0, 1, ratio, halfSwings + 1));
}

Easing arrivingSettling(double ratio, int halfSwings) {
    const double early = std::atan(-std::log(ratio) / pi) / pi;
    return framed(vibration(ratio, halfSwings - early));
}

} // namespace virga
