#include "core/encode/delivery_format.h"

#include <algorithm>
#include <fmt/format.h>

namespace virga {

namespace {

using enum SoundCodec;

// Rate factors that look alike: x265's is about 4 above x264's, VP9's and AV1's scales reach to 63 (the encoders' own
// guides; the levels themselves are common practice).
std::vector<FormatInfo> table() {
    using F = DeliveryFormat;
    return {
        {.format = F::H264,
         .id = "h264",
         .name = "H.264 in MP4",
         .ending = ".mp4",
         .told = "For uploads and for every player",
         .depths = {8, 10},
         .qualities = {{"very-good", "very good, for handing on", 16},
                       {"good", "good, smaller, for sharing", 21},
                       {"small", "small, for a quick look", 27}},
         .leastQuality = 0,
         .mostQuality = 51,
         .sounds = {Aac},
         .most = 8192,
         .multiple = 2,
         .reorders = true},
        {.format = F::H265,
         .id = "h265",
         .name = "H.265 in MP4",
         .ending = ".mp4",
         .told = "Half the size of H.264; takes several times as long",
         .depths = {8, 10},
         .qualities = {{"very-good", "very good, for handing on", 19},
                       {"good", "good, smaller, for sharing", 24},
                       {"small", "small, for a quick look", 30}},
         .leastQuality = 0,
         .mostQuality = 51,
         .sounds = {Aac},
         .most = 8192,
         .multiple = 2,
         .reorders = true},
        {.format = F::Vp9,
         .id = "vp9",
         .name = "VP9 in WebM",
         .ending = ".webm",
         .told = "For web pages; can be seen through",
         .depths = {8, 10},
         .alphaDepths = {8},
         .qualities = {{"very-good", "very good, for handing on", 20},
                       {"good", "good, smaller, for sharing", 30},
                       {"small", "small, for a quick look", 40}},
         .leastQuality = 0,
         .mostQuality = 63,
         .sounds = {Opus},
         .multiple = 2},
        {.format = F::Av1,
         .id = "av1",
         .name = "AV1 in WebM",
         .ending = ".webm",
         .told = "The smallest files for web pages",
         .depths = {8, 10},
         .qualities = {{"very-good", "very good, for handing on", 22},
                       {"good", "good, smaller, for sharing", 32},
                       {"small", "small, for a quick look", 44}},
         .leastQuality = 0,
         .mostQuality = 63,
         .sounds = {Opus},
         .least = 64,
         .most = 8192,
         .multiple = 2},
        {.format = F::ProRes,
         .id = "prores",
         .name = "ProRes in MOV",
         .ending = ".mov",
         .told = "For editing on; 4444 can be seen through",
         .depths = {10},
         .alphaDepths = {10},
         .qualities = {{"4444", "4444", 4}, {"hq", "422 HQ", 3}, {"422", "422", 2}, {"lt", "422 LT", 1}},
         .sounds = {Pcm24, Pcm16, Aac},
         .most = 8192,
         .multiple = 2},
        {.format = F::Dnxhr,
         .id = "dnxhr",
         .name = "DNxHR in MOV",
         .ending = ".mov",
         .told = "For editing on",
         .depths = {10, 8},
         .qualities =
             {{"444", "444", 5, 10}, {"hqx", "HQX", 4, 10}, {"hq", "HQ", 3, 8}, {"sq", "SQ", 2, 8}, {"lb", "LB", 1, 8}},
         .sounds = {Pcm24, Pcm16, Aac},
         .least = 256,
         .most = 8192,
         .leastHeight = 120,
         .multiple = 2},
        {.format = F::Ffv1,
         .id = "ffv1",
         .name = "FFV1 in Matroska",
         .ending = ".mkv",
         .told = "Lossless, for keeping; pictures are made in 15-bit light, so 12 and 16 bits hold what 10 to 11 do in "
                 "the darks",
         .depths = {8, 10, 12, 16},
         .alphaDepths = {8, 10, 12, 16},
         .sounds = {Flac, Pcm24, Pcm16}},
        {.format = F::Png,
         .id = "png",
         .name = "PNG pictures",
         .ending = ".png",
         .told = "A lossless file a frame; 16 bits are made in 15-bit light and hold what 10 to 11 do in the darks",
         .depths = {8, 16},
         .alphaDepths = {8, 16},
         .sounds = {Pcm24, Pcm16},
         .least = 1,
         .sequence = true},
        {.format = F::Tiff,
         .id = "tiff",
         .name = "TIFF pictures",
         .ending = ".tif",
         .told = "A lossless file a frame; 16 bits are made in 15-bit light and hold what 10 to 11 do in the darks",
         .depths = {8, 16},
         .alphaDepths = {8, 16},
         .sounds = {Pcm24, Pcm16},
         .least = 1,
         .sequence = true},
        {.format = F::Exr,
         .id = "exr",
         .name = "OpenEXR pictures",
         .ending = ".exr",
         .told = "Linear light in half floats, for compositing; made in 15-bit light, from 0 to 1",
         .depths = {16},
         .alphaDepths = {16},
         .sounds = {Pcm24, Pcm16},
         .least = 1,
         .sequence = true},
        {.format = F::Gif,
         .id = "gif",
         .name = "GIF, looping",
         .ending = ".gif",
         .told = "For messages; 256 colours a frame",
         .depths = {8},
         .alphaDepths = {8},
         .qualities = {{"usual", "256 colours", 256}},
         .leastQuality = 2,
         .mostQuality = 256,
         .chunked = false},
        {.format = F::Webp,
         .id = "webp",
         .name = "WebP, looping",
         .ending = ".webp",
         .told = "For messages; smaller and better than GIF",
         .depths = {8},
         .alphaDepths = {8},
         .qualities = {{"very-good", "very good", 92}, {"good", "good, smaller", 80}, {"small", "small", 55}},
         .leastQuality = 0,
         .mostQuality = 100,
         .most = 16382, // WebP's own
         .chunked = false},
        {.format = F::Wav,
         .id = "wav",
         .name = "WAV, the sound alone",
         .ending = ".wav",
         .told = "The mix, for sound programs",
         .sounds = {Pcm24, Pcm16},
         .chunked = false},
    };
}

struct SoundName {
    SoundCodec codec;
    const char *id, *name;
};
constexpr SoundName soundNames[] = {{Aac, "aac", "AAC"},
                                    {Opus, "opus", "Opus"},
                                    {Pcm16, "pcm16", "PCM, 16 bit"},
                                    {Pcm24, "pcm24", "PCM, 24 bit"},
                                    {Flac, "flac", "FLAC"}};

bool has(const std::vector<int>& list, int value) {
    return std::find(list.begin(), list.end(), value) != list.end();
}

std::string listed(const std::vector<int>& values) {
    return fmt::format("{}", fmt::join(values, ", "));
}

} // namespace

const std::vector<FormatInfo>& deliveryFormats() {
    static const auto formats = table();
    return formats;
}

const FormatInfo& infoOf(DeliveryFormat format) {
    return deliveryFormats()[std::size_t(format)];
}

const FormatInfo* formatById(std::string_view id) {
    for (const FormatInfo& f : deliveryFormats())
        if (id == f.id) return &f;
    return nullptr;
}

const FormatInfo* formatByEnding(std::string_view ending) {
    if (ending == ".tiff") ending = ".tif";
    for (const FormatInfo& f : deliveryFormats())
        if (ending == f.ending) return &f;
    return nullptr;
}

bool hasQuality(const FormatInfo& info, int value) {
    if (info.mostQuality > 0) return value >= info.leastQuality && value <= info.mostQuality;
    return std::any_of(info.qualities.begin(), info.qualities.end(),
                       [&](const QualityLevel& q) { return q.value == value; });
}

std::string qualitiesOf(const FormatInfo& info) {
    if (info.qualities.empty()) return "leave it out: it is lossless";
    std::string text = "use ";
    for (std::size_t i = 0; i < info.qualities.size(); ++i)
        text += (i == 0 ? "" : i + 1 == info.qualities.size() ? " or " : ", ") + std::string(info.qualities[i].id);
    if (info.mostQuality > 0) text += fmt::format(", or a number from {} to {}", info.leastQuality, info.mostQuality);
    return text;
}

const char* idOf(SoundCodec codec) {
    return soundNames[std::size_t(codec)].id;
}
const char* nameOf(SoundCodec codec) {
    return soundNames[std::size_t(codec)].name;
}
std::optional<SoundCodec> soundById(std::string_view id) {
    for (const SoundName& s : soundNames)
        if (id == s.id) return s.codec;
    return {};
}

Expected<DeliverySettings> settled(const DeliverySettings& settings, const std::string& place) {
    const FormatInfo& info = infoOf(settings.format);
    DeliverySettings out = settings;
    const auto& sounds = info.sounds;
    if (!sounds.empty() && std::find(sounds.begin(), sounds.end(), out.soundCodec) == sounds.end())
        out.soundCodec = sounds.front();
    if (!info.hasPictures()) {
        out.quality = out.depth = 0;
        out.alpha = false;
        return out;
    }
    if (out.alpha && info.alphaDepths.empty())
        return fail(ErrorCode::BadInput, fmt::format("{} cannot be seen through", info.name), place,
                    "use ProRes 4444, VP9, FFV1, PNG, TIFF, OpenEXR or WebP, or export without alpha");
    if (out.quality < 0) out.quality = info.qualities.empty() ? 0 : info.qualities.front().value;
    if (out.format == DeliveryFormat::ProRes ||
        out.format == DeliveryFormat::Dnxhr) { // profiles; the others are scales
        const auto level = std::find_if(info.qualities.begin(), info.qualities.end(),
                                        [&](const QualityLevel& q) { return q.value == out.quality; });
        if (level == info.qualities.end())
            return fail(ErrorCode::BadInput, fmt::format("{} has no quality {}", info.name, out.quality), place,
                        qualitiesOf(info));
        if (level->depth > 0) out.depth = level->depth;
        if (out.alpha && out.format == DeliveryFormat::ProRes && out.quality != 4)
            return fail(ErrorCode::BadInput, fmt::format("ProRes {} cannot be seen through", level->name), place,
                        "use 4444");
    } else if (!info.qualities.empty() && !hasQuality(info, out.quality)) {
        return fail(ErrorCode::BadInput, fmt::format("{} has no quality {}", info.name, out.quality), place,
                    qualitiesOf(info));
    }
    if (out.depth == 0) out.depth = out.alpha ? info.alphaDepths.front() : info.depths.front();
    if (!has(info.depths, out.depth))
        return fail(ErrorCode::BadInput, fmt::format("{} cannot have {} bits here", info.name, out.depth), place,
                    fmt::format("use {}", listed(info.depths)));
    if (out.alpha && !has(info.alphaDepths, out.depth))
        return fail(ErrorCode::BadInput, fmt::format("{} cannot be seen through with {} bits", info.name, out.depth),
                    place, fmt::format("use {}", listed(info.alphaDepths)));
    return out;
}

Size nearestSize(Size size, DeliveryFormat format) {
    const FormatInfo& info = infoOf(format);
    const auto side = [&](int v, int least) {
        return std::clamp((v + info.multiple / 2) / info.multiple * info.multiple, least,
                          info.most / info.multiple * info.multiple);
    };
    return {side(size.width, info.least), side(size.height, info.leastHeight > 0 ? info.leastHeight : info.least)};
}

Expected<void> fits(Size size, DeliveryFormat format, const std::string& place) {
    const Size near = nearestSize(size, format);
    if (near == size) return {};
    const FormatInfo& info = infoOf(format);
    return fail(ErrorCode::BadInput,
                fmt::format("{} cannot have pictures of {} x {}", info.name, size.width, size.height), place,
                fmt::format("use {} sides, widths from {} and heights from {} to {}, such as {} x {}",
                            info.multiple == 2 ? "even" : "whole", info.least,
                            info.leastHeight > 0 ? info.leastHeight : info.least, info.most, near.width, near.height));
}

PixelKind pixelsFor(const DeliverySettings& settings) {
    switch (settings.format) {
    case DeliveryFormat::Exr:
        return PixelKind::Light;
    case DeliveryFormat::Ffv1:
    case DeliveryFormat::Png:
    case DeliveryFormat::Tiff:
    case DeliveryFormat::Gif:
    case DeliveryFormat::Webp:
        if (settings.depth == 8) return settings.alpha ? PixelKind::Light : PixelKind::Coded8;
        [[fallthrough]];
    default:
        return settings.alpha ? PixelKind::Light : PixelKind::Coded16;
    }
}

} // namespace virga
