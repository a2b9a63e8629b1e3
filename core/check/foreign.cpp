// Findings about frames of another shot that were left at a clip's ends.
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/clip_time.h"

namespace virga {
namespace {

struct ForeignFrames {
    std::int64_t head = 0, tail = 0; // of what is seen of the clip
};

// More than the project's limit are meant, and count as none.
ForeignFrames foreignFrames(const Project& project, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const ClipTime time(project, c);
    if (!c.shot || !time.runs()) return {};
    const SeenFrames seen = seenFrames(project, clip);
    const auto isForeign = [&](std::int64_t frame) {
        const Rational at = time.at(frame);
        return (c.shot->from && at < *c.shot->from) || (c.shot->to && at >= *c.shot->to);
    };
    const std::int64_t most =
        std::min<std::int64_t>(project.settings.flow.foreignFrames, (seen.to - seen.from - 1) / 2);
    ForeignFrames found;
    while (found.head <= most && isForeign(seen.from + found.head)) ++found.head;
    while (found.tail <= most && isForeign(seen.to - 1 - found.tail)) ++found.tail;
    if (found.head > most) found.head = 0;
    if (found.tail > most) found.tail = 0;
    return found;
}

std::int64_t countAt(const ForeignFrames& frames, bool head) {
    return head ? frames.head : frames.tail;
}

// The least slip after which both ends show the shot alone; 0 where there is none.
std::int64_t slipPast(const Project& project, int clip, std::int64_t count) {
    for (const std::int64_t by : {count, -count}) {
        const Project slipped = withClipSlipped(project, clip, by);
        const ForeignFrames left = foreignFrames(slipped, clip);
        const bool runsOut = ClipTime(slipped, slipped.reel[std::size_t(clip)]).runsOut().has_value();
        if (left.head + left.tail == 0 && !runsOut && !(slipped == project)) return by;
    }
    return 0;
}

void checkEnd(const Project& project, int clip, bool head, const ForeignFrames& frames, ClipFlow& flow) {
    const std::int64_t count = countAt(frames, head);
    if (count == 0) return;
    const Clip& c = project.reel[std::size_t(clip)];
    Finding f = clipFinding(project, clip, head ? "foreign-frames:head" : "foreign-frames:tail", Severity::Breaks,
                            head ? 0 : c.length - 1,
                            fmt::format("{} {} {} of another shot", calledInFindings(project, clip),
                                        head ? "begins with" : "ends on", framesText(count)),
                            fmt::format("Its file has a cut there: {} {}.", head ? "the first" : "the last",
                                        count == 1 ? "frame flashes by" : fmt::format("{} frames flash by", count)));
    f.weight = double(count);
    f.fixes = {fixOf("Trim it", f.place, [head](const Project& p, int i) -> Expected<Project> {
        const std::int64_t now = countAt(foreignFrames(p, i), head);
        const Clip& whole = p.reel[std::size_t(i)];
        if (now == 0 || now >= whole.length) return p;
        return withClipChanged(p, i, head ? withHeadCut(p, whole, now) : withTailCut(whole, now));
    })};
    if (const std::int64_t by = slipPast(project, clip, count))
        f.fixes.push_back(
            fixOf(fmt::format("Slip it by {}, at the same length", framesText(count)), f.place,
                  [by](const Project& p, int i) -> Expected<Project> { return withClipSlipped(p, i, by); }));
    flow.findings.push_back(std::move(f));
}

} // namespace

void checkForeign(const Project& project, int clip, ClipFlow& flow) {
    const ForeignFrames frames = foreignFrames(project, clip);
    checkEnd(project, clip, true, frames, flow);
    checkEnd(project, clip, false, frames, flow);
}

} // namespace virga
