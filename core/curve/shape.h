#pragma once
// Named shapes of one segment, in the unit square: CSS's timing functions and Virga's own range from gentle to violent.
// The named CSS values are those of W3C "CSS Easing Functions Level 1", section 2.2.
#include <optional>
#include <string_view>
#include <vector>

#include "core/curve/curve.h"

namespace virga {

struct Shape {
    Interpolation kind = Interpolation::Eased;
    double x1 = 0, y1 = 0, x2 = 1, y2 = 1;
    bool operator==(const Shape&) const = default;
};

struct NamedShape {
    std::string_view name;  // as in files and on the command line
    std::string_view label; // as people read it
    Shape shape;
};

/// All named shapes, in the order in which they are offered.
const std::vector<NamedShape>& namedShapes();
std::optional<Shape> shapeNamed(std::string_view name);

/// The shapes that a new move starts with: the outgoing side flat then steep, the incoming side steep then flat.
Shape departingShape();
Shape arrivingShape();

/// The shape of the segment that leaves a key, in the unit square; empty where its two values are equal.
std::optional<Shape> shapeOf(const Curve& curve, int key);

} // namespace virga
