#include "core/export/check_result.h"

#include <cmath>
#include <fmt/format.h>

#include "core/audio/audio_reader.h"
#include "core/decode/probe.h"

namespace virga {

namespace {

Expected<void> wrong(const ExportPlan& plan, const std::string& what) {
    return fail(ErrorCode::Unreadable, fmt::format("the finished file is not what was asked for: {}", what),
                plan.path.string(), "it is kept for looking at; export it again, or in another format");
}

Expected<void> checkSound(const ExportPlan& plan, const std::filesystem::path& file) {
    const auto info = probe(file);
    if (!info) return wrong(plan, describe(info.error()));
    if (!info->audio) return wrong(plan, "it has no sound");
    const double want = double(plan.encoder.soundLength) / audioRate, got = info->audio->duration.toDouble();
    if (std::abs(got - want) > 0.06) // a block of AAC, and what Opus puts in front
        return wrong(plan, fmt::format("its sound is {:.3f} s long in place of {:.3f}", got, want));
    return {};
}

} // namespace

Expected<void> checkResult(const ExportPlan& plan) {
    const EncoderSettings& e = plan.encoder;
    const FormatInfo& info = infoOf(e.format);
    if (e.format == DeliveryFormat::Webp) return {};
    if (!info.hasPictures()) return checkSound(plan, plan.path);
    if (info.sequence) {
        for (auto n = plan.from; n < plan.to; ++n)
            if (!std::filesystem::exists(picturePath(plan.path, long(n))))
                return wrong(plan, fmt::format("picture {} is not there", n));
        for (const auto n : {plan.from, plan.to - 1}) {
            const auto one = probe(picturePath(plan.path, long(n)));
            if (!one) return wrong(plan, describe(one.error()));
            if (!one->video || one->video->size != e.size)
                return wrong(plan, fmt::format("picture {} has another size", n));
        }
        return e.sound ? checkSound(plan, soundBeside(plan.path)) : Expected<void>();
    }
    const auto got = probe(plan.path);
    if (!got) return wrong(plan, describe(got.error()));
    if (!got->video) return wrong(plan, "it has no pictures");
    const VideoInfo& v = *got->video;
    if (plan.frames() > 1 && v.frames != plan.frames())
        return wrong(plan, fmt::format("it has {} frames in place of {}", v.frames, plan.frames()));
    if (v.size != e.size) return wrong(plan, fmt::format("its pictures are {} x {}", v.size.width, v.size.height));
    const double length = double(plan.frames()) / e.rate.toDouble();
    const bool coarse = e.format == DeliveryFormat::Gif; // its times are hundredths of a second
    if (plan.frames() > 1 && std::abs(v.duration.toDouble() - length) > (coarse ? 0.05 : 0.5 / e.rate.toDouble()))
        return wrong(plan, fmt::format("it lasts {:.3f} s in place of {:.3f}", v.duration.toDouble(), length));
    if (!coarse && plan.frames() > 2 && std::abs(v.rate.toDouble() / e.rate.toDouble() - 1) > 0.002)
        return wrong(plan, fmt::format("it has {:.3f} frames a second", v.rate.toDouble()));
    const bool coded = pixelsFor(e) == PixelKind::Coded16 && e.format != DeliveryFormat::Ffv1;
    if (coded && (v.matrix != "BT.709" || v.range == "full"))
        return wrong(plan, fmt::format("its colours are marked {}, {} range", v.matrix, v.range));
    return e.sound ? checkSound(plan, plan.path) : Expected<void>();
}

} // namespace virga
