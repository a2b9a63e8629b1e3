#include "core/edit/found_cuts.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"

namespace virga {

Parted partedAtCuts(const Project& project, const Media& media, const std::vector<CutTimes>& cuts) {
    if (cuts.empty()) return {project, int(project.reel.size()), 0};
    Project next = project;
    int place = int(next.reel.size());
    std::optional<Clip> whole;
    for (int i = 0; i < int(next.reel.size()) && !whole; ++i) {
        const Clip& c = next.reel[std::size_t(i)];
        if (c.mediaId != media.id || c.speed != Rational(1) || c.sourceIn != Rational(0)) continue;
        if (spareFrames(next, c).after > 0) continue;
        whole = c;
        place = i;
    }
    SharedList<Clip> parts;
    Clip pattern = whole ? *whole : clipFor(next, media);
    if (next.reel.empty() && !media.still && isUsableRate(media.rate)) {
        next.settings.size = {(media.size.width + 1) / 2 * 2, (media.size.height + 1) / 2 * 2};
        next.settings.rate = media.rate;
        pattern = clipFor(next, media);
    }
    const auto frameOf = [&](Rational seconds) { return roundToInteger(seconds * next.settings.rate); };
    std::int64_t from = 0;
    for (std::size_t i = 0; i <= cuts.size(); ++i) {
        const auto to = i < cuts.size() ? std::min(frameOf(cuts[i].at), pattern.length) : pattern.length;
        if (to <= from) continue; // two cuts within one frame of the piece
        Clip clip = pattern;
        clip.sourceIn = Rational(from) / next.settings.rate;
        clip.length = to - from;
        clip.name = fmt::format("{} {:02}", mediaName(media.path), parts.size() + 1);
        if (!parts.empty()) {
            clip.transition = {};
            if (i > 0) {
                const CutTimes& cut = cuts[i - 1];
                clip.transition.overlap = {frameOf(cut.at) - frameOf(cut.begin), frameOf(cut.end) - frameOf(cut.at)};
            }
        }
        parts.push_back(std::move(clip));
        from = to;
    }
    if (whole) next = withoutClip(next, place);
    const int count = int(parts.size());
    return {withClipsInserted(next, parts, place), place, count};
}

} // namespace virga
