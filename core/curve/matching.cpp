#include "core/curve/matching.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <optional>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

tl::unexpected<Error> cannot(std::string why, std::string remedy) {
    return fail(ErrorCode::BadInput, "the speed cannot be matched: " + std::move(why), {}, std::move(remedy));
}

// Where f, which is nearly a straight line, is 0: by the secant method.
std::optional<double> zeroOf(const std::function<double(double)>& f, double x0, double x1, double enough) {
    double f0 = f(x0), f1 = f(x1);
    for (int i = 0; i < 12 && std::isfinite(f1); ++i) {
        if (std::abs(f1) <= enough) return x1;
        if (f1 == f0) return std::nullopt;
        const double next = x1 - f1 * (x1 - x0) / (f1 - f0);
        x0 = x1, f0 = f1, x1 = next, f1 = f(x1);
    }
    return std::nullopt;
}

Expected<void> canBeMatched(const Curve& incoming) {
    if (incoming.keys.size() < 2) return cannot("the incoming side has no movement", "give it two keys");
    if (segmentAt(incoming, 0) != 0)
        return cannot("the cut is not inside the incoming side's first segment", "put its first key on frame 0");
    return {};
}

constexpr double exact = 1e-10; // of a unit per frame

// Where f changes its sign between x0 and x1, by bisection.
double signChange(const std::function<double(double)>& f, double x0, double x1) {
    const bool rises = f(x0) < 0;
    for (int i = 0; i < 45; ++i) {
        const double middle = (x0 + x1) / 2;
        ((f(middle) < 0) == rises ? x0 : x1) = middle;
    }
    return (x0 + x1) / 2;
}

// The share of a segment's time that its arriving handle takes.
double arrivingReach(const Curve& incoming) {
    const Key &a = incoming.keys[0], &b = incoming.keys[1];
    return b.next == Interpolation::Linear && a.next != Interpolation::Eased ? 1.0 / 3 : b.arrive.reach;
}

// Handles of the first segment whose speed at the cut is `ratio` times its change over frame 0, whatever the values
// are: of all that there are those that fall most evenly. The arriving handle is left alone where that is even enough.
std::optional<Curve> withEntryShape(const Curve& incoming, double ratio, Ends ends) {
    const double way =
        toSpace(incoming.keys[1].value, incoming.space) - toSpace(incoming.keys[0].value, incoming.space);
    std::optional<Curve> best;
    double least = 1e300;
    const auto tryArriving = [&](const Curve& arriving) {
        for (int step = 1; step <= 50; ++step) {
            const double reach = step * 0.02;
            if (reach > 1 - 0.5 * arrivingReach(arriving)) break;
            const auto bent = [&](double share) { return withLeaveHandle(arriving, 0, {reach, share * way}); };
            const auto miss = [&](double share) {
                const Curve curve = bent(share);
                return speedAfter(curve, 0) / changeOver(curve, 0, ends) - ratio;
            };
            double before = 0.01;
            for (int twentieth = 1; twentieth <= 20; before = 0.05 * twentieth, ++twentieth) {
                const double share = 0.05 * twentieth;
                const double m0 = miss(before), m1 = miss(share);
                if (!std::isfinite(m0) || !std::isfinite(m1) || (m0 < 0) == (m1 < 0)) continue;
                const Curve found = bent(signChange(miss, before, share));
                const double uneven = unevenness(found, ends);
                if (uneven < least) least = uneven, best = found;
            }
        }
    };
    tryArriving(incoming);
    for (const double reach : {0.2, 0.3, 0.4, 0.6, 0.7, 0.8, 0.9})
        if (least > mostUneven && incoming.keys[1].arrive.rise == 0)
            tryArriving(withArriveHandle(incoming, 1, {reach, 0}));
    return best;
}

} // namespace

double unevenness(const Curve& incoming, Ends ends) {
    if (incoming.keys.size() < 2) return 1;
    constexpr int most = 250; // frames: ten seconds tell
    const int last = std::min(most, int(std::ceil(incoming.keys.back().time)));
    const double first = changeOver(incoming, 0, ends), least = 0.05 * std::abs(first);
    if (first == 0) return 1;
    double worst = 1, before = std::abs(first);
    for (int n = 1; n <= last; ++n) {
        const double change = changeOver(incoming, n, ends) * (first > 0 ? 1 : -1);
        const double now = std::max(change, least); // going back counts as standing still
        worst = std::max({worst, before / now, now / before});
        before = now;
    }
    return worst;
}

double momentaryAtCut(const Curve& outgoing) {
    if (outgoing.keys.size() < 2) return 0;
    return outgoing.keys.back().time < 0 ? runOnSpeed(outgoing, CurveEnd::Last) : speedBefore(outgoing, 0);
}

Curve levelledAtCut(const Curve& outgoing, double most, Ends ends) {
    const double mean = std::abs(changeOver(outgoing, -1, ends));
    if (outgoing.keys.size() < 2 || std::abs(momentaryAtCut(outgoing)) <= most * mean) return outgoing;
    const Key last = outgoing.keys.back();
    if (last.time <= -1 + smallestKeyGap || outgoing.keys.front().time >= -1 - smallestKeyGap) return outgoing;
    int at = -1;
    Curve out = withKeyAdded(outgoing, -1, 0, &at);
    if (at < 1) return outgoing;
    out.keys.resize(std::size_t(at) + 1);
    Key& end = out.keys.back();
    const double way = speedBefore(out, end.time) * (last.time - end.time);
    end.next = Interpolation::Linear;
    end.leave = {1.0 / 3, way / 3};
    Key next = last;
    next.value = fromSpace(toSpace(end.value, out.space) + way, out.space);
    next.arrive = {1.0 / 3, way / 3};
    out.keys.push_back(next);
    return out;
}

