// Findings about the shots' own speed at a cut, and what a ramp lacks.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/edits.h"
#include "core/edit/speed_edits.h"

namespace virga {
namespace {

// Times as fast as it was shot over a frame; negative runs backwards. 0 for what does not run.
double speedOver(const Project& project, const Clip& clip, std::int64_t frame) {
    const ClipTime time(project, clip);
    return time.runs() ? (time.passing(frame) * project.settings.rate).toDouble() : 0;
}

bool isRamped(const Clip& clip, Side side) {
    return clip.speedCurve.side(side).keys.size() >= 2;
}

std::string percent(double speed) {
    return fmt::format("{:.0f} %", speed * 100);
}

} // namespace

void checkRamp(const CutContext& context, CutFlow& flow) {
    const Project& project = context.project;
    const Clip &out = project.reel[std::size_t(context.cut)], &in = project.reel[std::size_t(context.cut) + 1];
    const bool rampedOut = isRamped(out, Side::Outgoing), rampedIn = isRamped(in, Side::Incoming);
    if (!rampedOut && !rampedIn) return;
    const auto runs = [&](const Clip& clip) {
        const Media* media = findMedia(project, clip.mediaId);
        return media && !media->still;
    };
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const Clip& clip = side == Side::Outgoing ? out : in;
        const Media* media = findMedia(project, clip.mediaId);
        if (!media || !media->still || !isRamped(clip, side)) continue;
        Finding f =
            context.finding(side == Side::Outgoing ? "ramp-shows-nothing:outgoing" : "ramp-shows-nothing:incoming",
                            Severity::WorthALook, side == Side::Outgoing ? -1 : 0, "The ramp shows nothing here",
                            fmt::format("The {} shot is a still picture: a change of its speed is not seen.",
                                        side == Side::Outgoing ? "outgoing" : "incoming"));
        f.fixes = {fixOf(
            "Remove the ramp", context.place,
            [side](const Project& p, int cut) -> Expected<Project> {
                const int i = cut + (side == Side::Incoming);
                return withClipChanged(p, i, withoutRamp(p.reel[std::size_t(i)], side));
            },
            true)};
        flow.findings.push_back(std::move(f));
    }
    if (!runs(out) || !runs(in)) return; // a still has no speed to carry, and a gap neither
    const double before = speedOver(project, out, out.length - 1), after = speedOver(project, in, 0);
    const double fast = std::max(std::abs(before), std::abs(after)), slow = std::min(std::abs(before), std::abs(after));
    const bool turns = before * after < 0;
    if (!turns && (slow > 0 ? fast / slow : 1e9) <= context.limits.ramp) {
        flow.fine.push_back(
            fmt::format("The shots' own speed carries on: {} into {}", percent(before), percent(after)));
        return;
    }
    Finding f = context.finding(
        "ramp-not-carried", Severity::WorthALook, std::abs(before) > std::abs(after) ? 0 : -1,
        turns ? "The shots run in opposite directions at the cut"
              : fmt::format("The ramp is not carried through the cut: {}, then {}", percent(before), percent(after)),
        fmt::format("On the last frame the outgoing shot runs at {}, on the first one the incoming shot at {}.",
                    percent(before), percent(after)));
    f.weight = fast - slow;
    const auto carried = [](Side to, double speed) {
        return [to, speed](const Project& p, int cut) -> Expected<Project> {
            const Side from = to == Side::Incoming ? Side::Outgoing : Side::Incoming;
            const Clip& there = p.reel[std::size_t(cut) + (to == Side::Incoming)];
            const Ramp model = rampOf(p.reel[std::size_t(cut) + (from == Side::Incoming)], from).value_or(Ramp());
            const ClipTime time(p, there);
            const double rest = time.speedAt(to == Side::Incoming ? 0 : double(there.length)) * 100;
            const Ramp own = rampOf(there, to).value_or(Ramp{rest, 0, model.frames});
            const Ramp ramp{own.from, speed * 100, own.frames};
            return withRampsAtCut(p, cut, to == Side::Outgoing ? &ramp : nullptr,
                                  to == Side::Incoming ? &ramp : nullptr);
        };
    };
    if (rampedOut)
        f.fixes.push_back(fixOf(fmt::format("Let the next shot come in at {}", percent(before)), context.place,
                                carried(Side::Incoming, before), true));
    if (rampedIn)
        f.fixes.push_back(fixOf(fmt::format("Let the shot before race up to {}", percent(after)), context.place,
                                carried(Side::Outgoing, after), !rampedOut));
    flow.findings.push_back(std::move(f));
}

void checkRampBlur(const CutContext& context, CutFlow& flow) {
    const Project& project = context.project;
    int count = 0;
    std::int64_t worst = 0;
    double fastest = 0;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const Clip& clip = project.reel[std::size_t(context.cut) + (side == Side::Incoming)];
        if (!isRamped(clip, side)) continue;
        const auto& keys = clip.speedCurve.side(side).keys;
        const auto reach = std::min<std::int64_t>(
            clip.length,
            std::int64_t(std::ceil(std::abs(side == Side::Outgoing ? keys.front().time : keys.back().time))));
        for (std::int64_t n = 0; n < std::min<std::int64_t>(reach, 400); ++n) {
            const std::int64_t own = side == Side::Incoming ? n : clip.length - 1 - n;
            const double speed = std::abs(speedOver(project, clip, own));
            const std::int64_t frame = side == Side::Incoming ? n : -1 - n;
            if (speed < context.limits.racing || context.facts(frame).open >= context.limits.strobeOpen) continue;
            ++count;
            if (speed > fastest) fastest = speed, worst = frame;
        }
    }
    if (count == 0) return;
    Finding f = context.finding(
        "ramp-strobes", Severity::WorthALook, worst, "The racing shots strobe for " + framesText(count),
        fmt::format("Frame {} runs at {} and its shutter is open for {:.0f} % of it: what moves is seen in steps.",
                    frameText(worst), percent(fastest), 100 * context.facts(worst).open));
    f.weight = fastest;
    f.fixes = {fixOf(
        "Open the shutter to 180°", context.place,
        [](const Project& p, int cut) -> Expected<Project> { return withShutterOpened(p, cut, 180); }, true)};
    flow.findings.push_back(std::move(f));
}

} // namespace virga
