#pragma once
// A course from 0 to 1 in the unit square: one segment's shape, or several segments with keys between them. It is kept
// as a curve of plain values with its first key at (0, 0) and its last at (1, 1), and laid on a stretch of another one.
#include <optional>

#include "core/curve/curve.h"
#include "core/curve/shape.h"

namespace virga {

struct Easing {
    Curve unit;
    bool operator==(const Easing&) const = default;
};

Easing easingOf(const Shape& shape);
/// What a curve does from key `first` to key `last`, in its space; empty where their values are equal or the keys are
/// not there.
std::optional<Easing> easingOf(const Curve& curve, int first, int last);

/// The one segment that an easing consists of; empty where there are several.
std::optional<Shape> shapeOf(const Easing& easing);

/// The fraction of the way at a fraction of time.
double wayAt(const Easing& easing, double time);

/// A curve made to run like an easing from key `first` to key `last`; keys between them go, the easing's inner ones
/// come. Keys that would lie closer than smallestKeyGap are moved apart, or left out where there is no room.
Curve withEasing(const Curve& curve, int first, int last, const Easing& easing);

/// One easing in the first half of time and of the way, another in the second.
Easing halves(const Easing& first, const Easing& second);
/// Turned by half a turn: what left last arrives first. An "in" becomes its "out".
Easing turned(const Easing& easing);

/// True where no value of the two differs by more than `tolerance` and no key's time either.
bool isLike(const Easing& a, const Easing& b, double tolerance = 1e-6);

} // namespace virga
