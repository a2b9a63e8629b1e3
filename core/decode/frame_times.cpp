#include "core/decode/frame_times.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <optional>

namespace virga {
namespace {

const std::vector<Rational>& usualRates() {
    static const std::vector<Rational> rates = {
        Rational(10),  Rational(12),  Rational(15),          Rational(20),           Rational(24000, 1001),
        Rational(24),  Rational(25),  Rational(30000, 1001), Rational(30),           Rational(48000, 1001),
        Rational(48),  Rational(50),  Rational(60000, 1001), Rational(60),           Rational(90),
        Rational(100), Rational(120), Rational(240),         Rational(120000, 1001), Rational(240000, 1001)};
    return rates;
}

double relative(Rational a, double b) {
    return std::abs(a.toDouble() / b - 1);
}

// Which picture of a constant rate each stamp is, where all are within half a tick of it: their distances to the rate's
// own times then span one tick at most. Where a clock is very fine, a quarter of a millisecond is allowed all the same:
// some writers round to another clock first.
std::optional<std::vector<std::int64_t>> numbersAt(std::span<const std::int64_t> stamps, Rational tick, Rational rate) {
    const double period = 1 / (rate.toDouble() * tick.toDouble()); // in ticks
    const double widest = std::max(1.0, 0.0005 / tick.toDouble());
    // A clock hardly finer than the pictures themselves tells only whole ticks.
    if (period < 1.5 && std::abs(period - 1) > 1e-9) return std::nullopt;
    std::vector<std::int64_t> numbers;
    numbers.reserve(stamps.size());
    double least = 0, most = 0;
    for (const auto stamp : stamps) {
        const double ticks = double(stamp - stamps.front());
        const double number = std::round((ticks - (least + most) / 2) / period);
        const double distance = ticks - number * period;
        least = std::min(least, distance), most = std::max(most, distance);
        if (most - least > widest + 1e-6 || std::abs(number) > 1e15) return std::nullopt;
        if (!numbers.empty() && std::int64_t(number) <= numbers.back()) return std::nullopt;
        numbers.push_back(std::int64_t(number));
    }
    return numbers;
}

struct StampGrid {
    Rational rate;
    std::vector<std::int64_t> numbers;
};

// The slowest constant rate that explains all stamps. Where two are so near each other that a short clip fits both (24
// and 24000/1001), the one that the file names, then the one nearest to what was measured.
std::optional<StampGrid> gridOf(std::span<const std::int64_t> stamps, Rational tick,
                                std::span<const Rational> announced) {
    if (stamps.size() < 2) return std::nullopt;
    const double measured =
        double(stamps.size() - 1) / (double(stamps.back() - stamps.front()) * std::max(1e-18, tick.toDouble()));
    std::vector<Rational> rates;
    for (const Rational rate : announced) {
        // A file's own mean, a little beside a usual rate, is no better than what is measured here.
        const bool usual = std::find(usualRates().begin(), usualRates().end(), rate) != usualRates().end();
        const bool beside = std::any_of(usualRates().begin(), usualRates().end(),
                                        [&](Rational u) { return relative(u, rate.toDouble()) < 0.0015; });
        if (isUsableRate(rate) && (usual || !beside)) rates.push_back(rate);
    }
    const std::size_t named = rates.size();
    for (const Rational rate : usualRates())
        if (std::find(rates.begin(), rates.end(), rate) == rates.end()) rates.push_back(rate);
    std::optional<StampGrid> best;
    std::size_t bestAt = 0;
    for (std::size_t i = 0; i < rates.size(); ++i) {
        if (rates[i].toDouble() < measured * 0.99) continue; // there are more pictures than it has places
        if (best && rates[i].toDouble() > best->rate.toDouble() * 1.002) continue;
        auto numbers = numbersAt(stamps, tick, rates[i]);
        if (!numbers) continue;
        const bool near = best && relative(rates[i], best->rate.toDouble()) < 0.002;
        if (near && bestAt < named) continue;
        if (near && i >= named && relative(rates[i], measured) >= relative(best->rate, measured)) continue;
        best = StampGrid{rates[i], std::move(*numbers)};
        bestAt = i;
    }
    return best;
}

struct Gaps {
    std::int64_t shortest = 0, longest = 0, quarter = 0; // a quarter of all gaps are not longer than `quarter`
};

Gaps gapsOf(std::span<const std::int64_t> stamps) {
    std::vector<std::int64_t> gaps;
    for (std::size_t i = 1; i < stamps.size(); ++i) gaps.push_back(stamps[i] - stamps[i - 1]);
    if (gaps.empty()) return {};
    const auto [least, most] = std::minmax_element(gaps.begin(), gaps.end());
    Gaps out{*least, *most, 0};
    std::nth_element(gaps.begin(), gaps.begin() + std::ptrdiff_t(gaps.size() / 4), gaps.end());
    out.quarter = gaps[gaps.size() / 4];
    return out;
}

// The average where gaps are even. Where they are not (a phone that drops frames), the rate of the short gaps, which
// are those between frames that were not dropped.
Rational nominalRate(std::span<const std::int64_t> stamps, Rational tick, const Gaps& gaps, bool variable,
                     std::span<const Rational> announced) {
    Rational measured;
    if (stamps.size() > 1)
        measured = Rational(std::int64_t(stamps.size() - 1)) / (Rational(stamps.back() - stamps.front()) * tick);
    if (variable) {
        measured = Rational(1) / (Rational(gaps.quarter) * tick);
        for (const Rational usual : usualRates())
            if (usual.den == 1 && usual <= Rational(120) && relative(usual, measured.toDouble()) < 0.04) return usual;
    }
    for (const Rational rate : announced)
        if (!isUsableRate(measured) && isUsableRate(rate)) measured = rate;
    if (!isUsableRate(measured)) return 25;
    for (const Rational usual : usualRates())
        if (relative(usual, measured.toDouble()) < 0.0005) return usual;
    return Rational(roundToInteger(measured * 1000), 1000);
}

} // namespace

std::int64_t FrameTimes::indexAt(Rational seconds) const {
    // The last picture that starts at or before the time. Compared as exact rationals: no rounding picks a neighbour.
    const Rational at = seconds + slack;
    const auto after = std::upper_bound(starts.begin(), starts.end(), at);
    return std::max<std::int64_t>(0, after - starts.begin() - 1);
}

FrameTimes frameTimesOf(std::span<const std::int64_t> stamps, Rational tick, std::int64_t lastDuration,
                        std::span<const Rational> announced) {
    assert(!stamps.empty() && tick > Rational(0));
    FrameTimes times;
    times.starts.reserve(stamps.size());
    const Gaps gaps = gapsOf(stamps);
    if (const auto grid = gridOf(stamps, tick, announced)) {
        times.rate = grid->rate;
        for (const auto number : grid->numbers) times.starts.push_back(Rational(number) / grid->rate);
        times.variable = stamps.size() > 2 && grid->numbers.back() != std::int64_t(stamps.size()) - 1;
        times.end = Rational(grid->numbers.back() + 1) / grid->rate;
        // A picture that was announced to stay (the last one of a slide show) does.
        const Rational last = times.starts.back() + Rational(std::max<std::int64_t>(lastDuration, 0)) * tick;
        if (last > times.end + tick && last > times.end + Rational(1, 2) / grid->rate) times.end = last;
        return times;
    }
    // Uneven by more than a tick, and by more than the eye could tell.
    times.variable = stamps.size() > 2 && gaps.longest - gaps.shortest > 1 &&
                     double(gaps.longest - gaps.shortest) * tick.toDouble() > 0.0015;
    for (const auto stamp : stamps) times.starts.push_back(Rational(stamp - stamps.front()) * tick);
    times.rate = nominalRate(stamps, tick, gaps, times.variable, announced);
    times.slack =
        std::min(tick, Rational(std::max<std::int64_t>(gaps.shortest, 1)) * tick * Rational(1, 4)) * Rational(1, 2);
    if (lastDuration <= 0)
        lastDuration = stamps.size() > 1 ? (stamps.back() - stamps.front()) / std::int64_t(stamps.size() - 1) : 1;
    times.end = times.starts.back() + Rational(lastDuration) * tick;
    return times;
}

} // namespace virga
