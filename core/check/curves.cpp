// Whether the keys do what they say: values that are reached, curves that keep between them, moves inside their clips,
// no hitch on the way.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/edit/evening.h"
#include "core/edit/key_fixes.h"

namespace virga {
namespace {

constexpr Side bothSides[] = {Side::Outgoing, Side::Incoming};

const char* wordOf(Side side) {
    return side == Side::Outgoing ? "outgoing" : "incoming";
}

// Calls `check` for each curve with two keys or more of a move that is on and moves the picture.
template <typename Check> void eachCurve(const CutContext& context, const Check& check) {
    const Stack& moves = context.transition.moves;
    for (int m = 0; m < int(moves.size()); ++m) {
        const Move& move = moves[std::size_t(m)];
        const MoveInfo& info = moveInfo(move.kind);
        if (!isOn(moves, move) || info.role != MoveRole::Movement || info.pattern) continue;
        for (int c = 0; c < int(move.channels.size()); ++c)
            for (const Side side : bothSides)
                if (const Curve& curve = move.channels[std::size_t(c)].side(side); curve.keys.size() >= 2)
                    check(m, c, side, move, info.channels[std::size_t(c)], curve);
    }
}

// Whether the two sides are one curve through the cut: what one does not reach the other does.
bool isOneCurve(const Channel& channel) {
    const Curve &out = channel.outgoing, &in = channel.incoming;
    if (out.isEmpty() || in.isEmpty()) return false;
    const double a = toSpace(evaluate(out, 0), out.space), b = toSpace(evaluate(in, 0), in.space);
    const double way = std::abs(toSpace(out.keys.back().value, out.space) - toSpace(out.keys.front().value, out.space));
    return std::abs(a - b) < 0.02 * std::max(way, 1e-9);
}

} // namespace

void checkReached(const CutContext& context, CutFlow& flow) {
    eachCurve(context, [&](int m, int c, Side side, const Move& move, const ChannelInfo& info, const Curve& curve) {
        const bool out = side == Side::Outgoing;
        const Key& key = out ? curve.keys.back() : curve.keys.front();
        // A key on the cut, or a frame before its side's first, is how a movement runs through it.
        if (out ? key.time <= 0.5 : key.time >= -1.5) return;
        if (isOneCurve(move.channels[std::size_t(c)])) return;
        const double beside = out ? -1 : 0,
                     rest = toSpace((out ? curve.keys.front() : curve.keys.back()).value, curve.space),
                     meant = toSpace(key.value, curve.space), shown = toSpace(evaluate(curve, beside), curve.space);
        if (std::abs(meant - rest) < 1e-9) return;
        // Whole turns reach what they mean by coming round.
        if (info.axis == Axis::Turn && std::abs(std::remainder(meant - rest, 360)) < 1e-6) return;
        const double share = (shown - rest) / (meant - rest);
        if (share >= context.limits.reached) return;
        Finding f = context.finding(
            fmt::format("not-reached:{} {}", info.label, wordOf(side)), Severity::WorthALook, std::int64_t(beside),
            fmt::format("{} never reaches {} on screen", info.label, spokenValue(key.value, info)),
            fmt::format("The {} key lies {:.0f} frames past the cut: frame {} shows {}.", wordOf(side),
                        std::abs(key.time), out ? "−1" : "0", spokenValue(fromSpace(shown, curve.space), info)));
        f.weight = 1 - share;
        f.fixes = {fixOf("Bring the key to the cut", context.place,
                         [m, c, side](const Project& p, int cut) -> Expected<Project> {
                             return withKeysBroughtToCut(p, cut, m, c, side);
                         }),
                   fixOf("Raise its value", context.place,
                         [m, c, side](const Project& p, int cut) { return withValueReached(p, cut, m, c, side); })};
        flow.findings.push_back(std::move(f));
    });
}

void checkOvershoot(const CutContext& context, CutFlow& flow) {
    eachCurve(context, [&](int m, int c, Side side, const Move&, const ChannelInfo& info, const Curve& curve) {
        const double beyond = overshootOf(curve);
        if (beyond <= context.limits.overshoot) return;
        Finding f = context.finding(
            fmt::format("overshoot:{} {}", info.label, wordOf(side)), Severity::WorthALook,
            side == Side::Outgoing ? -1 : 0, fmt::format("{} overshoots on the {} side", info.label, wordOf(side)),
            fmt::format(
                "Between two keys it goes {:.0f} % of the way too far. A shape that overshoots by intention is not "
                "reported.",
                100 * beyond));
        f.weight = beyond;
        f.fixes = {fixOf(
            "Keep between the keys", context.place,
            [m, c, side](const Project& p, int cut) -> Expected<Project> {
                return withoutOvershoot(p, cut, m, c, side);
            },
            false)};
        flow.findings.push_back(std::move(f));
    });
}

void checkOutside(const CutContext& context, CutFlow& flow) {
    eachCurve(context, [&](int m, int c, Side side, const Move&, const ChannelInfo& info, const Curve& curve) {
        const bool out = side == Side::Outgoing;
        const double length = double(out ? context.out.length() : context.in.length()),
                     far = out ? -curve.keys.front().time : curve.keys.back().time;
        if (far <= length + 0.5) return;
        Finding f = context.finding(
            fmt::format("outside:{} {}", info.label, wordOf(side)), Severity::WorthALook,
            out ? -std::int64_t(length) : std::int64_t(length) - 1,
            fmt::format("{} {} outside its shot", info.label, out ? "begins" : "ends"),
            fmt::format("The {} side takes {:.0f} frames, the shot has {:.0f}: it is {} in the middle of the move.",
                        wordOf(side), far, length, out ? "entered" : "left"));
        f.weight = far - length;
        f.fixes = {
            fixOf("Fit it into the shot", context.place, [m, c, side](const Project& p, int cut) -> Expected<Project> {
                return withSideFitted(p, cut, m, c, side);
            })};
        flow.findings.push_back(std::move(f));
    });
}

void checkHitch(const CutContext& context, CutFlow& flow) {
    const FlowLimits& limits = context.limits;
    const FrameSpan span = movingSpan(context.project, context.cut);
    const SeenSpeeds seen(context.project, context.cut);
    for (const Side side : bothSides) {
        const bool out = side == Side::Outgoing;
        if ((out ? context.out : context.in).isShaken()) continue;
        const std::int64_t from = out ? span.first : 0, to = out ? 0 : span.last + 1; // [from, to)
        double worst = 1;
        std::int64_t where = 0;
        for (std::int64_t n = from + 1; n + 1 < to; ++n) {
            const double now = context.facts(n).speed;
            double before = 0, after = 0;
            for (std::int64_t k = 1; k <= 3; ++k) {
                if (n - k >= from) before = std::max(before, context.facts(n - k).speed);
                if (n + k < to) after = std::max(after, context.facts(n + k).speed);
            }
            const double beside = std::min(before, after);
            if (beside <= limits.fast || now >= limits.fall * beside || now / beside >= worst) continue;
            // What goes back there has to stand still; only what goes on the same way hitches.
            const Velocities a = seen.velocities(side, double(n) - 1), b = seen.velocities(side, double(n) + 1);
            double same = 0;
            for (std::size_t i = 0; i < a.size(); ++i)
                if (const double d = a[i].dot(b[i]); std::isfinite(d)) same += d;
            if (same <= 0) continue;
            worst = now / beside, where = n;
        }
        if (worst >= 1) continue;
        Finding f = context.finding(
            fmt::format("hitch:{}", wordOf(side)), Severity::WorthALook, where,
            fmt::format("The {} movement hitches on frame {}", wordOf(side), frameText(where)),
            fmt::format(
                "There it goes at {:.1f} % of the width per frame, and faster before and after: a key's handles "
                "are flat in the middle of the way.",
                context.facts(where).speed));
        f.weight = 1 - worst;
        f.fixes = {fixOf("Run through the key", context.place,
                         [side](const Project& p, int cut) { return withKeysRunThrough(p, cut, side); })};
        flow.findings.push_back(std::move(f));
    }
}

} // namespace virga
