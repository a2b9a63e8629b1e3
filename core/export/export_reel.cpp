#include "core/export/export_reel.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <future>

#include "core/audio/audio_mix.h"
#include "core/base/bounded_queue.h"
#include "core/base/guard.h"
#include "core/base/sequence_path.h"
#include "core/encode/encoder.h"
#include "core/export/check_result.h"
#include "core/export/chunk_record.h"
#include "core/export/export_needs.h"
#include "core/export/untouched.h"

namespace virga {

namespace {

using Clock = std::chrono::steady_clock;

// In one of the three ways; the others are empty.
struct Picture {
    Image<Rgba8> eight;
    Image<Deep16> deep;
    Image<LinearF> light;
    CodedPicture untouched; // or the file's own
};

struct Fetched {
    FramePlan frame;
    CodedPicture untouched; // else it is rendered
};

double secondsSince(Clock::time_point began) {
    return std::chrono::duration<double>(Clock::now() - began).count();
}

// Sound goes in by four seconds.
std::int64_t soundBlock(FrameRate rate) {
    return std::max<std::int64_t>(1, roundToInteger(rate * 4));
}

Expected<Picture> pictureOf(const ExportPlan& plan, const FramePlan& frame, SourcePool& pool, const Cancel& cancel) {
    Picture picture;
    const auto as = [&](auto made, auto& where) -> Expected<Picture> {
        if (!made) return tl::unexpected(made.error());
        where = std::move(*made);
        return std::move(picture);
    };
    const Size size = plan.encoder.size;
    switch (pixelsFor(plan.encoder)) {
    case PixelKind::Coded8:
        return as(renderPlan(plan.project, frame, size, plan.render, pool, cancel), picture.eight);
    case PixelKind::Coded16:
        return as(renderDeepPlan(plan.project, frame, size, plan.render, pool, cancel), picture.deep);
    case PixelKind::Light:
        break;
    }
    return as(renderLightPlan(plan.project, frame, size, plan.render, pool, cancel), picture.light);
}

template <typename To> Expected<void> give(To& encoder, const Picture& picture) {
    if (picture.untouched) return encoder.addFrame(picture.untouched);
    if (!picture.eight.isEmpty()) return encoder.addFrame(picture.eight.view());
    if (!picture.deep.isEmpty()) return encoder.addFrame(picture.deep.view());
    return encoder.addFrame(picture.light.view());
}

// Three things at once: the next frames' sources are decoded, this one is rendered, the last ones are taken (encoded).
// How many were taken.
Expected<std::int64_t> renderFrames(const ExportPlan& plan, std::int64_t from, std::int64_t to, SourcePool& pool,
                                    const std::function<Expected<void>(std::int64_t, const Picture&)>& take,
                                    const ExportProgress& progress, const Cancel& cancel) {
    using Frame = std::pair<std::int64_t, Picture>;
    BoundedQueue<Frame> rendered(framesAhead);
    BoundedQueue<Fetched> fetched(framesAhead); // planned once, and handed on
    const Project& project = plan.project;
    const ReelIndex index = reelIndex(project);
    std::atomic<std::int64_t> taken = 0;
    // Whatever one of them throws ends its queues, so that the others do not wait for it.
    const std::string place = plan.path.string();
    auto fetching = std::async(std::launch::async, [&]() -> Expected<void> {
        auto done = guarded(place, [&] {
            for (auto n = from; n < to; ++n) {
                Fetched next{planFrame(project, index, n), {}};
                next.untouched = untouchedPicture(plan, next.frame, pool);
                if (!next.untouched) fetchSources(project, next.frame, plan.encoder.size, plan.render, pool, cancel);
                if (!fetched.give(std::move(next))) return;
            }
        });
        fetched.close();
        return done;
    });
    auto encoding = std::async(std::launch::async, [&]() -> Expected<void> {
        auto done = guarded(place, [&]() -> Expected<void> {
            while (auto frame = rendered.take()) {
                if (auto written = take(frame->first, frame->second); !written) return written;
                ++taken;
            }
            return {};
        });
        rendered.close();
        return done;
    });
    Expected<void> outcome = guarded(place, [&]() -> Expected<void> {
        for (auto n = from; n < to; ++n) {
            auto next = fetched.take();
            if (!next) break;
            Expected<Picture> picture = Picture();
            if (next->untouched)
                picture->untouched = std::move(next->untouched);
            else
                picture = pictureOf(plan, next->frame, pool, cancel);
            if (!picture) return tl::unexpected(picture.error());
            if (!rendered.give({n, std::move(*picture)})) break;
            if (progress) progress(n + 1 - from, to - from);
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
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    return taken.load();
}

// The mix, handed to an encoder block by block, before the first frame of each.
class SoundFeed {
public:
    SoundFeed(const ExportPlan& plan, Encoder& encoder, ExportReport& report, const Cancel& cancel)
        : m_plan(plan), m_encoder(encoder), m_report(report), m_cancel(cancel), m_block(soundBlock(plan.encoder.rate)) {
    }
    Expected<void> before(std::int64_t frame) {
        if (!m_plan.encoder.sound || (frame - m_plan.from) % m_block != 0) return {};
        const Mix mix = mixSound(m_plan.project, frame, std::min(frame + m_block, m_plan.to), m_sounds,
                                 &m_report.problems, m_cancel);
        m_loudness = std::min(m_loudness, mix.gain);
        return m_encoder.addSound(mix.stereo);
    }
    void tell() const {
        if (m_loudness < 1) m_report.notes.push_back(limiterNote(m_loudness));
    }

private:
    const ExportPlan& m_plan;
    Encoder& m_encoder;
    ExportReport& m_report;
    const Cancel& m_cancel;
    std::int64_t m_block;
    SoundPool m_sounds;
    float m_loudness = 1; // the limiter's least gain
};

Expected<void> roomFor(const ExportPlan& plan, std::uint64_t bytes) {
    std::error_code ec;
    const auto folder = plan.path.has_parent_path() ? plan.path.parent_path() : std::filesystem::path(".");
    const auto space = std::filesystem::space(folder, ec);
    if (ec || space.available >= bytes) return {};
    return fail(ErrorCode::BadInput,
                fmt::format("it takes about {} MB, and {} MB are free there", bytes >> 20, space.available >> 20),
                plan.path.string(), "free some space, or choose another folder, a smaller size or another format");
}

// What an export may begin with: its name, its memory.
Expected<std::size_t> begin(const Project& project, const ExportSettings& settings, const ExportPlan& plan,
                            SourcePool& pool) {
    if (auto may = mayExport(project, settings); !may) return tl::unexpected(may.error());
    const ExportNeeds needs = exportNeeds(plan);
    const std::size_t free = settings.mostMemory > 0 ? settings.mostMemory : freeMemory();
    if (free > 0 && needs.all() > free)
        return fail(ErrorCode::BadInput,
                    fmt::format("it needs {} MB of memory, and {} MB are free", needs.all() >> 20, free >> 20),
                    settings.path.string(), "choose a smaller size, or close other programs");
    pool.holdAtLeast(needs.sources);
    return needs.all();
}

} // namespace

Output exportOutput(const Project& project, DeliveryFormat format, const std::filesystem::path& projectFile) {
    const FormatInfo& info = infoOf(format);
    Output output{info.hasPictures() ? info.sequence ? "a picture" : "a video" : "sound", {info.ending}, {}};
    if (format == DeliveryFormat::Tiff) output.kinds.push_back(".tiff");
    for (const Media& media : project.media) output.inputs.push_back(media.path);
    if (!projectFile.empty()) output.inputs.push_back(projectFile);
    return output;
}

Expected<void> mayExport(const Project& project, const ExportSettings& settings,
                         const std::filesystem::path& projectFile) {
    const Output output = exportOutput(project, settings.format, projectFile);
    if (!infoOf(settings.format).sequence) return mayWrite(settings.path, output);
    if (settings.path.stem().empty()) return mayWrite(settings.path, output);
    const auto plan = planExport(project, settings); // at the result's rate, as its pictures are counted
    if (!plan) return tl::unexpected(plan.error());
    std::error_code ec;
    const bool anew = std::filesystem::exists(picturePath(plan->path, long(plan->from)), ec);
    for (const std::filesystem::path& file : resultFiles(*plan)) {
        Output one = output;
        if (endingOf(file) == ".wav") {
            one.what = "the sound of an earlier export of these pictures";
            one.kinds = {".wav"};
            one.onlyOwnKind = !settings.force;
            one.isOwn = [anew](const std::filesystem::path&) { return anew; };
        }
        if (auto may = mayWrite(file, one); !may) return may;
    }
    return {};
}

Expected<ExportReport> exportReel(const Project& project, const ExportSettings& settings, SourcePool& pool,
                                  const ExportProgress& progress, const Cancel& cancel) {
    const auto began = Clock::now();
    const auto planned = planExport(project, settings);
    if (!planned) return tl::unexpected(planned.error());
    const ExportPlan& plan = *planned;
    const auto bytes = begin(project, settings, plan, pool);
    if (!bytes) return tl::unexpected(bytes.error());
    if (auto room = roomFor(plan, bytesExpected(plan)); !room) return tl::unexpected(room.error());
    auto encoder = Encoder::open(plan.path, plan.encoder);
    if (!encoder) return tl::unexpected(encoder.error());
    ExportReport report;
    report.mostBytes = *bytes;
    SoundFeed sound(plan, **encoder, report, cancel);
    if (infoOf(plan.encoder.format).hasPictures()) {
        const auto frames = renderFrames(
            plan, plan.from, plan.to, pool,
            [&](std::int64_t n, const Picture& picture) -> Expected<void> {
                if (auto done = sound.before(n); !done) return done;
                return give(**encoder, picture);
            },
            progress, cancel);
        if (!frames) return tl::unexpected(frames.error());
        report.frames = *frames;
    } else {
        for (auto n = plan.from; n < plan.to && !cancel.requested(); ++n) {
            if (auto done = sound.before(n); !done) return tl::unexpected(done.error());
            if (progress) progress(n + 1 - plan.from, plan.frames());
        }
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        report.frames = plan.frames();
    }
    sound.tell();
    if (auto done = (*encoder)->finish(); !done) return tl::unexpected(done.error());
    if (auto good = checkResult(plan); !good) return tl::unexpected(good.error());
    report.seconds = secondsSince(began);
    return report;
}

Expected<ExportReport> exportChunk(const Project& project, const ExportSettings& settings, int chunk, SourcePool& pool,
                                   const ExportProgress& progress, const Cancel& cancel) {
    const auto began = Clock::now();
    const auto planned = planExport(project, settings);
    if (!planned) return tl::unexpected(planned.error());
    const ExportPlan& plan = *planned;
    if (chunk < 0 || chunk >= plan.chunks())
        return fail(ErrorCode::BadInput, fmt::format("there is no chunk {}", chunk), plan.path.string(),
                    fmt::format("chunks are 0 to {}", plan.chunks() - 1));
    const auto bytes = begin(project, settings, plan, pool);
    if (!bytes) return tl::unexpected(bytes.error());
    ExportReport report;
    report.mostBytes = *bytes;
    const auto file = chunkPaths(plan)[std::size_t(chunk)];
    std::error_code ec;
    std::filesystem::create_directory(chunkFolder(plan.path), ec);
    if (ec)
        return fail(ErrorCode::WriteFailed, fmt::format("the folder for chunks cannot be made ({})", ec.message()),
                    chunkFolder(plan.path).string(), "choose another folder");
    if (verifyChunk(plan, chunk, file)) return report;
    std::filesystem::remove(recordOf(file), ec); // what is there is another one, or damaged: it is made anew
    const std::string key = jobKey(plan);
    const auto from = plan.chunkFrom(chunk), to = plan.chunkFrom(chunk + 1);
    if (auto room = roomFor(plan, bytesExpected(plan) / std::uint64_t(plan.chunks())); !room)
        return tl::unexpected(room.error());
    EncoderSettings e = plan.encoder;
    e.firstNumber = long(from);
    auto encoder = ChunkEncoder::open(file, plan.path, e);
    if (!encoder) return tl::unexpected(encoder.error());
    const auto frames = renderFrames(
        plan, from, to, pool, [&](std::int64_t, const Picture& picture) { return give(**encoder, picture); }, progress,
        cancel);
    if (!frames) return tl::unexpected(frames.error());
    report.frames = *frames;
    if (auto done = (*encoder)->finish(); !done) return tl::unexpected(done.error());
    if (jobKey(plan) != key)
        return fail(ErrorCode::BadInput, "a source was changed while the chunk was rendered", file.string(),
                    "render it again");
    if (auto done = writeChunkRecord(plan, chunk, file); !done) return tl::unexpected(done.error());
    report.seconds = secondsSince(began);
    return report;
}

std::vector<int> missingChunks(const ExportPlan& plan) {
    std::vector<int> missing;
    const auto paths = chunkPaths(plan);
    for (std::size_t k = 0; k < paths.size(); ++k)
        if (!std::filesystem::exists(paths[k]) || !std::filesystem::exists(recordOf(paths[k])))
            missing.push_back(int(k));
    return missing;
}

Expected<ExportReport> joinChunks(const Project& project, const ExportSettings& settings,
                                  const ExportProgress& progress, const Cancel& cancel) {
    const auto began = Clock::now();
    const auto planned = planExport(project, settings);
    if (!planned) return tl::unexpected(planned.error());
    const ExportPlan& plan = *planned;
    if (auto may = mayExport(project, settings); !may) return tl::unexpected(may.error());
    if (const auto missing = missingChunks(plan); !missing.empty())
        return fail(ErrorCode::NotFound,
                    missing.size() == 1
                        ? fmt::format("chunk {} is not there yet", missing.front())
                        : fmt::format("{} chunks are not there yet, the first is {}", missing.size(), missing.front()),
                    chunkFolder(plan.path).string(), "render them with --chunk, of the same project and settings");
    const auto paths = chunkPaths(plan);
    std::vector<int> again;
    std::string why;
    for (int k = 0; k < plan.chunks(); ++k)
        if (const auto good = verifyChunk(plan, k, paths[std::size_t(k)]); !good) {
            again.push_back(k);
            if (why.empty()) why = good.error().message;
        }
    if (!again.empty())
        return fail(ErrorCode::BadInput,
                    fmt::format("{} (chunk{} {})", why, again.size() == 1 ? "" : "s", fmt::join(again, ", ")),
                    chunkFolder(plan.path).string(), "render these again with --chunk; nothing was written");
    if (auto room = roomFor(plan, bytesExpected(plan) / 4); !room) return tl::unexpected(room.error());
    auto encoder = Encoder::open(plan.path, plan.encoder);
    if (!encoder) return tl::unexpected(encoder.error());
    ExportReport report;
    SoundFeed sound(plan, **encoder, report, cancel);
    for (int k = 0; k < plan.chunks(); ++k) {
        const auto from = plan.chunkFrom(k), to = plan.chunkFrom(k + 1);
        for (auto n = from; n < to; ++n)
            if (auto done = sound.before(n); !done) return tl::unexpected(done.error());
        if (auto done = (*encoder)->addChunk(paths[std::size_t(k)], to - from); !done)
            return tl::unexpected(done.error());
        if (progress) progress(to - plan.from, plan.frames());
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    }
    sound.tell();
    if (auto done = (*encoder)->finish(); !done) return tl::unexpected(done.error());
    if (auto good = checkResult(plan); !good) return tl::unexpected(good.error());
    removeChunks(plan);
    if (std::error_code ec; std::filesystem::exists(chunkFolder(plan.path), ec))
        report.notes.push_back(
            fmt::format("the folder {} holds other files and was kept", chunkFolder(plan.path).filename().string()));
    report.frames = plan.frames();
    report.seconds = secondsSince(began);
    return report;
}

} // namespace virga
