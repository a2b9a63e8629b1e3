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

Expected<Curve> matchedByFirstValue(const Curve& incoming, double rate, double lowest, double highest, Ends ends) {
    if (auto can = canBeMatched(incoming); !can) return tl::unexpected(can.error());
    const double b = toSpace(incoming.keys[1].value, incoming.space);
    Curve shaped = incoming;
    if (std::abs(toSpace(incoming.keys[0].value, incoming.space) - b) < 1e-12) {
        shaped = withKeyMoved(shaped, 0, shaped.keys[0].time, fromSpace(b - 1, shaped.space));
        // A flat segment has no shape of its own: give it the usual one.
        if (shaped.keys[0].next == Interpolation::Eased) shaped = withShape(shaped, 0, arrivingShape());
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

Expected<Curve> matchedByFirstHandle(const Curve& incoming, double rate, Ends ends) {
    if (auto can = canBeMatched(incoming); !can) return tl::unexpected(can.error());
    const Key &a = incoming.keys[0], &b = incoming.keys[1];
    const double change = toSpace(b.value, incoming.space) - toSpace(a.value, incoming.space);
    if (std::abs(rate) > 1e-9 && (std::abs(change) < 1e-9 || (change > 0) != (rate > 0)))
        return cannot("the incoming side goes the other way", "turn it round first");
    Curve best;
    double least = 1e300;
    const double arrives = b.next == Interpolation::Linear && a.next != Interpolation::Eased ? 1.0 / 3 : b.arrive.reach;
    for (int step = 1; step <= 50; ++step) {
        const double reach = step * 0.02;
        if (reach > 1 - 0.5 * arrives) break; // both handles together would make it fold over
        const auto bent = [&](double rise) { return withLeaveHandle(incoming, 0, {reach, rise}); };
        const double full = std::abs(change) > 1e-9 ? change : 1;
        const auto rise =
            zeroOf([&](double r) { return changeOver(bent(r), 0, ends) - rate; }, 0.4 * full, 0.6 * full, exact);
        // Past the way that there is, or backwards: it would overshoot.
        if (!rise || *rise * (change < 0 ? -1 : 1) < -1e-9 || std::abs(*rise) > std::abs(change) + 1e-9) continue;
        const Curve matched = bent(*rise);
        const double uneven = unevenness(matched, ends);
        if (uneven < least) least = uneven, best = matched;
    }
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
