#pragma once
// Shapes as text that other programs read: the easing functions of W3C "CSS Easing Functions Level 2", in and out.
#include <string>
#include <string_view>

#include "core/base/error.h"
#include "core/curve/easing.h"

namespace virga {

/// Reads `linear`, `ease`, `ease-in`, `ease-out`, `ease-in-out`, `step-end`, `cubic-bezier(x1, y1, x2, y2)` and
/// `linear(stops)`, whose stops are a number with none, one or two percentages. Errors: BadInput, which says at what
/// place and what is allowed.
Expected<Easing> easingFromCss(std::string_view text);

/// `linear`, `step-end` or `cubic-bezier(...)` for one segment; for several `linear(...)`, whose straight pieces stay
/// within `tolerance` of the way. Numbers have six digits.
std::string cssOf(const Shape& shape);
std::string cssOf(const Easing& easing, double tolerance = 0.002);

} // namespace virga
