// An OpenTimelineIO document.
#include "core/interchange/otio.h"
#include "tests/fuzz/fuzz.h"
#include "tests/support/projects.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Project base = test::twoClips();
    const auto edit = readOtio(std::string(fuzz::text(data, size)), base, "/nowhere", "fuzz.otio");
    if (!edit) return fuzz::requireTold(edit.error()), 0;
    fuzz::requireSound(edit->project);
    writeOtio(edit->project, "/nowhere");
    return 0;
}
