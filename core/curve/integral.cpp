#include "core/curve/integral.h"

#include <algorithm>
#include <array>

namespace virga {
namespace {

// The area of a segment from its start to a part of its duration, 0 to 1.
double areaOf(const Key& a, const Key& b, double part) {
    const double duration = b.time - a.time;
    if (a.next == Interpolation::Hold) return a.value * duration * part;
    if (a.next == Interpolation::Linear) return duration * part * (a.value + (b.value - a.value) * part / 2);
    const double x1 = std::clamp(a.leave.reach, 0.0, 1.0), x2 = 1 - std::clamp(b.arrive.reach, 0.0, 1.0);
    const double y0 = a.value, y1 = a.value + a.leave.rise, y2 = b.value - b.arrive.rise, y3 = b.value;
    // Both in powers of s.
    const std::array<double, 4> y{y0, 3 * (y1 - y0), 3 * (y0 - 2 * y1 + y2), y3 - 3 * y2 + 3 * y1 - y0};
    const std::array<double, 3> slope{3 * x1, 6 * (x2 - 2 * x1), 3 * (1 - 3 * x2 + 3 * x1)};
    std::array<double, 6> product{};
    for (std::size_t i = 0; i < y.size(); ++i)
        for (std::size_t k = 0; k < slope.size(); ++k) product[i + k] += y[i] * slope[k];
    const double s = solveBezier(x1, x2, part);
    double sum = 0;
    for (std::size_t i = product.size(); i-- > 0;) sum = (sum + product[i] / double(i + 1)) * s;
    return sum * duration;
}

} // namespace

CurveIntegral::CurveIntegral(Curve curve, double fallback) : m_curve(std::move(curve)), m_fallback(fallback) {
    const auto& keys = m_curve.keys;
    m_atKeys.resize(keys.size());
    for (std::size_t i = 1; i < keys.size(); ++i) m_atKeys[i] = m_atKeys[i - 1] + areaOf(keys[i - 1], keys[i], 1);
    m_atZero = from(0);
}

double CurveIntegral::from(double time) const {
    const auto& keys = m_curve.keys;
    if (keys.empty()) return m_fallback * time;
    if (time <= keys.front().time) return keys.front().value * (time - keys.front().time);
    if (time >= keys.back().time) return m_atKeys.back() + keys.back().value * (time - keys.back().time);
    const auto i = std::size_t(segmentAt(m_curve, time));
    const Key &a = keys[i], &b = keys[i + 1];
    return m_atKeys[i] + areaOf(a, b, (time - a.time) / (b.time - a.time));
}

} // namespace virga
