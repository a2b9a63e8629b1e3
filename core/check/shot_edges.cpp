// What a shot leaves uncovered away from its cuts' moves: by its place, its drift, an adjustment above it, or by
// standing still smaller than the frame. What it shows while a cut's moves last is judged at that cut (pictures.cpp).
#include <algorithm>
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/reel_edits.h"

namespace virga {
namespace {

// The frames of a clip that no check of a cut judges, [from, to).
struct Between {
    std::int64_t from = 0, to = 0;
};
Between betweenCuts(const Project& project, int clip) {
    Between b{0, project.reel[std::size_t(clip)].length};
    if (clip > 0) b.from = judgedAtCut(project, clip - 1).last + 1;
    if (clip < cutCount(project)) b.to += judgedAtCut(project, clip).first;
    return b;
}

struct Uncovered {
    std::int64_t count = 0, worst = 0;
    double share = 0;                 // at the worst
    double seen = 0;                  // frames' worth of copies
    std::vector<std::int64_t> frames; // one of each run between the cuts, uncovered or not: a fix has to cover all
};

template <typename Counts> Uncovered uncoveredBetween(const ClipFacts& facts, Between span, const Counts& counts) {
    Uncovered u;
    const auto& runs = facts.runs();
    for (std::size_t i = 0; i < runs.size(); ++i) {
        const std::int64_t from = std::max(span.from, runs[i].first),
                           to = std::min(span.to, i + 1 < runs.size() ? runs[i + 1].first : facts.length());
        if (to <= from) continue;
        u.frames.push_back(from);
        if (!counts(runs[i].facts)) continue;
        if (u.count == 0 || runs[i].facts.uncovered > u.share) u.share = runs[i].facts.uncovered, u.worst = from;
        u.count += to - from;
        u.seen += framesOfCopies(runs[i].facts) * double(to - from);
    }
    return u;
}

// At most so many of them, the worst first: what covers those covers the others, or nearly.
std::vector<std::int64_t> someOf(const Uncovered& u) {
    constexpr std::size_t most = 12;
    std::vector<std::int64_t> some{u.worst};
    const std::size_t count = std::min(most, u.frames.size());
    for (std::size_t i = 0; i < count; ++i) some.push_back(u.frames[i * u.frames.size() / count]);
    if (!u.frames.empty()) some.push_back(u.frames.back());
    return some;
}

std::vector<Fix> scalingFixes(const Project& project, int clip, const Uncovered& u, const FlowPlace& place) {
    std::vector<Fix> fixes;
    const auto scale = scaleThatCovers(project, clip, someOf(u));
    if (!scale) return fixes;
    // A shot that was laid on its neighbour's subject stays on it where both are scaled.
    for (const bool before : {true, false}) {
        const int cut = before ? clip - 1 : clip;
        if (!hasCut(project, cut) || project.reel[std::size_t(clip)].placement == Placement()) continue;
        if (!project.reel[std::size_t(cut)].subjectOut || !project.reel[std::size_t(cut) + 1].subjectIn) continue;
        fixes.push_back(fixOf(fmt::format("Scale both shots at cut {} {:.2f}×", cut + 1, scale->factor), place,
                              [k = *scale, before](const Project& p, int i) -> Expected<Project> {
                                  return withBothShotsScaled(p, before ? i - 1 : i, k);
                              }));
    }
    fixes.push_back(
        fixOf(fmt::format("Scale the shot {:.2f}×", scale->factor), place,
              [k = *scale](const Project& p, int i) -> Expected<Project> { return withShotScaled(p, i, k); }));
    return fixes;
}

// Whether it stands as it was fitted, smaller than the frame: that was chosen.
bool isFittedInside(const Clip& clip) {
    return clip.fit == Fit::Fit && clip.placement == Placement() && clip.drift.empty();
}

} // namespace

void checkShotEdges(const Project& project, int clip, ClipFlow& flow) {
    const Clip& c = project.reel[std::size_t(clip)];
    if (c.isGap()) return;
    const Between span = betweenCuts(project, clip);
    const FlowPlace place{FlowPlace::Clip, c.id};
    const Uncovered bare = uncoveredBetween(flow.facts, span, [](const FrameFacts& f) { return f.bare > leastShare; });
    if (bare.count > 0 && !(isFittedInside(c) && edgesOf(project, c) == EdgeFill::Empty)) {
        Finding f = clipFinding(
            project, clip, "bare-edge", Severity::Breaks, bare.worst,
            fmt::format("{} shows a bare edge for {}", calledInFindings(project, clip), framesText(bare.count)),
            fmt::format("Most on its frame {}: {:.1f} % of the picture is not covered.", bare.worst, 100 * bare.share));
        f.weight = 100 * bare.share;
        f.fixes = scalingFixes(project, clip, bare, place);
        if (edgesOf(project, c) == EdgeFill::Empty)
            f.fixes.push_back(fixOf("Mirror the edges", place, [](const Project& p, int i) -> Expected<Project> {
                Project next = p;
                next.reel[std::size_t(i)].edges = EdgeFill::Mirror;
                return next;
            }));
        return flow.findings.push_back(std::move(f));
    }
    const Uncovered copies =
        uncoveredBetween(flow.facts, span, [&](const FrameFacts& f) { return showsCopies(project, f); });
    if (copies.seen <= project.settings.flow.copiesSeen) return;
    Finding f = clipFinding(project, clip, "copies", Severity::WorthALook, copies.worst,
                            fmt::format("Copies fill {:.0f} % of {} for {}", 100 * copies.share,
                                        calledInFindings(project, clip), framesText(copies.count)),
                            fmt::format("Most on its frame {}. They are plainly seen as copies.", copies.worst));
    f.weight = copies.seen;
    f.fixes = scalingFixes(project, clip, copies, place);
    flow.findings.push_back(std::move(f));
}

namespace {

Finding overlayFinding(const Project& project, int overlay, std::string name, const Uncovered& u, std::string title,
                       std::string detail) {
    Finding f;
    f.name = std::move(name);
    f.severity = Severity::WorthALook;
    f.place = {FlowPlace::Overlay, project.overlays[std::size_t(overlay)].clip.id};
    f.frame = u.worst;
    f.title = std::move(title);
    f.detail = std::move(detail);
    return f;
}

Project withOverlayScaled(const Project& project, int overlay, double factor) {
    Project next = project;
    next.overlays[std::size_t(overlay)].clip.placement.scale *= factor;
    return next;
}

// The least factor, to a hundredth, with which an overlay covers the frame on those of its frames.
std::optional<Fix> overlayScaling(const Project& project, int overlay, Between span) {
    constexpr int most = 800;
    const ReelIndex index = reelIndex(project);
    const auto covered = [&](int hundredths) {
        const auto facts =
            ClipFacts::ofOverlay(withOverlayScaled(project, overlay, hundredths / 100.0), index, overlay);
        return uncoveredBetween(facts, span, [](const FrameFacts& f) { return f.uncovered > leastShare; }).count == 0;
    };
    int low = 99, high = most;
    if (!covered(high)) return std::nullopt;
    while (high - low > 1) {
        const int middle = (low + high) / 2;
        (covered(middle) ? high : low) = middle;
    }
    return fixOf(
        fmt::format("Scale the overlay {:.2f}×", high / 100.0),
        {FlowPlace::Overlay, project.overlays[std::size_t(overlay)].clip.id},
        [high](const Project& p, int i) -> Expected<Project> { return withOverlayScaled(p, i, high / 100.0); });
}

// The frames of an overlay between the moves by which it comes and goes.
Between betweenMoves(const Overlay& overlay) {
    Between b{0, overlay.clip.length};
    for (const Move& move : overlay.clip.transition.moves)
        for (const Channel& channel : move.channels) {
            if (!channel.incoming.isEmpty())
                b.from = std::max(b.from, std::int64_t(std::ceil(channel.incoming.keys.back().time)) + 1);
            if (!channel.outgoing.isEmpty())
                b.to = std::min(b.to, b.to + std::int64_t(std::floor(channel.outgoing.keys.front().time)) - 1);
        }
    return b;
}

} // namespace

// What an overlay leaves free shows what lies beneath. That is meant where it comes and goes, and where it is never as
// large as the frame; not where it fills the frame and then no longer does.
void checkOverlayEdges(const Project& project, int overlay, ClipFlow& flow) {
    const Overlay& o = project.overlays[std::size_t(overlay)];
    const FlowPlace place{FlowPlace::Overlay, o.clip.id};
    const std::string name = o.clip.name.empty() ? "The overlay" : o.clip.name;
    const Between all{0, o.clip.length}, between = betweenMoves(o);
    const Uncovered copies =
        uncoveredBetween(flow.facts, all, [&](const FrameFacts& f) { return showsCopies(project, f); });
    if (copies.seen > project.settings.flow.copiesSeen) {
        Finding f = overlayFinding(
            project, overlay, "copies", copies,
            fmt::format("Copies fill {:.0f} % of {} for {}", 100 * copies.share, name, framesText(copies.count)),
            fmt::format("Most on its frame {}. They are plainly seen as copies.", copies.worst));
        f.weight = copies.seen;
        f.fixes.push_back(fixOf("Leave its edges empty", place, [](const Project& p, int i) -> Expected<Project> {
            Project next = p;
            next.overlays[std::size_t(i)].clip.edges = EdgeFill::Empty;
            return next;
        }));
        if (auto scale = overlayScaling(project, overlay, all)) f.fixes.push_back(std::move(*scale));
        return flow.findings.push_back(std::move(f));
    }
    const Uncovered bare =
        uncoveredBetween(flow.facts, between, [](const FrameFacts& f) { return f.bare > leastShare; });
    if (bare.count == 0 || 2 * bare.count > between.to - between.from) return;
    Finding f = overlayFinding(
        project, overlay, "bare-edge", bare, fmt::format("{} leaves an edge free for {}", name, framesText(bare.count)),
        fmt::format("It fills the frame on the others. Most on its frame {}: {:.1f} % of the picture.", bare.worst,
                    100 * bare.share));
    f.weight = 100 * bare.share;
    if (auto scale = overlayScaling(project, overlay, between)) f.fixes.push_back(std::move(*scale));
    flow.findings.push_back(std::move(f));
}

std::optional<Finding> edgesOfShot(const Project& project, int clip) {
    if (clip < 0 || clip >= int(project.reel.size())) return std::nullopt;
    ClipFlow flow;
    flow.facts = ClipFacts(project, reelIndex(project), clip);
    checkShotEdges(project, clip, flow);
    if (flow.findings.empty()) return std::nullopt;
    return std::move(flow.findings.front());
}

} // namespace virga
