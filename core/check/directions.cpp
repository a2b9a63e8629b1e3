// Whether the movement carries on through the cut: direction, speed, the frames beside it, and the keys at it.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/curve/curve.h"
#include "core/edit/carry_on.h"
#include "core/edit/evening.h"
#include "core/edit/key_fixes.h"

namespace virga {
namespace {

std::string travelText(const Curve& curve, const ChannelInfo& info) {
    if (curve.isEmpty()) return "stands still";
    return fmt::format("{} → {}", spokenValue(curve.keys.front().value, info),
                       spokenValue(curve.keys.back().value, info));
}

} // namespace

std::string frameText(std::int64_t frame) {
    return frame < 0 ? fmt::format("−{}", -frame) : frame > 0 ? fmt::format("+{}", frame) : "0";
}

std::string framesText(std::int64_t count) {
    return fmt::format("{} frame{}", count, count == 1 ? "" : "s");
}

CutContext::CutContext(const Project& p, const ReelIndex& i, int c, const ClipFacts& o, const ClipFacts& n,
                       std::shared_ptr<const ShotMovements> s)
    : project(p), index(i), cut(c), out(o), in(n), limits(p.settings.flow),
      transition(transitionAt(p, c)), place{FlowPlace::Cut, p.reel[std::size_t(c) + 1].id},
      at(i.starts[std::size_t(c) + 1]), shots(std::move(s)), velocities(velocitiesAtCut(p, i, c, shots.get())) {}

bool CutContext::moves() const {
    return std::any_of(transition.moves.begin(), transition.moves.end(),
                       [](const Move& m) { return movesOn(m, Side::Outgoing) || movesOn(m, Side::Incoming); });
}

Finding CutContext::finding(std::string name, Severity severity, std::int64_t frame, std::string title,
                            std::string detail) const {
    Finding f;
    f.name = std::move(name);
    f.severity = severity;
    f.place = place;
    f.frame = frame;
    f.title = std::move(title);
    f.detail = std::move(detail);
    return f;
}

namespace {

// One side stands still, seen beside the other.
bool isStandstill(const FlowLimits& limits, const CutFlow& flow) {
    const double fast = std::max(flow.speedOut, flow.speedIn), slow = std::min(flow.speedOut, flow.speedIn);
    return slow < std::max(limits.still, std::min(limits.little, 0.02 * fast));
}

// A shot that slides over another, or away from it, is an entrance: nothing has to carry on.
bool isEntrance(const CutContext& context, const CutFlow& flow) {
    return isStandstill(context.limits, flow) && !context.transition.overlap.isEmpty() &&
           (flow.speedIn > flow.speedOut) == (context.transition.top == Side::Incoming);
}

} // namespace

void checkDirections(CutContext& context, CutFlow& flow) {
    const Size size = context.project.settings.size;
    for (int m = 0; m < int(context.transition.moves.size()); ++m) {
        const Move& move = context.transition.moves[std::size_t(m)];
        const auto& channels = moveInfo(move.kind).channels;
        if (!isOn(context.transition.moves, move) || moveInfo(move.kind).role != MoveRole::Movement) continue;
        if (moveInfo(move.kind).pattern) continue; // goes to and fro by its nature
        for (int c = 0; c < int(channels.size()); ++c) {
            const auto& info = channels[std::size_t(c)];
            const Channel& channel = move.channels[std::size_t(c)];
            const double out = changeOver(channel.outgoing, -1, move.ends()),
                         in = changeOver(channel.incoming, 0, move.ends());
            const double speedOut = screenSpeed(move, c, Side::Outgoing, -1, size),
                         speedIn = screenSpeed(move, c, Side::Incoming, 0, size);
            if (speedOut < context.limits.still || speedIn < context.limits.still) continue;
            if ((out > 0) == (in > 0)) {
                flow.fine.push_back(fmt::format("{} carries on in one direction", info.label));
                continue;
            }
            context.turnsBack = true;
            Finding f =
                context.finding(fmt::format("turns-back:{}", info.label), Severity::Breaks, 0,
                                fmt::format("{} turns back at the cut", info.label),
                                fmt::format("Outgoing {} {}, incoming {} {}.", out > 0 ? info.rising : info.falling,
                                            travelText(channel.outgoing, info), in > 0 ? info.rising : info.falling,
                                            travelText(channel.incoming, info)));
            f.weight = 1000 + std::min(speedOut, speedIn); // what it mends, others follow
            f.fixes = {
                fixOf(
                    "Turn it round", context.place,
                    [m, c](const Project& p, int cut) -> Expected<Project> { return withIncomingTurned(p, cut, m, c); },
                    true),
                fixOf("Mirror the departure", context.place,
                      [m, c](const Project& p, int cut) { return withProfileMirrored(p, cut, m, c); })};
            flow.findings.push_back(std::move(f));
        }
    }
}

void checkSpeed(const CutContext& context, CutFlow& flow) {
    const double out = flow.speedOut, in = flow.speedIn;
    const double fast = std::max(out, in), slow = std::min(out, in);
    const FlowLimits& limits = context.limits;
    if (fast < limits.still) return;
    // What creeps has no speed that the eye would miss.
    if (fast < limits.little) return flow.fine.push_back("Both sides creep through the cut");
    const auto matched = [&](const char* label, Match match) {
        return fixOf(
            label, context.place,
            [match, shots = context.shots](const Project& p, int cut) {
                return withAllMatched(p, cut, match, shots.get());
            },
            true);
    };
    const Fix byCurve = matched("Match speed", Match::ByHandle), byValue = matched("By start value", Match::ByValue),
              byCurves = matched("Match frames and curves", Match::Curves);
    const Fix byMirror =
        fixOf("Mirror the departure", context.place, [](const Project& p, int cut) { return withAllMirrored(p, cut); });
    const Fix leadIn = fixOf(
        "Lead into it", context.place, [](const Project& p, int cut) { return withDepartureMade(p, cut); }, true);
    if (isEntrance(context, flow)) return;
    if (isStandstill(limits, flow)) {
        const bool stops = out > in;
        Finding f = context.finding(
            "speed-step", Severity::Breaks, stops ? 0 : -1,
            stops ? "The movement stops dead at the cut" : "The movement starts from nothing at the cut",
            fmt::format("Outgoing leaves at {:.1f} % of the width per frame, incoming starts at {:.1f} %.", out, in));
        f.weight = fast;
        if (stops)
            f.fixes = {matched("Carry it on", Match::ByValue), byMirror};
        else
            f.fixes = {leadIn, fixOf("Let it come in over the last shot", context.place,
                                     [](const Project& p, int cut) { return withIncomingOverlapped(p, cut); })};
        return flow.findings.push_back(std::move(f));
    }
    if (fast / slow <= limits.step) {
        const double step = context.velocities.difference;
        if (context.turnsBack || step <= limits.turn * fast)
            return flow.fine.push_back(
                fmt::format("Speed is steady through the cut: {:.0f} % into {:.0f} % of the width per frame", out, in));
        Finding f = context.finding(
            "direction-step", Severity::Breaks, 0, "The movement changes direction at the cut",
            fmt::format("Both sides go at {:.0f} % of the width per frame, but {:.0f} % apart: what moves one way "
                        "before the cut moves another way after it.",
                        fast, step));
        f.weight = step;
        f.fixes = {byCurve, byValue};
        return flow.findings.push_back(std::move(f));
    }
    const std::string ratio = out > in ? fmt::format("{:.1f} to 1", out / in) : fmt::format("1 to {:.1f}", in / out);
    Finding f = context.finding(
        "speed-step", fast / slow > limits.graveStep ? Severity::Breaks : Severity::WorthALook, out > in ? 0 : -1,
        fmt::format("Speed {} at the cut, {}", out > in ? "drops" : "jumps", ratio),
        fmt::format("Outgoing leaves at {:.0f} % of the width per frame, incoming starts at {:.0f} %: a hitch between "
                    "−1 and 0.",
                    out, in));
    f.weight = fast - slow;
    if (!context.turnsBack) f.fixes = {byCurve, byValue, byCurves};
    // Mirrored moves carry on what moves do, not what the shots do beside them.
    const bool shotsMove = context.velocities.ownKnown && std::max(speedOf(context.velocities.ownOut),
                                                                   speedOf(context.velocities.ownIn)) > limits.still;
    // A larger departure reaches what a weaker arrival would give up.
    if (!context.turnsBack && !shotsMove && in > out) f.fixes.push_back(leadIn);
    if (!context.turnsBack && !shotsMove) f.fixes.push_back(byMirror);
    flow.findings.push_back(std::move(f));
}

void checkTrips(const CutContext& context, CutFlow& flow) {
    if (isEntrance(context, flow)) return;
    const FlowLimits& limits = context.limits;
    const auto trips = [&](Side side, double beside, double next) {
        const ClipFacts& facts = side == Side::Outgoing ? context.out : context.in;
        return beside > limits.fast && next < limits.fall * beside && facts.length() > 1 && !facts.isShaken();
    };
    const double out = flow.speedOut, in = flow.speedIn, before = context.facts(-2).speed,
                 after = context.facts(1).speed;
    const auto add = [&](bool enters, double beside, double next) {
        const Side side = enters ? Side::Incoming : Side::Outgoing;
        Finding f = context.finding(
            enters ? "falls-away" : "jumps-in", Severity::Breaks, enters ? 1 : -1,
            enters ? fmt::format("The movement falls away after the cut: {:.0f}, then {:.0f}", beside, next)
                   : fmt::format("The movement jumps in before the cut: {:.0f}, then {:.0f}", next, beside),
            {});
        f.weight = beside - next;
        const auto way = wayOf(context.project, context.cut, side);
        if (way)
            f.detail = fmt::format("The {} {} has {:.2f}{} to travel: at this speed {:.1f} frame{}.",
                                   enters ? "incoming" : "outgoing", way->name, way->length, way->unit, way->frames,
                                   way->frames == 1 ? "" : "s");
        for (Evener& one : waysToEven(context.project, context.cut, side)) {
            const auto what = one.what;
            const double amount = one.amount;
            f.fixes.push_back(fixOf(
                one.label, context.place,
                [side, what, amount](const Project& p, int cut) { return withEvened(p, cut, side, what, amount); },
                f.fixes.empty()));
        }
        flow.findings.push_back(std::move(f));
    };
    const bool falls = trips(Side::Incoming, in, after), jumps = trips(Side::Outgoing, out, before);
    if (falls) add(true, in, after);
    if (jumps) add(false, out, before);
    if (!falls && !jumps && std::max(in, out) > limits.fast)
        flow.fine.push_back("Frames beside the cut keep the speed up");
}

void checkEndKeys(const CutContext& context, CutFlow& flow) {
    // A frame whose own time lies beyond the keys holds, and so does one whose move holds at its ends.
    bool early = false, late = false, heldOut = false, heldIn = false, moved = false;
    for (const Move& move : context.transition.moves) {
        if (!isOn(context.transition.moves, move) || moveInfo(move.kind).role != MoveRole::Movement) continue;
        for (const Channel& channel : move.channels) {
            if (const auto& keys = channel.outgoing.keys; keys.size() >= 2) {
                moved = true;
                const double last = keys.back().time;
                early = early || (last < -1 - 1e-6 && last > -2);
                heldOut = heldOut || (move.holds && std::abs(last + 1) < 1e-6);
            }
            if (const auto& keys = channel.incoming.keys; keys.size() >= 2) {
                const double first = keys.front().time;
                late = late || (first > 1e-6 && first < 1);
                heldIn = heldIn || (move.holds && std::abs(first) < 1e-6);
            }
        }
    }
    const auto add = [&](bool in, bool held) {
        Finding f = context.finding(
            in ? "first-key-late" : "last-key-early", Severity::WorthALook, in ? 0 : -1,
            fmt::format("The {} frame {} the cut has {} blur", in ? "first" : "last", in ? "after" : "before",
                        held ? "half its" : "no"),
            held ? fmt::format(
                       "The {} key sits on it and its move holds at its ends. Running on, or a key one frame {}, "
                       "past the cut, keeps it moving.",
                       in ? "first" : "last", in ? "earlier" : "later")
                 : fmt::format(
                       "The {} key lies {} it, so nothing moves while its shutter is open. A key {} the cut keeps "
                       "it moving.",
                       in ? "first" : "last", in ? "after" : "before", in ? "on" : "past"));
        const Side side = in ? Side::Incoming : Side::Outgoing;
        if (held)
            f.fixes.push_back(fixOf(
                "Run on", context.place,
                [](const Project& p, int cut) -> Expected<Project> { return withMovesRunningOn(p, cut); }, true));
        f.fixes.push_back(fixOf(
            in ? "Put the key on the cut" : "Put the key past the cut", context.place,
            [side](const Project& p, int cut) -> Expected<Project> { return withEndKeysAtCut(p, cut, side); }, true));
        flow.findings.push_back(std::move(f));
    };
    if (early || heldOut) add(false, heldOut && !early);
    if (late || heldIn) add(true, heldIn && !late);
    if (!early && !heldOut && moved && flow.speedOut >= context.limits.still)
        flow.fine.push_back("The last frame before the cut has its blur");
}

} // namespace virga
