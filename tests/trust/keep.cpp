// Writes what the window keeps beside its work, for the tests of full disks, protected folders and kills: collected
// media, a light copy, fields of movement, a shot's movement, a recipe, a preset. Usage: keep KIND OUT, in a folder
// with p.virga and a.mp4. Ends with 2 and a message where it cannot.
#include <cstdio>
#include <filesystem>
#include <string>

#include "core/analysis/measure_movement.h"
#include "core/edit/collect.h"
#include "core/encode/proxy.h"
#include "core/export/export_preset.h"
#include "core/optical_flow/optical_flow_file.h"
#include "core/project/project_file.h"
#include "core/recipe/recipe.h"
#include "core/recipe/shelf.h"

using namespace virga;
namespace fs = std::filesystem;

namespace {

Expected<void> keep(const std::string& kind, const fs::path& out) {
    if (kind == "collected") {
        const auto project = loadProject("p.virga");
        if (!project) return tl::unexpected(project.error());
        const auto done = collectMedia(*project, out);
        if (!done) return tl::unexpected(done.error());
        if (!done->problems.empty()) return tl::unexpected(done->problems.front());
        return {};
    }
    if (kind == "proxy") return makeProxy("a.mp4", out, true, [](double) {}, {});
    if (kind == "flow") {
        FlowPair flow;
        flow.grid = {64, 36}, flow.source = {128, 72};
        for (FlowField* field : {&flow.forward, &flow.backward})
            for (int i = 0; i < 2 * 64 * 36; ++i) field->steps.push_back(std::int16_t(i * 37));
        return writeFlow(out, flow);
    }
    if (kind == "movement") {
        const auto movement = measureMovement("a.mp4");
        return movement ? writeMovement(out, *movement) : tl::unexpected(movement.error());
    }
    if (kind == "recipe") return saveRecipe(builtInRecipes().front(), out);
    ExportPreset preset = builtInPresets().front();
    preset.name = "Kept";
    return keepPreset(preset, out);
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 3) return 1;
    const auto done = keep(argv[1], argv[2]);
    if (done) return 0;
    std::fprintf(stderr, "%s\n", describe(done.error()).c_str());
    return 2;
}
