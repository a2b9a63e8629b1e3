#pragma once
// The area under a curve of plain values, exactly: on a cubic Bezier x(s), y(s) the integral of y dx is that of y(s)
// x'(s) ds, a polynomial in s. Total and free of shared state.
#include <vector>

#include "core/curve/curve.h"

namespace virga {

class CurveIntegral {
public:
    /// REQUIRES: Space::Linear. `fallback` is the value of a curve without keys.
    explicit CurveIntegral(Curve curve, double fallback = 0);

    /// The integral from time 0, in units of value times frames; negative times run backwards.
    double upTo(double time) const { return from(time) - m_atZero; }
    double between(double from, double to) const { return this->from(to) - this->from(from); }
    const Curve& curve() const { return m_curve; }

private:
    double from(double time) const; // from the first key, or from 0 without keys

    Curve m_curve;
    double m_fallback;
    std::vector<double> m_atKeys; // from the first key to each
    double m_atZero = 0;
};

} // namespace virga
