// What the frames around a cut show at their edges, and how their blur holds together.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/edit/edge_fixes.h"

namespace virga {
namespace {

// "The source's left edge on frame 3 asks", "The source's edges on frame 3 ask"
std::string edgesText(unsigned edges, const std::string& frame) {
    std::vector<std::string> words;
    for (const auto& [edge, word] :
         {std::pair(LeftEdge, "left"), {TopEdge, "top"}, {RightEdge, "right"}, {BottomEdge, "bottom"}})
        if (edges & edge) words.push_back(word);
    if (words.size() == 1) return fmt::format("The source's {} edge on frame {} asks", words[0], frame);
    if (words.size() == 2)
        return fmt::format("The source's {} and {} edges on frame {} ask", words[0], words[1], frame);
    return fmt::format("The source's edges on frame {} ask", frame);
}

// The zoom, and the slide where it is shorter than a third of the frame.
std::vector<Fix> coveringFixes(const CutContext& context, std::string* binds = nullptr) {
    std::vector<Fix> fixes;
    const Size size = context.project.settings.size;
    if (const auto zoom = zoomThatCovers(context.project, context.cut); zoom && zoom->factor <= 4) {
        if (binds) *binds = " " + edgesText(zoom->edges, frameText(zoom->frame)) + " for the most.";
        fixes.push_back(fixOf(fmt::format("Cover with zoom {:.2f}", std::ceil(zoom->factor * 100 - 1e-6) / 100),
                              context.place, [k = zoom->factor](const Project& p, int cut) -> Expected<Project> {
                                  return withCoveringZoom(p, cut, k);
                              }));
    }
    if (const auto slide = slideThatCovers(context.project, context.cut);
        slide && slide->by.length() > 0 && slide->by.length() < size.width / 3.0) {
        const double x = slide->by.x / size.width, y = slide->by.y / size.height;
        const std::string text = std::abs(slide->by.x) > std::abs(slide->by.y)
                                     ? fmt::format("{:.2f} widths", std::abs(x))
                                     : fmt::format("{:.2f} heights", std::abs(y));
        fixes.push_back(fixOf("Cover with a slide of " + text, context.place,
                              [by = slide->by](const Project& p, int cut) -> Expected<Project> {
                                  return withCoveringSlide(p, cut, by);
                              }));
    }
    return fixes;
}

void addBare(const CutContext& context, CutFlow& flow, int bare, std::int64_t worst) {
    const FrameFacts& facts = context.facts(worst);
    std::string binds;
    const std::vector<Fix> covers = coveringFixes(context, &binds);
    Finding f = context.finding("bare-edge", Severity::Breaks, worst, "A bare edge shows for " + framesText(bare),
                                fmt::format("Most on frame {}: {:.1f} % of the picture is empty.{}", frameText(worst),
                                            100 * facts.bare, binds));
    f.weight = 100 * facts.bare;
    if (facts.edges == EdgeFill::Empty)
        f.fixes.push_back(fixOf(
            "Mirror the edges", context.place,
            [](const Project& p, int cut) -> Expected<Project> {
                Project next = withEdgesAt(p, cut, EdgeFill::Mirror);
                next.settings.copies = 0;
                return next;
            },
            true));
    else // there are copies, but too few
        f.fixes.push_back(fixOf(
            "Lift the limit on copies", context.place,
            [](const Project& p, int) -> Expected<Project> {
                Project next = p;
                next.settings.copies = 0;
                return next;
            },
            true));
    for (const Fix& fix : covers) f.fixes.push_back(fix);
    flow.findings.push_back(std::move(f));
}

} // namespace

void checkEdges(const CutContext& context, CutFlow& flow) {
    // On the frames beside the moves only the tail of an exposure can be bare: so little of it is not seen.
    constexpr double leastTail = 0.005;
    const FrameSpan span = judgedAtCut(context.project, context.cut), moves = movingSpan(context.project, context.cut);
    const FlowLimits& limits = context.limits;
    std::int64_t worstBare = 0, worstCopies = 0;
    int bare = 0, copies = 0;
    double seen = 0;
    for (std::int64_t n = span.first; n <= span.last; ++n) {
        const FrameFacts& f = context.facts(n);
        if (f.uncovered <= 0) continue;
        if (f.bare > (n < moves.first || n > moves.last ? leastTail : 0)) {
            if (bare++ == 0 || f.bare > context.facts(worstBare).bare) worstBare = n;
        } else if (showsCopies(context.project, f)) {
            seen += framesOfCopies(f);
            if (copies++ == 0 || f.seenTwice > context.facts(worstCopies).seenTwice) worstCopies = n;
        }
    }
    if (bare > 0)
        addBare(context, flow, bare, worstBare);
    else if (copies > 0 && seen <= limits.copiesSeen)
        flow.fine.push_back(fmt::format("No bare edge; copies on {}, hardly seen", framesText(copies)));
    else
        flow.fine.push_back("No bare edge");
    // Copies that fly past are what the fill is for; those that stay, or are seen plainly, look like a kaleidoscope.
    if (seen <= limits.copiesSeen) return;
    const FrameFacts& worst = context.facts(worstCopies);
    Finding f = context.finding(
        "copies", Severity::WorthALook, worstCopies,
        fmt::format("Copies fill {:.0f} % of frame {}", 100 * worst.uncovered, frameText(worstCopies)),
        fmt::format("The edge fill shows for {}. On that one {:.0f} % of the picture is plainly there twice, as far as "
                    "motion blur leaves it: a faster move, or one that stays within the frame, hides it.",
                    framesText(copies), 100 * worst.seenTwice));
    f.weight = seen;
    f.fixes = coveringFixes(context);
    flow.findings.push_back(std::move(f));
}

void checkStrobing(const CutContext& context, CutFlow& flow) {
    const FlowLimits& limits = context.limits;
    const FrameSpan span = movingSpan(context.project, context.cut);
    int count = 0;
    std::int64_t worst = 0;
    for (std::int64_t n = span.first; n <= span.last; ++n) {
        const FrameFacts& f = context.facts(n);
        if (f.speed <= limits.strobe || f.open >= limits.strobeOpen) continue;
        if (count++ == 0 || f.speed > context.facts(worst).speed) worst = n;
    }
    if (count == 0) return;
    const FrameFacts& facts = context.facts(worst);
    Finding f = context.finding(
        "strobing", Severity::WorthALook, worst, fmt::format("The movement strobes for {}", framesText(count)),
        fmt::format("Frame {} travels {:.0f} % of the width, and its shutter is open for {:.0f} % of that: what moves "
                    "is seen in steps.",
                    frameText(worst), facts.speed, 100 * facts.open));
    f.weight = facts.speed * (1 - facts.open);
    f.fixes = {fixOf(
        "Open the shutter to 180°", context.place,
        [](const Project& p, int cut) -> Expected<Project> { return withShutterOpened(p, cut, 180); }, true)};
    flow.findings.push_back(std::move(f));
}

void checkBars(const CutContext& context, CutFlow& flow) {
    const Project& project = context.project;
    for (const int i : {context.cut, context.cut + 1}) {
        const Clip& clip = project.reel[std::size_t(i)];
        if (!leavesBarsIn(project, clip)) continue;
        const Crop& bars = *findMedia(project, clip.mediaId)->bars;
        std::string where;
        const auto name = [&](double bar, const char* side) {
            if (bar > 0) where += fmt::format("{}{:.0f} % at the {}", where.empty() ? "" : ", ", 100 * bar, side);
        };
        name(bars.top, "top"), name(bars.bottom, "bottom"), name(bars.left, "left"), name(bars.right, "right");
        const bool outgoing = i == context.cut;
        Finding f =
            context.finding(outgoing ? "bars:outgoing" : "bars:incoming", Severity::WorthALook, outgoing ? -1 : 0,
                            fmt::format("Black bars are burnt into the {} shot", outgoing ? "outgoing" : "incoming"),
                            fmt::format("{}. They move with the picture, and copies at its edges repeat them.", where));
        f.weight = 1;
        f.fixes = {fixOf(
            "Crop the bars", context.place,
            [id = clip.mediaId](const Project& p, int) -> Expected<Project> { return withBarsCropped(p, id); }, true)};
        flow.findings.push_back(std::move(f));
        if (project.reel[std::size_t(context.cut)].mediaId == project.reel[std::size_t(context.cut) + 1].mediaId) break;
    }
}

} // namespace virga
