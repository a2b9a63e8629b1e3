// An edit list made elsewhere (CMX 3600).
#include "core/interchange/edit_list.h"
#include "tests/fuzz/fuzz.h"
#include "tests/support/projects.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Project base = test::twoClips();
    const auto edit = readEditList(std::string(fuzz::text(data, size)), base, "fuzz.edl");
    if (!edit) return fuzz::requireTold(edit.error()), 0;
    fuzz::requireSound(edit->project);
    std::vector<std::string> problems;
    writeEditList(edit->project, &problems);
    return 0;
}
