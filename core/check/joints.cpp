// What two neighbours leave to each other: tilts, scales, spare frames; and what of a stack is not seen.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include "core/check/checks.h"
#include "core/edit/key_fixes.h"
#include "core/edit/move_edits.h"
#include "core/edit/reel_edits.h"

namespace virga {
namespace {

// How a layer lies without what moves at the cut: turned by so many degrees, and so much larger.
struct Pose {
    double degrees = 0, factor = 1;
};

std::optional<Pose> restOf(const CutContext& context, const FramePlan& plan, int clip) {
    const LayerPlan* layer = layerOfClip(plan, clip);
    if (!layer) return std::nullopt;
    LayerPlan rest = *layer;
    const Size size = context.project.settings.size;
    for (TimedStack& timed : rest.stacks) {
        if (!(timed.place == StackPlace(context.cut))) continue;
        Stack still;
        for (const Move& move : timed.stack) {
            if (!isOn(timed.stack, move)) continue;
            bool moves = moveInfo(move.kind).pattern != nullptr;
            for (int c = 0; c < int(move.channels.size()) && !moves; ++c)
                moves = screenSpeed(move, c, Side::Outgoing, -1, size) >= context.limits.still ||
                        screenSpeed(move, c, Side::Incoming, 0, size) >= context.limits.still;
            if (!moves) still.push_back(move);
        }
        timed.stack = std::move(still);
    }
    const ScreenMap map = movementAt(rest, double(plan.frame), size);
    if (!map.isVisible()) return std::nullopt;
    const Point middle(size.width / 2.0, size.height / 2.0),
        source = map.toSource(middle), x = map.toScreen(source + Point(1, 0)) - map.toScreen(source),
        y = map.toScreen(source + Point(0, 1)) - map.toScreen(source);
    const double area = std::abs(x.x * y.y - x.y * y.x);
    if (!std::isfinite(area) || area < 1e-12) return std::nullopt;
    return Pose{std::atan2(x.y, x.x) * 180 / std::numbers::pi, std::sqrt(area)};
}

} // namespace

void checkLeftOver(const CutContext& context, CutFlow& flow) {
    const FramePlan before = planFrame(context.project, context.index, context.at - 1),
                    after = planFrame(context.project, context.index, context.at);
    const auto out = restOf(context, before, context.cut), in = restOf(context, after, context.cut + 1);
    if (!out || !in) return;
    const double tilt = std::remainder(out->degrees - in->degrees, 360), ratio = out->factor / in->factor;
    if (std::abs(tilt) > context.limits.tilt && std::abs(tilt) < 45) {
        Finding f = context.finding(
            "tilt-left", Severity::WorthALook, 0, fmt::format("The cut snaps by {:.1f}°", std::abs(tilt)),
            fmt::format(
                "Outgoing ends turned by {:.1f}°, incoming begins at {:.1f}°, and nothing moves from one to the "
                "other.",
                out->degrees, in->degrees));
        f.weight = std::abs(tilt);
        f.fixes = {fixOf(
            "Hand over the tilt", context.place,
            [tilt](const Project& p, int cut) -> Expected<Project> { return withTiltTaken(p, cut + 1, tilt); },
            std::abs(tilt) <= 10)}; // common practice: such tilts stay under 10 degrees
        flow.findings.push_back(std::move(f));
    }
    if (std::max(ratio, 1 / ratio) > context.limits.scale) {
        Finding f = context.finding(
            "scale-left", Severity::WorthALook, 0,
            fmt::format("The cut jumps in size, {:.2f} to 1", std::max(ratio, 1 / ratio)),
            fmt::format(
                "Outgoing ends at {:.2f}×, incoming begins at {:.2f}×, and nothing moves from one to the other.",
                out->factor, in->factor));
        f.weight = std::abs(std::log2(ratio));
        f.fixes = {fixOf("Hand over the size", context.place, [ratio](const Project& p, int cut) -> Expected<Project> {
            return withScaleTaken(p, cut + 1, ratio);
        })};
        flow.findings.push_back(std::move(f));
    }
}

void checkSpare(const CutContext& context, CutFlow& flow) {
    const Overlap& overlap = context.transition.overlap;
    const Project& project = context.project;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const bool out = side == Side::Outgoing;
        const Clip& clip = project.reel[std::size_t(context.cut + (out ? 0 : 1))];
        const std::int64_t wanted = out ? overlap.after : overlap.before;
        if (wanted == 0) continue;
        const Spare spare = spareFrames(project, clip);
        const std::int64_t there = out ? spare.after : spare.before;
        if (wanted <= there) continue;
        Finding f = context.finding(out ? "spare-after" : "spare-before", Severity::Breaks, out ? there : -there - 1,
                                    fmt::format("The {} shot runs out in the overlap", out ? "outgoing" : "incoming"),
                                    fmt::format("It needs {} to spare {} the cut and has {}; the rest stands still.",
                                                framesText(wanted), out ? "after" : "before", there));
        f.weight = double(wanted - there);
        f.fixes = {fixOf(
            "Shorten the overlap", context.place,
            [there, out](const Project& p, int cut) -> Expected<Project> {
                Overlap shorter = transitionAt(p, cut).overlap;
                (out ? shorter.after : shorter.before) = there;
                return withOverlap(p, cut, shorter, transitionAt(p, cut).top);
            },
            true)};
        flow.findings.push_back(std::move(f));
    }
}

void checkStack(const CutContext& context, CutFlow& flow) {
    const Stack& moves = context.transition.moves;
    for (const Move& move : moves)
        if (move.kind == MoveKind::Unknown)
            flow.findings.push_back(
                context.finding("unknown-move:" + move.id, Severity::WorthALook, 0,
                                fmt::format("A move of the kind \"{}\" is not shown", move.kindName),
                                "This version does not know it. It stays in the file untouched."));
    if (!hasSolo(moves)) return;
    std::string names;
    int silent = 0;
    for (const Move& move : moves) {
        if (move.solo) names += (names.empty() ? "" : ", ") + std::string(moveInfo(move.kind).label);
        silent += !move.solo && move.enabled;
    }
    if (silent == 0) return;
    Finding f = context.finding("solo", Severity::WorthALook, 0, fmt::format("Only {} is on: soloed", names),
                                fmt::format("{} other move{} of this cut {} neither seen nor exported.", silent,
                                            silent == 1 ? "" : "s", silent == 1 ? "is" : "are"));
    f.fixes = {fixOf("End solo", context.place,
                     [](const Project& p, int cut) -> Expected<Project> { return withoutSolo(p, cut); })};
    flow.findings.push_back(std::move(f));
}

} // namespace virga
