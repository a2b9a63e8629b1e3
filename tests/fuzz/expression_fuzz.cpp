// What is typed into number fields, as a value, as an exact number, as a timecode.
#include <cmath>

#include "core/base/expression.h"
#include "core/base/rational.h"
#include "core/base/timecode.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text = fuzz::text(data, size);
    static const Units units{{"px", 1.0 / 1280}, {"%", 0.01}, {"turns", 360}, {"turn", 360}, {"°", 1}};
    if (const auto value = evaluateExpression(text, units))
        fuzz::require(std::isfinite(*value), "a value is a number");
    else
        fuzz::requireTold(value.error());
    if (const auto exact = rationalFromText(text); !exact) fuzz::requireTold(exact.error());
    return 0;
}
