// Edits, beats and cuts from the terminal.
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/move_spec.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/analysis/find_beats.h"
#include "core/analysis/find_cuts.h"
#include "core/base/file.h"
#include "core/base/file_lock.h"
#include "core/base/sequence_path.h"
#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/interchange/edit_file.h"
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

namespace {

// The music of a project that is this file; added at its begin where there is none.
Project withMusicOf(const Project& project, const MediaInfo& info, std::size_t* place) {
    const auto file = wholePath(info.path);
    for (std::size_t i = 0; i < project.music.size(); ++i)
        if (const Media* media = findMedia(project, project.music[i].mediaId);
            media && wholePath(media->path) == file) {
            *place = i;
            return project;
        }
    std::string id;
    Project next = withMusic(withMedia(project, mediaFrom(info), &id), id);
    *place = next.music.size() - 1;
    return next;
}

int writeBeatsInto(const BeatsCommand& options, const MediaInfo& info, const FoundBeats& found) {
    if (!found.isSure() && !options.force)
        return complain({ErrorCode::BadInput, "no clear beat was found in it, and the project was left as it is",
                         options.file, "say --force to write these beats all the same"});
    auto project = openProject(options.into);
    if (!project) return complain(project.error());
    LockOwner owner;
    const auto lock = FileLock::take(wholePath(options.into), &owner);
    if (!lock)
        return complain({ErrorCode::BadInput,
                         fmt::format("it is open in a window of {} on {}", owner.user, owner.machine), options.into,
                         "close it there first, or find the beats there"});
    std::size_t place = 0;
    Project next = withMusicOf(*project, info, &place);
    Music& music = next.music[place];
    const int perBar = music.tempo ? music.tempo->beatsPerBar : 4;
    music.tempo = found.tempo;
    if (!found.barsKnown) music.tempo->beatsPerBar = perBar;
    const Output output = projectOutput(next, false);
    if (auto may = mayWrite(options.into, output); !may) return complain(may.error());
    if (auto saved = saveProject(next, options.into); !saved) return complain(saved.error());
    if (!options.json) say("{}: {} beats written\n", options.into, found.lastHeard - found.firstHeard + 1);
    return Fine;
}

} // namespace

int runBeats(const BeatsCommand& options) {
    const auto info = probe(options.file);
    if (!info) return complain(info.error());
    if (!info->audio)
        return complain({ErrorCode::Unsupported, "there is no sound in it", options.file, "give a sound file"});
    const auto found = findBeats(options.file, info->audio->duration);
    if (!found) return complain(found.error());
    if (options.json) {
        json beats = json::array();
        for (int i = found->firstHeard; i <= found->lastHeard; ++i) beats.push_back(beatTime(found->tempo, i));
        sayJson(json{
            {"beatsPerMinute", found->tempo.beatsPerMinute},
            {"firstBeat", beatTime(found->tempo, found->firstHeard)},
            {"beatsPerBar", found->barsKnown ? json(found->tempo.beatsPerBar) : json()},
            {"firstBar", found->barsKnown && found->firstHeard > 0 ? found->tempo.beatsPerBar - found->firstHeard : 0},
            {"steady", found->steady},
            {"sure", found->isSure()},
            {"otherTempo", found->otherTempo > 0 ? json(found->otherTempo) : json()},
            {"confidence", found->confidence},
            {"beats",
             beats}}.dump(2));
    } else {
        say("{:.2f} beats per minute{}, the first at {:.3f} s; {} ({:.0f} % sure)\n", found->tempo.beatsPerMinute,
            found->barsKnown ? fmt::format(", {} to a bar", found->tempo.beatsPerBar) : "",
            beatTime(found->tempo, found->firstHeard), found->described(), found->confidence * 100);
    }
    if (!options.into.empty()) return writeBeatsInto(options, *info, *found);
    return found->isSure() ? Fine : Findings;
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
