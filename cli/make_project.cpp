#include <fmt/format.h>

#include "cli/commands.h"
#include "cli/move_spec.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/analysis/find_beats.h"
#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/edit/move_edits.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"

namespace virga::cli {
namespace {

Expected<Project> assemble(const MakeOptions& options) {
    Project project;
    project.name = std::filesystem::path(options.out).stem().string();
    Stack moves;
    for (const auto& text : options.moves) {
        auto move = moveFromText(text);
        if (!move) return tl::unexpected(move.error());
        moves.push_back(std::move(*move));
    }
    SharedList<Media> media;
    for (const auto& clip : options.clips) {
        auto info = probe(clip);
        if (!info) return tl::unexpected(info.error());
        if (!info->video) return fail(ErrorCode::BadInput, "there is only sound in it", clip, "give it with --music");
        for (const auto& warning : info->warnings) warn("{}: {}\n", clip, warning);
        media.push_back(mediaFrom(*info));
    }
    project.settings.size = media.front().size;
    for (int* side : {&project.settings.size.width, &project.settings.size.height})
        *side = std::max(16, *side / 2 * 2); // H.264 wants even sides
    project.settings.rate = media.front().rate;
    if (!options.size.empty()) {
        const auto size = sizeFromText(options.size);
        if (!size) return tl::unexpected(size.error());
        project.settings.size = *size;
    }
    if (!options.rate.empty()) {
        const auto rate = rateFromText(options.rate);
        if (!rate) return tl::unexpected(rate.error());
        project.settings.rate = *rate;
    }
    project.settings.edges = edgesNamed(options.edges).value_or(EdgeFill::Mirror);
    project.settings.shutter.angle = options.shutter;
    for (const Media& m : media) {
        std::string id;
        Media named = m;
        named.fingerprint.clear(); // two copies of one recording stay two files here: each is an input
        project = withMedia(project, named, &id);
        for (Media& placed : project.media)
            if (placed.id == id) placed.fingerprint = m.fingerprint;
        Clip clip = clipFor(project, *findMedia(project, id));
        if (options.length > 0) {
            if (!m.still && clip.length < options.length)
                return fail(
                    ErrorCode::BadInput,
                    fmt::format("has {} frames at this rate, fewer than --length {}", clip.length, options.length),
                    m.path.string(), "ask for fewer");
            if (!m.still) clip.sourceIn = Rational((clip.length - options.length) / 2) / project.settings.rate;
            clip.length = options.length;
        }
        project = withClip(project, int(project.reel.size()), clip);
    }
    if (!options.ramp.empty()) {
        const auto ramp = rampFromText(options.ramp);
        if (!ramp) return tl::unexpected(ramp.error());
        for (int cut = 0; cut < cutCount(project); ++cut)
            project = withRampsAtCut(project, cut, ramp->out ? &*ramp->out : nullptr, ramp->in ? &*ramp->in : nullptr);
    }
    for (const auto& [name, way] :
         {std::pair("nearest", InBetween::Nearest), {"mix", InBetween::Mix}, {"made-up", InBetween::MadeUp}})
        if (options.between == name)
            for (Clip& clip : project.reel) clip.inBetween = way;
    for (int cut = 0; cut < cutCount(project); ++cut) {
        Transition transition;
        transition.moves = moves;
        project = withTransition(project, cut, transition);
    }
    if (!options.music.empty()) {
        auto info = probe(options.music);
        if (!info) return tl::unexpected(info.error());
        if (!info->audio) return fail(ErrorCode::BadInput, "there is no sound in it", options.music);
        std::string id;
        project = withMedia(project, mediaFrom(*info), &id);
        project = withMusic(project, id);
        if (const auto found = findBeats(options.music, info->audio->duration); found && found->isSure())
            project.music.front().tempo = found->tempo;
        else
            warn("{}: no clear beat was found in it; it was added without beats\n", options.music);
    }
    return project;
}

} // namespace

int runMake(const MakeOptions& options) {
    // A forgotten project's name makes a shot the file to write: that is seen before anything else.
    Output output = projectOutput({}, options.force);
    output.inputs.assign(options.clips.begin(), options.clips.end());
    if (!options.music.empty()) output.inputs.push_back(options.music);
    if (auto may = mayWrite(options.out, output); !may) return complain(may.error());
    auto project = assemble(options);
    auto saved = project ? saveProject(*project, options.out) : tl::unexpected(project.error());
    if (!saved) {
        warn("virga-cli: {}\n", describe(saved.error()));
        return BadInput;
    }
    say("{}: {} clips, {} frames, {} x {} at {}\n", options.out, project->reel.size(), reelLength(*project),
        project->settings.size.width, project->settings.size.height, toText(project->settings.rate));
    return Fine;
}

} // namespace virga::cli
