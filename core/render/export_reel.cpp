#include "core/render/export_reel.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <fmt/format.h>
#include <future>

#include "core/base/guard.h"
#include "core/media/encoder.h"
#include "core/render/audio_mix.h"
#include "core/render/bounded_queue.h"
#include "core/render/export_needs.h"
#include "core/time/timecode.h"

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

} // namespace

Output exportOutput(const Project& project, const std::filesystem::path& projectFile) {
    Output output{"a video", {".mp4"}, {}};
    for (const Media& media : project.media) output.inputs.push_back(media.path);
    if (!projectFile.empty()) output.inputs.push_back(projectFile);
    return output;
}

Expected<ExportReport> exportReel(const Project& project, const ExportSettings& settings, SourcePool& pool,
                                  const std::function<void(std::int64_t, std::int64_t)>& progress,
                                  const Cancel& cancel) {
    const auto began = std::chrono::steady_clock::now();
    const auto length = reelLength(project);
    if (length == 0) return fail(ErrorCode::BadInput, "the reel is empty", {}, "add clips first");
    const auto to = settings.to < 0 ? length : settings.to;
    if (settings.from < 0 || to > length || settings.from >= to)
        return fail(ErrorCode::BadInput, fmt::format("frames {} to {} are not in the reel", settings.from, to - 1), {},
                    fmt::format("its frames are 0 to {}", length - 1));
    if (auto may = mayWrite(settings.path, exportOutput(project)); !may) return tl::unexpected(may.error());
    const ExportNeeds needs = exportNeeds(project, settings);
    const std::size_t free = settings.mostMemory > 0 ? settings.mostMemory : freeMemory();
    if (free > 0 && needs.all() > free)
        return fail(ErrorCode::BadInput,
                    fmt::format("it needs {} MB of memory, and {} MB are free", needs.all() >> 20, free >> 20),
                    settings.path.string(), "choose a smaller size, or close other programs");
    pool.holdAtLeast(needs.sources);
    const bool sound = settings.sound && hasSound(project);
    EncoderSettings e;
    e.size = settings.size.isEmpty() ? project.settings.size : settings.size;
    e.rate = project.settings.rate;
    e.quality = settings.quality;
    e.depth = settings.depth;
    e.sound = sound;
    e.soundLength = sampleOfFrame(to, e.rate) - sampleOfFrame(settings.from, e.rate);
    e.timecode = timecodeAt(project, settings.from);
    auto encoder = Encoder::open(settings.path, e);
    if (!encoder) return tl::unexpected(encoder.error());
    ExportReport report;
    report.mostBytes = needs.all();
    const std::int64_t block = std::max<std::int64_t>(1, roundToInteger(e.rate * 4)); // sound goes in by four seconds
    // Three things at once: the next frames' sources are decoded, this one is rendered, the last ones are encoded.
    SoundPool sounds;
    float loudness = 1; // the limiter's least gain
    const auto encode = [&](std::int64_t n, const Image<Deep16>& picture) -> Expected<void> {
        if (sound && (n - settings.from) % block == 0) {
            const Mix mix = mixSound(project, n, std::min(n + block, to), sounds, &report.problems, cancel);
            loudness = std::min(loudness, mix.gain);
            if (auto done = (*encoder)->addSound(mix.stereo); !done) return done;
        }
        return (*encoder)->addFrame(picture.view());
    };
    using Frame = std::pair<std::int64_t, Image<Deep16>>;
    BoundedQueue<Frame> rendered(framesAhead);
    BoundedQueue<FramePlan> fetched(framesAhead); // planned once, and handed on
    const ReelIndex index = reelIndex(project);
    std::atomic<std::int64_t> encoded = 0;
    // Whatever one of them throws ends its queues, so that the others do not wait for it.
    const std::string place = settings.path.string();
    auto fetching = std::async(std::launch::async, [&]() -> Expected<void> {
        auto done = guarded(place, [&] {
            for (auto n = settings.from; n < to; ++n) {
                FramePlan plan = planFrame(project, index, n);
                fetchSources(project, plan, e.size, settings.render, pool, cancel);
                if (!fetched.give(std::move(plan))) return;
            }
        });
        fetched.close();
        return done;
    });
    auto encoding = std::async(std::launch::async, [&]() -> Expected<void> {
        auto done = guarded(place, [&]() -> Expected<void> {
            while (auto frame = rendered.take()) {
                if (auto written = encode(frame->first, frame->second); !written) return written;
                ++encoded;
            }
            return {};
        });
        rendered.close();
        return done;
    });
    Expected<void> outcome = guarded(place, [&]() -> Expected<void> {
        for (auto n = settings.from; n < to; ++n) {
            const auto plan = fetched.take();
            if (!plan) break;
            auto picture = renderDeepPlan(project, *plan, e.size, settings.render, pool, cancel);
            if (!picture) return tl::unexpected(picture.error());
            if (!rendered.give({n, std::move(*picture)})) break;
            if (progress) progress(n + 1 - settings.from, to - settings.from);
        }
        return {};
    });
    fetched.close();
    rendered.close();
    const auto read = fetching.get();
    const auto written = encoding.get();
    if (!outcome) return tl::unexpected(outcome.error());
    if (!read) return tl::unexpected(read.error());
    if (!written) return tl::unexpected(written.error());
    report.frames = encoded;
    if (loudness < 1) report.notes.push_back(limiterNote(loudness));
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    if (auto done = (*encoder)->finish(); !done) return tl::unexpected(done.error());
    report.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    return report;
}

} // namespace virga
