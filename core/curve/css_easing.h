#pragma once
// Shapes as text that other programs read: the easing functions of W3C "CSS Easing Functions Level 2", in and out.
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"
#include "core/curve/shape.h"

namespace virga {

/// A point of a polyline easing: the fraction of time, and of the way.
struct EasingPoint {
    double time = 0, way = 0;
    bool operator==(const EasingPoint&) const = default;
};

/// One segment's shape, or where that is not enough a polyline from time 0 to 1.
struct Easing {
    Shape shape;
    std::vector<EasingPoint> points; // at least two, times ascending; empty where `shape` says it all
    bool operator==(const Easing&) const = default;
};

/// Reads `linear`, `ease`, `ease-in`, `ease-out`, `ease-in-out`, `step-end`, `cubic-bezier(x1, y1, x2, y2)` and
/// `linear(stops)`, whose stops are a number with none, one or two percentages. Errors: BadInput, which says at what
/// place and what is allowed.
Expected<Easing> easingFromCss(std::string_view text);

/// `cubic-bezier(...)`, `linear` or `step-end`; and `linear(...)`.
std::string cssOf(const Shape& shape);
std::string cssOf(const std::vector<EasingPoint>& points);

/// What `linear()` needs to be within `tolerance` of the way between the keys `first` and `last` of a curve; empty
/// where their values are equal. REQUIRES: 0 <= first < last < number of keys.
std::vector<EasingPoint> polylineOf(const Curve& curve, int first, int last, double tolerance = 0.002);

/// The segment that leaves `key` made to run like an easing; a polyline's inner points become keys.
Curve withEasing(const Curve& curve, int key, const Easing& easing);

} // namespace virga
