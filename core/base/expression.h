#pragma once
// Arithmetic in number fields: "5*960px", "16/9", "2 turns", "-90°". Units are turned into the field's own unit by the
// factors the caller gives.
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/error.h"

namespace virga {

/// Unit names and what one of them is in the field's own unit, for example {{"px", 1.0 / 1280}, {"%", 0.01}}.
using Units = std::vector<std::pair<std::string, double>>;

/// The value of an arithmetic expression with + − * / ( ) and a unit behind any number. A comma is a decimal point.
/// Errors: BadInput with the place in the text; division by zero and results that are not finite included.
Expected<double> evaluateExpression(std::string_view text, const Units& units = {});

} // namespace virga
