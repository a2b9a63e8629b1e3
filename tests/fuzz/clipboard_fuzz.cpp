// Text on the clipboard that says it was copied from Virga.
#include "core/edit/clipboard.h"
#include "tests/fuzz/fuzz.h"
#include "tests/support/projects.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Project base = test::plungeProject();
    const auto paste = pasted(base, std::string(fuzz::text(data, size)), 1, 10, 0);
    if (!paste) return fuzz::requireTold(paste.error()), 0;
    fuzz::requireSound(paste->project);
    return 0;
}
