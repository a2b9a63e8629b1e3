// Easing as CSS text.
#include <cmath>

#include "core/curve/css_easing.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto easing = easingFromCss(fuzz::text(data, size));
    if (!easing) return fuzz::requireTold(easing.error()), 0;
    const std::string written = cssOf(*easing);
    fuzz::require(easingFromCss(written).has_value(), "an easing that was read can be written and read", written);
    return 0;
}
