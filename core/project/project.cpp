#include "core/project/project.h"

#include <algorithm>
#include <charconv>

namespace virga {

const Media* findMedia(const Project& project, const std::string& id) {
    for (const Media& m : project.media)
        if (m.id == id) return &m;
    return nullptr;
}

std::int64_t clipStart(const Project& project, int clip) {
    std::int64_t at = 0;
    for (int i = 0; i < clip && i < int(project.reel.size()); ++i) at += project.reel[std::size_t(i)].length;
    return at;
}

std::int64_t reelLength(const Project& project) {
    return clipStart(project, int(project.reel.size()));
}

int clipAt(const Project& project, std::int64_t frame) {
    if (frame < 0) return -1;
    std::int64_t end = 0;
    for (int i = 0; i < int(project.reel.size()); ++i)
        if (frame < (end += project.reel[std::size_t(i)].length)) return i;
    return -1;
}

int nearestCut(const Project& project, std::int64_t frame) {
    int best = -1;
    std::int64_t nearest = INT64_MAX, at = 0;
    for (int cut = 0; cut < cutCount(project); ++cut) {
        at += project.reel[std::size_t(cut)].length;
        if (std::abs(at - frame) < nearest) nearest = std::abs(at - frame), best = cut;
    }
    return best;
}

EdgeFill edgesOf(const Project& project, const Clip& clip) {
    return clip.edges.value_or(project.settings.edges);
}

Spare spareFrames(const Project& project, const Clip& clip) {
    const Media* media = findMedia(project, clip.mediaId);
    if (!media) return {};
    if (media->still) return {1000000, 1000000};
    const auto rate = project.settings.rate;
    const Rational end = clip.sourceIn + Rational(clip.length) / rate;
    return {std::max<std::int64_t>(0, floorToInteger(clip.sourceIn * rate)),
            std::max<std::int64_t>(0, floorToInteger((media->duration - end) * rate))};
}

std::string freshId(const Project& project, const std::string& prefix) {
    long highest = 0;
    const auto see = [&](const std::string& id) {
        if (!id.starts_with(prefix)) return;
        long number = 0;
        const auto [end, ec] = std::from_chars(id.data() + prefix.size(), id.data() + id.size(), number);
        if (ec == std::errc() && end == id.data() + id.size()) highest = std::max(highest, number);
    };
    for (const auto& m : project.media) see(m.id);
    for (const auto& m : project.music) see(m.id);
    for (const auto& c : project.reel) {
        see(c.id);
        for (const auto& m : c.drift) see(m.id);
        for (const auto& m : c.transition.moves) see(m.id);
    }
    return prefix + std::to_string(highest + 1);
}

} // namespace virga
