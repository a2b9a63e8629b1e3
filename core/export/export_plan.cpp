#include "core/export/export_plan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/audio/audio_mix.h"
#include "core/base/fingerprint.h"
#include "core/base/hash.h"
#include "core/base/json.h"
#include "core/base/timecode.h"
#include "core/edit/piece_edits.h"
#include "core/project/project_json.h"

namespace virga {

namespace {

// Of a reel frame: by the piece's own timecode, else by the first shot's; empty where neither has one.
std::string timecodeAt(const Project& project, std::int64_t frame) {
    const FrameRate rate = project.settings.rate;
    if (project.settings.startFrame) return timecodeOfFrame(*project.settings.startFrame + frame, rate);
    const Clip& first = project.reel.front();
    const Media* media = findMedia(project, first.mediaId);
    if (!media || media->timecode == Rational(0)) return {};
    return timecodeOfFrame(roundToInteger((media->timecode + first.sourceIn) * rate) + frame, rate);
}

// Bits a pixel of moving pictures, rather too many (common practice; measured on the demo where it could be).
double bitsPerPixel(const EncoderSettings& e) {
    const double alpha = e.alpha ? 1.25 : 1, deep = e.depth > 8 ? e.depth / 8.0 : 1;
    const double scale = std::pow(2, (16 - e.quality) / 6.0); // of rate factors: half for six steps more
    switch (e.format) {
    case DeliveryFormat::H264:
        return 0.5 * scale;
    case DeliveryFormat::H265:
        return 0.4 * std::pow(2, (19 - e.quality) / 6.0);
    case DeliveryFormat::Vp9:
        return 0.5 * std::pow(2, (20 - e.quality) / 9.0) * alpha;
    case DeliveryFormat::Av1:
        return 0.4 * std::pow(2, (22 - e.quality) / 9.0);
    case DeliveryFormat::ProRes:
        return (e.quality == 4 ? 6.5 : e.quality == 3 ? 4.4 : e.quality == 2 ? 3 : 2) * alpha;
    case DeliveryFormat::Dnxhr:
        return e.quality == 5 ? 8.6 : e.quality >= 3 ? 4.3 : e.quality == 2 ? 2.8 : 0.9;
    case DeliveryFormat::Ffv1:
        return 13 * deep * alpha;
    case DeliveryFormat::Png:
        return 16 * deep * deep * alpha;
    case DeliveryFormat::Tiff:
        return 20 * deep * alpha;
    case DeliveryFormat::Exr:
        return 36 * alpha;
    case DeliveryFormat::Gif:
        return 6;
    case DeliveryFormat::Webp:
        return 1.5 * alpha;
    case DeliveryFormat::Wav:
        break;
    }
    return 0;
}

std::uint64_t soundBytesPerSecond(const EncoderSettings& e) {
    switch (e.soundCodec) {
    case SoundCodec::Pcm16:
        return 192000;
    case SoundCodec::Pcm24:
    case SoundCodec::Flac:
        return 288000;
    default:
        return 33000;
    }
}

} // namespace

int ExportPlan::chunks() const {
    return encoder.chunk > 0 ? int((frames() + encoder.chunk - 1) / encoder.chunk) : 1;
}

std::int64_t ExportPlan::chunkFrom(int chunk) const {
    return encoder.chunk > 0 ? std::min(to, from + chunk * encoder.chunk) : chunk > 0 ? to : from;
}

Expected<ExportPlan> planExport(const Project& project, const ExportSettings& settings) {
    const std::string place = settings.path.string();
    const auto length = reelLength(project);
    if (length == 0) return fail(ErrorCode::BadInput, "the reel is empty", {}, "add clips first");
    ExportPlan plan;
    plan.path = settings.path;
    plan.render = settings.render;
    plan.from = settings.from;
    plan.to = settings.to < 0 ? length : settings.to;
    if (plan.from < 0 || plan.to > length || plan.from >= plan.to)
        return fail(ErrorCode::BadInput, fmt::format("frames {} to {} are not in the reel", plan.from, plan.to - 1), {},
                    fmt::format("its frames are 0 to {}", length - 1));
    auto decided = settled(settings, place);
    if (!decided) return tl::unexpected(decided.error());
    EncoderSettings& e = plan.encoder;
    static_cast<DeliverySettings&>(e) = *decided;
    const FormatInfo& info = infoOf(e.format);
    if (settings.rate == FrameRate(0) || settings.rate == project.settings.rate) {
        plan.project = project;
    } else {
        if (!isUsableRate(settings.rate))
            return fail(ErrorCode::BadInput, "the frame rate is not between 1 and 1000", place);
        const Rational scale = settings.rate / project.settings.rate;
        plan.project = withRate(project, settings.rate);
        const auto whole = reelLength(plan.project);
        plan.to = plan.to == length ? whole : std::min(whole, roundToInteger(Rational(plan.to) * scale));
        plan.from = std::min(roundToInteger(Rational(plan.from) * scale), plan.to - 1);
    }
    e.rate = plan.project.settings.rate;
    e.size = settings.size.isEmpty() ? project.settings.size : settings.size;
    if (info.hasPictures())
        if (auto good = fits(e.size, e.format, place); !good) return tl::unexpected(good.error());
    e.keyInterval = int(keyDistance(e.rate));
    e.chunk = info.chunked ? chunkLength(e.rate) : 0;
    e.sound = settings.sound && !info.sounds.empty() && hasSound(plan.project);
    if (!info.hasPictures() && !e.sound)
        return fail(ErrorCode::BadInput, "the piece has no sound", place, "choose another format");
    e.soundLength = sampleOfFrame(plan.to, e.rate) - sampleOfFrame(plan.from, e.rate);
    e.timecode = timecodeAt(plan.project, plan.from);
    e.firstNumber = long(plan.from);
    return plan;
}

std::string jobKey(const ExportPlan& plan) {
    Project project = plan.project;
    Hash hash;
    for (Media& m : project.media) {
        hash.add(std::string_view(contentKeyOf(m.path)));
        m.fingerprint.clear();
        m.path = m.path.filename();
    }
    const EncoderSettings& e = plan.encoder;
    hash.add(jsonText(toJson(project, {}), -1));
    hash.add(fmt::format("{} {} {} {} {}x{} {} {} {} {} {} {}", int(e.format), e.quality, e.depth, e.alpha,
                         e.size.width, e.size.height, e.preset, e.keyInterval, e.chunk, int(plan.render.enlarging),
                         plan.from, plan.to));
    return fmt::format("{:016x}", hash.value());
}

std::vector<std::filesystem::path> resultFiles(const ExportPlan& plan) {
    if (!infoOf(plan.encoder.format).sequence) return {plan.path};
    std::vector<std::filesystem::path> files;
    for (auto n = plan.from; n < plan.to; ++n) files.push_back(picturePath(plan.path, long(n)));
    if (plan.encoder.sound) files.push_back(soundBeside(plan.path));
    return files;
}

std::filesystem::path chunkFolder(const std::filesystem::path& result) {
    return std::filesystem::path(result) += ".chunks";
}

std::vector<std::filesystem::path> chunkPaths(const ExportPlan& plan) {
    const std::string key = jobKey(plan);
    const char* ending = infoOf(plan.encoder.format).sequence ? ".json" : ".nut";
    std::vector<std::filesystem::path> paths;
    for (int k = 0; k < plan.chunks(); ++k)
        paths.push_back(chunkFolder(plan.path) / fmt::format("{:05}-{}{}", k, key, ending));
    return paths;
}

std::uint64_t bytesExpected(const ExportPlan& plan) {
    const double pixels = double(plan.encoder.size.width) * plan.encoder.size.height * double(plan.frames());
    const double seconds = double(plan.frames()) / plan.encoder.rate.toDouble();
    return std::uint64_t(pixels * bitsPerPixel(plan.encoder) / 8) +
           (plan.encoder.sound ? std::uint64_t(seconds * double(soundBytesPerSecond(plan.encoder))) : 0) + 65536;
}

} // namespace virga
