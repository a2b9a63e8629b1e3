#pragma once
// What each command of virga-cli does, apart from how it is spelled. Each returns an exit code.
#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include "core/base/error.h"
#include "core/export/export_plan.h"
#include "core/project/project.h"

namespace virga::cli {

/// What is written and how; empty or negative where not said.
struct RenderOptions {
    std::string project, out, frames, size, rate;
    std::string format, preset, quality, sound, enlarging;
    int depth = -1, chunk = -1;
    bool alpha = false, noSound = false, quiet = false, chunks = false, force = false;
};
struct PartsOptions {
    RenderOptions render;
    std::string cuts = "all";
    int handles = 12;
};
struct FarmOptions {
    RenderOptions render;
    std::string scheduler = "here";
    std::string schedulerOptions;
    std::vector<std::string> shared; // folders that every machine sees
    int tries = 3;
    double every = 2; // seconds between looks
    bool noWait = false;
};
struct ProbeOptions {
    std::string file;
    bool json = false;
};
struct BeatsCommand {
    std::string file, into;
    bool json = false, force = false;
};
struct CheckOptions {
    std::string project, fix, out, rate;
    int cut = 0; // where a fix is to be applied; 0: wherever its finding is
    bool json = false, force = false, pictures = false;
};
struct ChainCommand {
    std::string project, out;
    std::uint32_t seed = 1;
    bool all = false, force = false;
};
struct MakeOptions {
    std::string out, size, rate, edges = "mirror", music, ramp, between;
    std::vector<std::string> clips, moves;
    int length = 0;
    double shutter = 180;
    bool force = false;
};

struct ConvertOptions {
    std::string in, out, rate;
    bool force = false;
};

struct RecipeOptions {
    std::string project, recipe, out, cuts = "all", heading, name, note;
    double strength = 100, length = 100; // in %
    int every = 1, frames = 0, step = 0;
    std::uint32_t seed = 0;
    bool mirrored = false, reversed = false, byTime = false, alternate = false, carryOn = false, free = false;
    bool json = false, force = false;
};

struct TraceCommand {
    std::string file, out, name;
    int cut = 1, frames = 45;
    std::int64_t picture = -1; // in place of a cut
    bool json = false, force = false;
};

int runTrace(const TraceCommand& options);
int runMovement(const ProbeOptions& options);
int runRecipeList(const RecipeOptions& options);
int runRecipeShow(const RecipeOptions& options);
int runRecipeApply(const RecipeOptions& options);
int runRecipeSave(const RecipeOptions& options);
int runRender(const RenderOptions& options);
int runJoin(const RenderOptions& options);
int runFormats(bool json);
/// Errors: BadInput for what cannot be understood.
Expected<ExportSettings> settingsFrom(const RenderOptions& options, const Project& project);
int runFarm(const FarmOptions& options);
int runParts(const PartsOptions& options);
int runMovementData(const RenderOptions& options);
int runLadder(const RenderOptions& options, int cut, int frames, int height);
int runProbe(const ProbeOptions& options);
int runCheck(const CheckOptions& options);
int runMake(const MakeOptions& options);
int runChain(const ChainCommand& options);
/// Tells an error on standard error; BadInput.
int complain(const Error& error);
/// Says of each medium that is missing where it was looked for.
Expected<Project> openProject(const std::string& path);
std::string jsonText(const nlohmann::json& value);

int runConvert(const ConvertOptions& options);
int runBeats(const BeatsCommand& options);
int runCuts(const ProbeOptions& options);

} // namespace virga::cli
