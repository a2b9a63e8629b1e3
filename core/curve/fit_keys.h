#pragma once
// A curve with few keys through values that were measured frame by frame.
#include <optional>
#include <string_view>
#include <vector>

#include "core/curve/curve.h"

namespace virga {

struct MeasuredValue {
    double time = 0;
    double value = 0; // in the channel's own unit
    double error = 0; // one standard deviation, in the curve's space
};

struct FittedCurve {
    Curve curve;
    double worst = 0;      // miss of a value, in the curve's space
    double mean = 0;       // root of the mean square of all misses
    std::string_view like; // the named shape that one segment was found to be; empty: none
};

/// What is known of a curve's ends.
struct CurveEnds {
    bool restsBefore = false, restsAfter = false; // it leaves its first value level, arrives at its last one level
    bool looseFirst = false, looseLast = false;   // that value has an error as all others; else it is met exactly
    std::optional<double> until; // the last key's time, beyond the last value; only where that is loose
};

/// A curve that misses no value by more than `tolerance` (in its space) or two and a half of its errors, whichever is
/// more, with keys at the first and last value and as few between them as that takes, `mostKeys` at most. Where one
/// segment does, and one of the named shapes (shape.h) too, it is that.
///
/// Segments are cubic Bezier curves fitted by least squares and parted where they miss most, joints keeping one tangent
/// (Schneider, "An algorithm for automatically fitting digitized curves", Graphics Gems, 1990); since values are given
/// at exact times, what is made small is the miss in value, by Levenberg's and Marquardt's method (1944, 1963), and not
/// the distance. REQUIRES: two values at least, their times rising.
FittedCurve fittedCurve(const std::vector<MeasuredValue>& values, Space space, double tolerance,
                        const CurveEnds& ends = {}, int mostKeys = 8);

} // namespace virga
