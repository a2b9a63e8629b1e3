// Writing results from the terminal.
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

#include "cli/commands.h"
#include "cli/move_spec.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/export/export_needs.h"
#include "core/export/export_preset.h"
#include "core/export/export_reel.h"
#include "core/export/ladder_picture.h"
#include "core/export/movement_data.h"
#include "core/export/parts.h"

namespace virga::cli {
namespace {

using json = nlohmann::json;

Expected<DeliveryFormat> formatFrom(const RenderOptions& options) {
    if (!options.format.empty()) {
        if (const FormatInfo* info = formatById(options.format)) return info->format;
        std::string all;
        for (const FormatInfo& f : deliveryFormats()) all += (all.empty() ? "" : ", ") + std::string(f.id);
        return fail(ErrorCode::BadInput, "there is no format " + options.format, {}, "use one of " + all);
    }
    if (const FormatInfo* info = formatByEnding(endingOf(options.out))) return info->format;
    return DeliveryFormat::H264; // what the file's name lacks is told when it is written
}

Expected<int> qualityFrom(const std::string& text, DeliveryFormat format) {
    const FormatInfo& info = infoOf(format);
    for (const QualityLevel& q : info.qualities)
        if (text == q.id) return q.value;
    try {
        std::size_t used = 0;
        const int value = std::stoi(text, &used);
        if (used == text.size() && hasQuality(info, value)) return value;
    } catch (const std::exception&) {
    }
    return fail(ErrorCode::BadInput, fmt::format("{} has no quality {}", info.name, text), {}, qualitiesOf(info));
}

void tell(const std::string& out, const ExportReport& report) {
    for (const Error& problem : report.problems) warn("virga-cli: sound left out: {}\n", describe(problem));
    for (const std::string& note : report.notes) warn("{}: {}\n", out, note);
}

ExportProgress shown(const RenderOptions& options) {
    const bool show = !options.quiet && ::isatty(STDERR_FILENO);
    return [show](std::int64_t done, std::int64_t all) {
        if (show) warn("\rframe {} of {}{}", done, all, done == all ? "\n" : "");
    };
}

} // namespace

Expected<ExportSettings> settingsFrom(const RenderOptions& options, const Project& project) {
    ExportSettings settings;
    ExportPreset preset;
    if (!options.preset.empty()) {
        const auto found = findPreset(options.preset, presetFolder());
        if (!found) return tl::unexpected(found.error());
        preset = *found;
    }
    if (options.preset.empty() || !options.format.empty()) {
        const auto format = formatFrom(options);
        if (!format) return tl::unexpected(format.error());
        preset.delivery.format = *format;
        if (const auto& sounds = infoOf(*format).sounds; !sounds.empty()) preset.delivery.soundCodec = sounds.front();
    }
    if (!options.quality.empty()) {
        const auto quality = qualityFrom(options.quality, preset.delivery.format);
        if (!quality) return tl::unexpected(quality.error());
        preset.delivery.quality = *quality;
    }
    if (options.depth >= 0) preset.delivery.depth = options.depth;
    if (options.alpha) preset.delivery.alpha = true;
    if (!options.sound.empty()) {
        const auto codec = soundById(options.sound);
        if (!codec)
            return fail(ErrorCode::BadInput, "there is no sound codec " + options.sound, {},
                        "use aac, opus, pcm16, pcm24 or flac");
        preset.delivery.soundCodec = *codec;
    }
    if (options.noSound) preset.sound = false;
    if (!options.enlarging.empty()) preset.enlarging = *enlargingByName(options.enlarging);
    if (!options.rate.empty()) {
        const auto rate = rateFromText(options.rate);
        if (!rate) return tl::unexpected(rate.error());
        preset.rate = *rate;
    }
    const auto decided = settled(preset.delivery, options.out);
    if (!decided) return tl::unexpected(decided.error());
    settings = settingsOf(preset, project);
    if (preset.scale == 1 && preset.shortSide == 0) settings.size = {}; // what does not fit is told, not changed
    settings.path = options.out;
    settings.force = options.force;
    if (!options.size.empty()) {
        const auto size = sizeFromText(options.size);
        if (!size) return tl::unexpected(size.error());
        settings.size = *size;
    }
    if (!options.frames.empty()) {
        const auto range = rangeFromText(options.frames);
        if (!range) return tl::unexpected(range.error());
        settings.from = range->first;
        settings.to = range->second + 1;
    }
    return settings;
}

int runRender(const RenderOptions& options) {
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    const auto settings = settingsFrom(options, *project);
    if (!settings) return complain(settings.error());
    if (auto may = mayExport(*project, *settings, options.project); !may) return complain(may.error());
    if (options.chunks) {
        const auto plan = planExport(*project, *settings);
        if (!plan) return complain(plan.error());
        say("{}\n", plan->chunks());
        return Fine;
    }
    SourcePool pool(exportPoolBytes); // the export raises it to what it needs
    if (options.chunk >= 0) {
        const auto report = exportChunk(*project, *settings, options.chunk, pool, shown(options));
        if (!report) return complain(report.error());
        if (report->frames == 0)
            say("{}: chunk {} is there already\n", options.out, options.chunk);
        else
            say("{}: chunk {}, {} frames in {:.1f} s\n", options.out, options.chunk, report->frames, report->seconds);
        return Fine;
    }
    const auto report = exportReel(*project, *settings, pool, shown(options));
    if (!report) return complain(report.error());
    tell(options.out, *report);
    say("{}: {} frames in {:.1f} s\n", options.out, report->frames, report->seconds);
    return Fine;
}

int runJoin(const RenderOptions& options) {
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    const auto settings = settingsFrom(options, *project);
    if (!settings) return complain(settings.error());
    if (auto may = mayExport(*project, *settings, options.project); !may) return complain(may.error());
    const auto report = joinChunks(*project, *settings, shown(options));
    if (!report) return complain(report.error());
    tell(options.out, *report);
    say("{}: {} frames joined in {:.1f} s\n", options.out, report->frames, report->seconds);
    return Fine;
}

int runParts(const PartsOptions& options) {
    auto project = openProject(options.render.project);
    if (!project) return complain(project.error());
    const auto settings = settingsFrom(options.render, *project);
    if (!settings) return complain(settings.error());
    PartsSettings parts;
    static_cast<ExportSettings&>(parts) = *settings;
    parts.handles = options.handles;
    if (options.cuts != "all") {
        auto cuts = cutsFromText(options.cuts, cutCount(*project));
        if (!cuts) return complain(cuts.error());
        parts.cuts = *cuts;
    }
    SourcePool pool(exportPoolBytes);
    const auto report = exportParts(*project, parts, pool, shown(options.render));
    if (!report) return complain(report.error());
    for (const Part& part : report->parts)
        say("{}: cut {}, in place of frames {} to {}, with {} and {} frames beside them\n", part.path.string(),
            part.cut + 1, part.from, part.to - 1, part.from - part.fileFrom, part.fileTo - part.to);
    say("{}\n{}\n", report->timeline.string(), report->list.string());
    for (const std::string& note : report->notes) warn("{}\n", note);
    return Fine;
}

int runMovementData(const RenderOptions& options) {
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    std::int64_t from = 0, to = reelLength(*project);
    if (!options.frames.empty()) {
        const auto range = rangeFromText(options.frames);
        if (!range) return complain(range.error());
        if (range->first < 0 || range->second >= to || range->first > range->second)
            return complain({ErrorCode::BadInput, "these frames are not in the reel", options.frames,
                             fmt::format("its frames are 0 to {}", to - 1)});
        from = range->first, to = range->second + 1;
    }
    if (auto done = writeMovement(*project, options.out, from, to, options.force); !done) return complain(done.error());
    say("{}: {} frames\n", options.out, to - from);
    return Fine;
}

int runLadder(const RenderOptions& options, int cut, int frames, int height) {
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    LadderSettings ladder;
    ladder.cut = cut - 1;
    ladder.before = frames / 2;
    ladder.after = frames - ladder.before;
    ladder.height = height;
    SourcePool pool(exportPoolBytes);
    if (auto done = writeLadder(*project, ladder, options.out, pool); !done) return complain(done.error());
    say("{}\n", options.out);
    return Fine;
}

int runFormats(bool asJson) {
    json out = {{"formats", json::array()}, {"presets", json::array()}};
    for (const FormatInfo& f : deliveryFormats()) {
        json qualities = json::array(), sounds = json::array();
        std::string levels, codecs;
        for (const QualityLevel& q : f.qualities) {
            qualities.push_back(q.id);
            levels += (levels.empty() ? "" : ", ") + std::string(q.id);
        }
        for (const SoundCodec c : f.sounds) {
            sounds.push_back(idOf(c));
            codecs += (codecs.empty() ? "" : ", ") + std::string(idOf(c));
        }
        out["formats"].push_back({{"id", f.id},
                                  {"name", f.name},
                                  {"ending", f.ending},
                                  {"bits", f.depths},
                                  {"alphaBits", f.alphaDepths},
                                  {"qualities", qualities},
                                  {"sounds", sounds},
                                  {"chunks", f.chunked}});
        if (!asJson)
            say("{:8} {:22} {:6} {}{}{}\n", f.id, f.name, f.ending,
                f.depths.empty() ? "" : fmt::format("{} bit", fmt::join(f.depths, "/")),
                f.alphaDepths.empty() ? "" : ", alpha",
                (levels.empty() ? "" : "; quality " + levels) + (codecs.empty() ? "" : "; sound " + codecs));
    }
    std::vector<std::string> problems;
    const auto presets = allPresets(presetFolder(), &problems);
    for (const ExportPreset& p : presets) out["presets"].push_back({{"name", p.name}, {"note", p.note}});
    if (asJson) {
        sayJson(jsonText(out));
    } else {
        say("\n");
        for (const ExportPreset& p : presets) say("preset   {:22} {}\n", p.name, p.note);
    }
    for (const std::string& problem : problems) warn("virga-cli: {}\n", problem);
    return Fine;
}

} // namespace virga::cli
