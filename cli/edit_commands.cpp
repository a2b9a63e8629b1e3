// Edits, beats and cuts from the terminal.
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/print.h"
#include "cli/move_spec.h"
#include "cli/options.h"
#include "core/base/sequence_path.h"
#include "core/beats/find_beats.h"
#include "core/detect/find_cuts.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/interchange/edit_file.h"
#include "core/media/probe.h"
#include "core/plan/import_media.h"
#include "core/project/project_file.h"

namespace virga::cli {
namespace {

using json = nlohmann::json;
namespace fs = std::filesystem;

bool isProject(const fs::path& path) {
    return endingOf(path) == ".virga";
}

Expected<Project> readAny(const ConvertOptions& options) {
    if (isProject(options.in)) return loadProject(options.in);
    Project base;
    if (!options.rate.empty()) {
        const auto rate = rateFromText(options.rate);
        if (!rate) return tl::unexpected(rate.error());
        base.settings.rate = *rate;
    }
    auto read = readEditFile(options.in, base);
    if (!read) return tl::unexpected(read.error());
    for (const auto& problem : read->problems) warn("virga-cli: {}: {}\n", options.in, problem);
    bool sized = false;
    for (const Media& media : SharedList<Media>(read->project.media)) {
        if (!mediaExists(media.path)) continue;
        const auto info = probe(media.path);
        if (!info) {
            warn("virga-cli: {}\n", describe(info.error()));
            continue;
        }
        const Media probed = mediaFrom(*info);
        read->project = withMediaProbed(read->project, media.id, probed);
        if (!sized && probed.hasPicture()) read->project.settings.size = probed.size, sized = true;
    }
    return std::move(read->project);
}

} // namespace

int runConvert(const ConvertOptions& options) {
    if (const std::string ending = endingOf(options.out); ending != ".virga" && ending != ".otio" && ending != ".edl")
        return complain({ErrorCode::BadInput, "there is no such kind of edit", options.out,
                         "write a project (.virga), OpenTimelineIO (.otio) or an edit list (.edl)"});
    auto project = readAny(options);
    if (!project) return complain(project.error());
    Output output =
        isProject(options.out) ? projectOutput(*project, options.force) : editOutput(*project, options.force);
    output.inputs.push_back(options.in);
    if (auto may = mayWrite(options.out, output); !may) return complain(may.error());
    std::vector<std::string> problems;
    const auto done =
        isProject(options.out) ? saveProject(*project, options.out) : writeEditFile(*project, options.out, &problems);
    if (!done) return complain(done.error());
    for (const auto& problem : problems) warn("virga-cli: {}: cannot hold {}\n", options.out, problem);
    say("{}: {} clips, {} frames\n", options.out, project->reel.size(), reelLength(*project));
    return Fine;
}

int runBeats(const ProbeOptions& options) {
    const auto info = probe(options.file);
    if (!info) return complain(info.error());
    if (!info->audio)
        return complain({ErrorCode::Unsupported, "there is no sound in it", options.file, "give a sound file"});
    const auto found = findBeats(options.file, info->audio->duration);
    if (!found) return complain(found.error());
    const double seconds = info->audio->duration.toDouble();
    json beats = json::array();
    for (int i = 0; beatTime(found->tempo, i) < seconds; ++i) beats.push_back(beatTime(found->tempo, i));
    if (options.json)
        sayJson(json{{"beatsPerMinute", found->tempo.beatsPerMinute},
                                {"firstBeat", found->tempo.firstBeat.toDouble()},
                                {"steady", found->steady},
                                {"confidence", found->confidence},
                                {"beats", beats}}
                               .dump(2));
    else
        say("{:.2f} beats per minute, the first at {:.3f} s, {}; something sounds on {:.0f} % of the beats\n",
                   found->tempo.beatsPerMinute, found->tempo.firstBeat.toDouble(), found->steady ? "steady" : "uneven",
                   found->confidence * 100);
    return Fine;
}

int runCuts(const ProbeOptions& options) {
    const auto list = findCuts(options.file);
    if (!list) return complain(list.error());
    json cuts = json::array();
    int number = 0;
    for (const FoundCut& cut : list->cuts) {
        ++number;
        if (options.json)
            cuts.push_back({{"cut", number},
                            {"picture", cut.picture},
                            {"seconds", cut.seconds.toDouble()},
                            {"confidence", cut.confidence},
                            {"gradual", cut.isGradual()},
                            {"from", cut.from},
                            {"to", cut.to}});
        else
            say("{:>4}  {:>8}  {:>9.3f} s  {:>3.0f} %{}{}\n", number, cut.picture, cut.seconds.toDouble(),
                cut.confidence * 100, cut.isGradual() ? fmt::format("  gradual, {} to {}", cut.from, cut.to) : "",
                cut.confidence < surely ? "  (unsure)" : "");
    }
    if (options.json) sayJson(json{{"pictures", list->pictures}, {"cuts", cuts}}.dump(2));
    return Fine;
}

} // namespace virga::cli
