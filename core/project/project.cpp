#include "core/project/project.h"

#include <algorithm>
#include <cctype>
#include <charconv>

namespace virga {

const Media* findMedia(const Project& project, const std::string& id) {
    // Media are numbered as they come ("media-12") and keep their order: it lies at its number's place, or before it
    // where others were taken out. Elsewhere only where a file was written by another hand.
    const auto& media = project.media;
    std::size_t number = 0, at = id.size();
    for (std::size_t ten = 1; at > 0 && std::isdigit(static_cast<unsigned char>(id[at - 1])) && ten < 100000000;
         ten *= 10)
        number += std::size_t(id[--at] - '0') * ten;
    const std::size_t likely = std::min(number, media.size());
    for (std::size_t i = likely; i-- > 0;)
        if (media[i].id == id) return &media[i];
    for (std::size_t i = likely; i < media.size(); ++i)
        if (media[i].id == id) return &media[i];
    return nullptr;
}

std::int64_t clipStart(const Project& project, int clip) {
    std::int64_t at = 0;
    for (int i = 0; i < clip && i < int(project.reel.size()); ++i) at += project.reel[std::size_t(i)].length;
    return at;
}

std::vector<std::int64_t> clipStarts(const Project& project) {
    std::vector<std::int64_t> starts = {0};
    starts.reserve(project.reel.size() + 1);
    for (const Clip& clip : project.reel) starts.push_back(starts.back() + clip.length);
    return starts;
}

std::int64_t reelLength(const Project& project) {
    return clipStart(project, int(project.reel.size()));
}

ReelIndex reelIndex(const Project& project) {
    ReelIndex index{clipStarts(project)};
    for (const Clip& c : project.reel) {
        index.mostBefore = std::max(index.mostBefore, c.transition.overlap.before);
        index.mostAfter = std::max(index.mostAfter, c.transition.overlap.after);
    }
    return index;
}

int clipAt(const Project& project, std::int64_t frame) {
    if (frame < 0) return -1;
    std::int64_t end = 0;
    for (int i = 0; i < int(project.reel.size()); ++i)
        if (frame < (end += project.reel[std::size_t(i)].length)) return i;
    return -1;
}

EdgeFill edgesOf(const Project& project, const Clip& clip) {
    return clip.edges.value_or(project.settings.edges);
}

std::int64_t musicLength(const Project& project, const Music& music) {
    const Media* media = findMedia(project, music.mediaId);
    const auto whole =
        media && media->duration > Rational(0)
            ? std::max<std::int64_t>(0, floorToInteger((media->duration - music.sourceIn) * project.settings.rate))
            : reelLength(project);
    return music.length > 0 ? std::min(music.length, whole) : whole;
}

SeenFrames seenFrames(const Project& project, int clip) {
    SeenFrames seen{0, project.reel[std::size_t(clip)].length};
    if (hasCut(project, clip - 1)) seen.from -= transitionAt(project, clip - 1).overlap.before;
    if (hasCut(project, clip)) seen.to += transitionAt(project, clip).overlap.after;
    return seen;
}

std::vector<SpareShortage> spareShortages(const Project& project) {
    std::vector<SpareShortage> found;
    for (int cut = 0; cut < cutCount(project); ++cut) {
        const Overlap& overlap = transitionAt(project, cut).overlap;
        const auto out = spareFrames(project, project.reel[std::size_t(cut)]).after;
        const auto in = spareFrames(project, project.reel[std::size_t(cut) + 1]).before;
        if (overlap.after > out) found.push_back({cut, Side::Outgoing, overlap.after, out});
        if (overlap.before > in) found.push_back({cut, Side::Incoming, overlap.before, in});
    }
    return found;
}

std::string freshId(const Project& project, const std::string& prefix) {
    long highest = 0;
    const auto see = [&](const std::string& id) {
        if (!id.starts_with(prefix)) return;
        long number = 0;
        const auto [end, ec] = std::from_chars(id.data() + prefix.size(), id.data() + id.size(), number);
        if (ec == std::errc() && end == id.data() + id.size()) highest = std::max(highest, number);
    };
    const auto seeStack = [&](const Stack& stack) {
        for (const auto& m : stack) see(m.id);
    };
    const auto seeClip = [&](const Clip& c) {
        see(c.id);
        seeStack(c.drift);
        seeStack(c.transition.moves);
    };
    for (const auto& m : project.media) see(m.id);
    for (const auto& m : project.music) see(m.id);
    for (const auto& m : project.markers) see(m.id);
    for (const auto& c : project.reel) seeClip(c);
    for (const auto& o : project.overlays) seeClip(o.clip);
    for (const auto& a : project.adjustments) {
        see(a.id);
        seeStack(a.moves);
    }
    return prefix + std::to_string(highest + 1);
}

SubjectSpot spotAt(const Subject& subject, Rational time) {
    const auto& path = subject.path;
    if (path.empty()) return {time, subject.at, subject.size, subject.angle, true};
    const auto after = std::upper_bound(path.begin(), path.end(), time,
                                        [](Rational t, const SubjectSpot& spot) { return t < spot.time; });
    if (after == path.begin()) return path.front();
    const SubjectSpot& a = *std::prev(after);
    if (after == path.end() || a.time == time) return a;
    const double part = (time - a.time).toDouble() / (after->time - a.time).toDouble();
    const auto between = [part](auto from, auto to) { return from + (to - from) * part; };
    return {time, between(a.at, after->at), between(a.size, after->size), between(a.angle, after->angle), false};
}

} // namespace virga
