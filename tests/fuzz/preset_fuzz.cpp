// An export preset.
#include "core/export/export_preset.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto preset = presetFromText(fuzz::text(data, size), "fuzz.json");
    if (!preset) return fuzz::requireTold(preset.error()), 0;
    const auto again = presetFromText(presetText(*preset), "again");
    fuzz::require(again && *again == *preset, "a preset that was read can be written and read", presetText(*preset));
    const Size size720 = sizeOf(*preset, {1280, 720});
    fuzz::require(size720.width > 0 && size720.height > 0, "its size is a size");
    return 0;
}
