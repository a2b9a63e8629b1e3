#include "cli/commands.h"
#include "cli/print.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli/options.h"
#include "core/decode/probe.h"
#include "core/optical_flow/movement.h"
#include "core/project/project_file.h"

namespace virga::cli {
namespace {

using json = nlohmann::json;

json describeVideo(const VideoInfo& v) {
    return {{"width", v.size.width},
            {"height", v.size.height},
            {"codedWidth", v.coded.width},
            {"codedHeight", v.coded.height},
            {"rotation", v.orientation.rotation},
            {"mirrored", v.orientation.mirrored},
            {"pixelAspect", toText(v.pixelAspect)},
            {"rate", toText(v.rate)},
            {"variableRate", v.variableRate},
            {"duration", v.duration.toDouble()},
            {"frames", v.frames},
            {"codec", v.codec},
            {"pixelFormat", v.pixelFormat},
            {"bitDepth", v.bitDepth},
            {"matrix", v.matrix},
            {"range", v.range},
            {"transfer", v.transfer},
            {"primaries", v.primaries},
            {"interlaced", v.interlaced},
            {"still", v.still}};
}

} // namespace

Expected<Project> openProject(const std::string& path) {
    std::vector<std::string> missing;
    auto project = loadProject(path, &missing);
    if (project)
        for (const auto& id : missing)
            warn("virga-cli: {}: there is no such file; put it back, or beside the project\n",
                 findMedia(*project, id)->path.string());
    if (project)
        for (const auto& id : changedMedia(*project))
            warn("virga-cli: {}: this is another file than the one that the project was made with; its length and size "
                 "may "
                 "differ\n",
                 findMedia(*project, id)->path);
    return project;
}

std::string jsonText(const json& value) {
    return value.dump(2, ' ', false, json::error_handler_t::replace);
}

int complain(const Error& error) {
    warn("virga-cli: {}\n", describe(error));
    return BadInput;
}

int runProbe(const ProbeOptions& options) {
    const auto info = probe(options.file);
    if (!info) return complain(info.error());
    OwnShotMovement movement;
    if (info->video && !info->video->still)
        if (const auto found = ownMovementOf(options.file)) movement = *found;
    if (options.json) {
        json out = {{"file", options.file},
                    {"container", info->container},
                    {"video", nullptr},
                    {"audio", nullptr},
                    {"warnings", info->warnings}};
        if (info->video) out["video"] = describeVideo(*info->video);
        if (movement.pairs > 0)
            out["movement"] = {{"percentOfWidthPerFrame", movement.perFrame}, {"untrusted", movement.untrusted}};
        if (info->audio)
            out["audio"] = {{"channels", info->audio->channels},
                            {"sampleRate", info->audio->sampleRate},
                            {"duration", info->audio->duration.toDouble()},
                            {"codec", info->audio->codec}};
        sayJson(jsonText(out));
    } else {
        if (const auto& v = info->video; v && v->still)
            say("picture  {} x {}, {}\n", v->size.width, v->size.height, v->codec);
        else if (v) {
            say("video    {} x {}, {:.5g} frames/s{}, {} frames, {:.3f} s, {}\n", v->size.width, v->size.height,
                v->rate.toDouble(), v->variableRate ? " (variable)" : "", v->frames, v->duration.toDouble(), v->codec);
            say("colour   {}, {} range, {} bit ({})\n", v->matrix, v->range, v->bitDepth, v->pixelFormat);
        }
        if (const auto& v = info->video; v && v->orientation != Orientation())
            say("turned   by {} degrees{}; stored as {} x {}\n", v->orientation.rotation,
                v->orientation.mirrored ? ", mirrored" : "", v->coded.width, v->coded.height);
        if (movement.pairs > 0)
            say("moves    by {:.2f} % of its width a frame on the mean; {:.0f} % of it cannot be told\n",
                movement.perFrame, movement.untrusted * 100);
        if (info->audio)
            say("sound    {} channels, {} Hz, {:.3f} s, {}\n", info->audio->channels, info->audio->sampleRate,
                info->audio->duration.toDouble(), info->audio->codec);
    }
    for (const auto& warning : info->warnings) warn("{}: {}\n", options.file, warning);
    return info->brokenOff ? Findings : Fine;
}

} // namespace virga::cli
