// A project's file.
#include "core/base/json.h"
#include "core/project/project_json.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    auto document = parseJson(fuzz::text(data, size), "a Virga project", "fuzz.virga");
    if (!document) return fuzz::requireTold(document.error()), 0;
    const auto project = fromJson(std::move(*document), "/nowhere", "fuzz.virga");
    if (!project) return fuzz::requireTold(project.error()), 0;
    fuzz::requireSound(*project);
    return 0;
}
