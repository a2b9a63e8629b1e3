#include "core/analysis/find_shot.h"

#include <algorithm>

#include "core/analysis/find_cuts.h"
#include "core/decode/video_reader.h"

namespace virga {
namespace {

constexpr double leastSure = 0.75;
constexpr std::int64_t farthest = 64; // pictures that are looked through at each end
constexpr std::int64_t around = 16;   // pictures on both sides of them, by which the finder tells cuts from movement

Expected<std::vector<FoundCut>> cutsWithin(VideoReader& reader, std::int64_t from, std::int64_t to,
                                           const Cancel& cancel) {
    CutFinder finder;
    for (std::int64_t n = from; n <= to; ++n) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        auto picture = reader.read(n);
        if (!picture) return tl::unexpected(picture.error());
        finder.add(*picture);
    }
    std::vector<FoundCut> cuts = finder.finish();
    std::erase_if(cuts, [](const FoundCut& cut) { return cut.confidence < leastSure; });
    for (FoundCut& cut : cuts) cut.picture += from, cut.from += from, cut.to += from;
    return cuts;
}

} // namespace

ClipTime::Span seenOfSource(const Project& project, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const SeenFrames seen = seenFrames(project, clip);
    const ClipTime time(project, c);
    const ClipTime::Span used = time.used();
    const Rational first = time.at(seen.from), end = time.at(seen.to);
    return {std::min({used.from, first, end}), std::max({used.to, first, end})};
}

Rational foreignSeconds(const Project& project, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const ClipTime time(project, c);
    const std::int64_t frames = std::min<std::int64_t>(project.settings.flow.foreignFrames, c.length);
    const auto length = [](Rational a, Rational b) { return a < b ? b - a : a - b; };
    return std::max(length(time.at(0), time.at(frames)), length(time.at(c.length - frames), time.at(c.length)));
}

std::optional<ShotLook> shotLookOf(const Project& project, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const Media* media = findMedia(project, c.mediaId);
    if (!media || !media->hasPicture() || !ClipTime(project, c).runs()) return std::nullopt;
    return ShotLook{media->path, seenOfSource(project, clip), foreignSeconds(project, clip)};
}

Expected<FoundShot> findShot(const std::filesystem::path& path, ClipTime::Span used, Rational most,
                             const Cancel& cancel) {
    auto opened = VideoReader::open(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    VideoReader& reader = **opened;
    if (reader.info().video->still) return FoundShot{};
    const std::int64_t end = reader.indexAt(Rational(std::int64_t(1) << 40));
    const std::int64_t first = reader.indexAt(used.from);
    std::int64_t last = reader.indexAt(used.to);
    if (last > first && reader.timeOf(last) >= used.to) --last;
    const std::int64_t middle = (first + last) / 2;
    const auto reach = [&](std::int64_t n) { return std::min({n, farthest, middle - first}); };
    const std::int64_t head = first + reach(reader.indexAt(used.from + most) - first);
    const std::int64_t tail = last - reach(last - reader.indexAt(used.to - most));
    const std::int64_t from = std::max<std::int64_t>(0, first - around), to = std::min(end, last + around);
    const bool atOnce = head + around >= tail - around;
    auto cuts = cutsWithin(reader, from, atOnce ? to : head + around, cancel);
    if (!cuts) return tl::unexpected(cuts.error());
    if (!atOnce) {
        const auto more = cutsWithin(reader, tail - around, to, cancel);
        if (!more) return tl::unexpected(more.error());
        cuts->insert(cuts->end(), more->begin(), more->end());
    }
    FoundShot shot;
    for (const FoundCut& cut : *cuts) {
        const std::int64_t begins = cut.to, ends = cut.from + 1; // the pictures in between show both shots
        if (begins > first && begins <= head && ends <= head) shot.from = reader.timeOf(begins);
        if (ends > tail && ends <= last && !shot.to) shot.to = reader.timeOf(ends);
    }
    return shot;
}

} // namespace virga
