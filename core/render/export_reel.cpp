#include "core/render/export_reel.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <fmt/format.h>
#include <future>

#include "core/media/encoder.h"
#include "core/render/audio_mix.h"
#include "core/render/bounded_queue.h"
#include "core/render/export_needs.h"

namespace virga {

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
    // Never write over what is being read.
    std::error_code ec;
    for (const Media& media : project.media)
        if (std::filesystem::equivalent(media.path, settings.path, ec))
            return fail(ErrorCode::BadInput, "this file is one of the reel's own shots", settings.path.string(),
                        "choose another name");
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
    auto encoder = Encoder::open(settings.path, e);
    if (!encoder) return tl::unexpected(encoder.error());
    ExportReport report;
    report.mostBytes = needs.all();
    const std::int64_t block = std::max<std::int64_t>(1, roundToInteger(e.rate * 4)); // sound goes in by four seconds
    // Three things at once: the next frames' sources are decoded, this one is rendered, the last ones are encoded.
    const auto encode = [&](std::int64_t n, const Image<Rgba16>& picture) -> Expected<void> {
        if (sound && (n - settings.from) % block == 0)
            if (auto done =
                    (*encoder)->addSound(mixSound(project, n, std::min(n + block, to), &report.problems, cancel));
                !done)
                return done;
        return (*encoder)->addFrame(picture.view());
    };
    using Frame = std::pair<std::int64_t, Image<Rgba16>>;
    BoundedQueue<Frame> rendered(framesAhead);
    BoundedQueue<std::int64_t> fetched(framesAhead);
    std::atomic<std::int64_t> encoded = 0;
    auto fetching = std::async(std::launch::async, [&] {
        for (auto n = settings.from; n < to; ++n) {
            fetchSources(project, n, e.size, settings.render, pool, cancel);
            if (!fetched.give(n)) return;
        }
    });
    auto encoding = std::async(std::launch::async, [&]() -> Expected<void> {
        while (auto frame = rendered.take()) {
            if (auto done = encode(frame->first, frame->second); !done) {
                rendered.close();
                return done;
            }
            ++encoded;
        }
        return {};
    });
    Expected<void> outcome;
    for (auto n = settings.from; n < to; ++n) {
        fetched.take();
        auto picture = renderDeepFrame(project, n, e.size, settings.render, pool, cancel);
        if (!picture) {
            outcome = tl::unexpected(picture.error());
            break;
        }
        if (!rendered.give({n, std::move(*picture)})) break;
        if (progress) progress(n + 1 - settings.from, to - settings.from);
    }
    fetched.close();
    rendered.close();
    fetching.get();
    const auto written = encoding.get();
    if (!outcome) return tl::unexpected(outcome.error());
    if (!written) return tl::unexpected(written.error());
    report.frames = encoded;
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    if (auto done = (*encoder)->finish(); !done) return tl::unexpected(done.error());
    report.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    return report;
}

} // namespace virga