Expected<Curve> matchedByFirstValue(const Curve& incoming, const EntryRate& wanted, double lowest, double highest,
                                    Ends ends) {
    const double rate = wanted.frame;
    if (auto can = canBeMatched(incoming); !can) return tl::unexpected(can.error());
    const double b = toSpace(incoming.keys[1].value, incoming.space);
    Curve shaped = incoming;
    if (std::abs(toSpace(incoming.keys[0].value, incoming.space) - b) < 1e-12) {
        shaped = withKeyMoved(shaped, 0, shaped.keys[0].time, fromSpace(b - 1, shaped.space));
        // A flat segment has no shape of its own: give it the usual one.
        if (shaped.keys[0].next == Interpolation::Eased) shaped = withShape(shaped, 0, arrivingShape());
    }
    if (wanted.momentary && std::abs(rate) > 1e-9) {
        const auto entry = withEntryShape(shaped, *wanted.momentary / rate, ends);
        if (!entry) return cannot("no first handle gives both speeds", "match the frames alone");
        shaped = *entry;
    }
    const auto from = [&](double difference) {
        return withKeyMoved(shaped, 0, shaped.keys[0].time, fromSpace(b - difference, shaped.space));
    };
    // With the shape kept, the change over a frame is linear in the difference of the first two values, but for frames
    // that reach into the next segment.
    const double one = changeOver(from(1), 0, ends), half = changeOver(from(0.5), 0, ends);
    const double even = 0.5 / (shaped.keys[1].time - shaped.keys[0].time); // what a straight segment would give
    if (std::abs(one - half) < 0.1 * even)
        return cannot("the incoming curve starts flat", "choose a shape that starts steep");
    const double guess = 0.5 + 0.5 * (rate - half) / (one - half);
    const auto beyond = [&](double difference) {
        const double value = fromSpace(b - difference, shaped.space);
        return !(value >= lowest && value <= highest);
    };
    const auto tooFar = [&](double difference) {
        return cannot(fmt::format("the first value would have to be {:.3g}", fromSpace(b - difference, shaped.space)),
                      "make the incoming side longer");
    };
    if (beyond(guess)) return tooFar(guess);
    const auto difference =
        zeroOf([&](double d) { return changeOver(from(d), 0, ends) - rate; }, guess + 0.01, guess, exact);
    if (!difference) return cannot("no first value gives that speed", "make the incoming side longer");
    if (beyond(*difference)) return tooFar(*difference);
    return from(*difference);
}

Expected<Curve> matchedByFirstHandle(const Curve& incoming, const EntryRate& wanted, Ends ends) {
    if (auto can = canBeMatched(incoming); !can) return tl::unexpected(can.error());
    const double rate = wanted.frame;
    const Key &a = incoming.keys[0], &b = incoming.keys[1];
    const double change = toSpace(b.value, incoming.space) - toSpace(a.value, incoming.space);
    if (std::abs(rate) > 1e-9 && (std::abs(change) < 1e-9 || (change > 0) != (rate > 0)))
        return cannot("the incoming side goes the other way", "turn it round first");
    // A handle of a reach that gives the rate over the frame.
    const auto ofReach = [&](double reach) -> std::optional<Curve> {
        const auto bent = [&](double rise) { return withLeaveHandle(incoming, 0, {reach, rise}); };
        const double full = std::abs(change) > 1e-9 ? change : 1;
        const auto rise =
            zeroOf([&](double r) { return changeOver(bent(r), 0, ends) - rate; }, 0.4 * full, 0.6 * full, exact);
        // Past the way that there is, or backwards: it would overshoot.
        if (!rise || *rise * (change < 0 ? -1 : 1) < -1e-9 || std::abs(*rise) > std::abs(change) + 1e-9) return {};
        return bent(*rise);
    };
    Curve best;
    double least = 1e300;
    const auto consider = [&](const Curve& matched) {
        if (const double uneven = unevenness(matched, ends); uneven < least) least = uneven, best = matched;
    };
    // How far the speed at the cut is from what is asked for, where a reach gives the rate at all.
    const auto miss = [&](double reach) {
        const auto curve = ofReach(reach);
        return curve ? speedAfter(*curve, 0) - *wanted.momentary : std::nan("");
    };
    double before = std::nan("");
    for (int step = 1; step <= 50; ++step) {
        const double reach = step * 0.02;
        if (reach > 1 - 0.5 * arrivingReach(incoming)) break; // both handles together would make it fold over
        if (!wanted.momentary) {
            if (const auto matched = ofReach(reach)) consider(*matched);
            continue;
        }
        const double now = miss(reach);
        if (std::isfinite(before) && std::isfinite(now) && (before < 0) != (now < 0))
            if (const auto matched = ofReach(signChange(miss, reach - 0.02, reach))) consider(*matched);
        before = now;
    }
    if (best.isEmpty() && wanted.momentary)
        return cannot("no first handle gives both speeds with these values", "change the first value");
    if (best.isEmpty())
        return cannot("no first handle gives that speed with these values", "change the first value, or the length");
    if (std::abs(rate) > 1e-9 && least > mostUneven)
        return cannot(
            fmt::format("the values leave too little to travel: the speed would fall to {:.0f} % within a frame",
                        100 / least),
            "start farther away, make the incoming side shorter, or let the outgoing side leave more softly");
    return best;
}

} // namespace virga
