#include "cli/commands.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

#include "cli/move_spec.h"
#include "cli/options.h"
#include "core/inbetween/movement.h"
#include "core/media/probe.h"
#include "core/project/project_file.h"
#include "core/render/export_needs.h"
#include "core/render/export_reel.h"

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
            fmt::print(stderr, "virga-cli: {}: there is no such file; put it back, or beside the project\n",
                       findMedia(*project, id)->path.string());
    return project;
}

std::string jsonText(const json& value) {
    return value.dump(2, ' ', false, json::error_handler_t::replace);
}

int complain(const Error& error) {
    fmt::print(stderr, "virga-cli: {}\n", describe(error));
    return BadInput;
}

int runRender(const RenderOptions& options) {
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    if (auto may = mayWrite(options.out, exportOutput(*project, options.project)); !may) return complain(may.error());
    ExportSettings settings;
    settings.path = options.out;
    settings.quality = options.quality;
    settings.sound = !options.noSound;
    settings.depth = options.depth;
    settings.render.enlarging = options.enlarging == "sharp"     ? Enlarging::CatmullRom
                                : options.enlarging == "sharper" ? Enlarging::Lanczos
                                                                 : Enlarging::Bilinear;
    if (!options.size.empty()) {
        const auto size = sizeFromText(options.size);
        if (!size) return complain(size.error());
        settings.size = *size;
    }
    if (!options.frames.empty()) {
        const auto range = rangeFromText(options.frames);
        if (!range) return complain(range.error());
        settings.from = range->first;
        settings.to = range->second + 1;
    }
    const bool show = !options.quiet && ::isatty(STDERR_FILENO);
    SourcePool pool(exportPoolBytes); // the export raises it to what it needs
    const auto report = exportReel(*project, settings, pool, [show](std::int64_t done, std::int64_t all) {
        if (show) fmt::print(stderr, "\rframe {} of {}", done, all);
    });
    if (show) fmt::print(stderr, "\n");
    if (!report) return complain(report.error());
    for (const Error& problem : report->problems)
        fmt::print(stderr, "virga-cli: sound left out: {}\n", describe(problem));
    for (const std::string& note : report->notes) fmt::print(stderr, "{}: {}\n", options.out, note);
    fmt::print("{}: {} frames in {:.1f} s\n", options.out, report->frames, report->seconds);
    return Fine;
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
        fmt::print("{}\n", jsonText(out));
    } else {
        if (const auto& v = info->video; v && v->still)
            fmt::print("picture  {} x {}, {}\n", v->size.width, v->size.height, v->codec);
        else if (v) {
            fmt::print("video    {} x {}, {:.5g} frames/s{}, {} frames, {:.3f} s, {}\n", v->size.width, v->size.height,
                       v->rate.toDouble(), v->variableRate ? " (variable)" : "", v->frames, v->duration.toDouble(),
                       v->codec);
            fmt::print("colour   {}, {} range, {} bit ({})\n", v->matrix, v->range, v->bitDepth, v->pixelFormat);
        }
        if (const auto& v = info->video; v && v->orientation != Orientation())
            fmt::print("turned   by {} degrees{}; stored as {} x {}\n", v->orientation.rotation,
                       v->orientation.mirrored ? ", mirrored" : "", v->coded.width, v->coded.height);
        if (movement.pairs > 0)
            fmt::print("moves    by {:.2f} % of its width a frame on the mean; {:.0f} % of it cannot be told\n",
                       movement.perFrame, movement.untrusted * 100);
        if (info->audio)
            fmt::print("sound    {} channels, {} Hz, {:.3f} s, {}\n", info->audio->channels, info->audio->sampleRate,
                       info->audio->duration.toDouble(), info->audio->codec);
    }
    for (const auto& warning : info->warnings) fmt::print(stderr, "{}: {}\n", options.file, warning);
    return info->warnings.empty() ? Fine : Findings;
}

} // namespace virga::cli
