// From onsets to a grid of beats.
#include <algorithm>
#include <cmath>
#include <optional>

#include "core/beats/find_beats.h"

namespace virga {
namespace {

struct Candidate {
    Grid grid;
    double score = 0, hits = 0;
};

// The onset that belongs to each beat of a grid: the nearest within a sixth of the period.
struct Assigned {
    std::vector<double> seconds, strengths;
    std::vector<int> beats;
};

Assigned assign(const Grid& grid, const std::vector<double>& onsets, const std::vector<double>& strengths) {
    Assigned out;
    const double reach = std::min(0.09, grid.period / 6);
    for (std::size_t i = 0; i < onsets.size(); ++i) {
        const int beat = int(std::lround((onsets[i] - grid.first) / grid.period));
        const double off = std::abs(grid.first + beat * grid.period - onsets[i]);
        if (off > reach) continue;
        if (!out.beats.empty() && out.beats.back() == beat) {
            if (strengths[i] > out.strengths.back())
                out.seconds.back() = onsets[i], out.strengths.back() = strengths[i];
            continue;
        }
        out.beats.push_back(beat);
        out.seconds.push_back(onsets[i]);
        out.strengths.push_back(strengths[i]);
    }
    return out;
}

// The phase at which the most strength falls on beats of a period.
double bestPhase(double period, const std::vector<double>& onsets, const std::vector<double>& strengths) {
    double best = 0, most = -1;
    for (const double at : onsets) {
        const double phase = std::fmod(at, period);
        double sum = 0;
        for (std::size_t i = 0; i < onsets.size(); ++i) {
            double off = std::abs(std::remainder(onsets[i] - phase, period));
            sum += strengths[i] * std::exp(-off * off / (2 * 0.015 * 0.015));
        }
        if (sum > most) most = sum, best = phase;
        if (onsets.size() > 400 && at > 60) break; // a minute is enough to find it
    }
    return best;
}

// A tempo that is a little off drifts away over a long piece, so the fit starts with the first beats and grows.
std::optional<Candidate> fit(double period, const std::vector<double>& onsets, const std::vector<double>& strengths) {
    Candidate c;
    c.grid = {period, bestPhase(period, onsets, strengths), 0};
    for (std::size_t upTo = 12;; upTo *= 2) {
        const std::size_t n = std::min(upTo, onsets.size());
        const std::vector<double> part(onsets.begin(), onsets.begin() + std::ptrdiff_t(n));
        for (int round = 0; round < 3; ++round) {
            const Assigned a = assign(c.grid, part, strengths);
            if (a.beats.size() < 3) return std::nullopt;
            const Grid next = gridThrough(a.seconds, a.beats);
            if (std::abs(next.period / period - 1) > 0.08) return std::nullopt;
            c.grid = next;
        }
        if (n == onsets.size()) break;
    }
    const Assigned a = assign(c.grid, onsets, strengths);
    double near = 0, all = 0;
    for (std::size_t i = 0; i < a.seconds.size(); ++i) {
        const double off = a.seconds[i] - c.grid.first - a.beats[i] * c.grid.period;
        near += a.strengths[i] * std::exp(-off * off / (2 * 0.02 * 0.02));
    }
    for (const double s : strengths) all += s;
    const double span = std::max(1.0, (onsets.back() - onsets.front()) / c.grid.period + 1);
    c.hits = double(a.beats.size()) / span;
    const double precision = std::min(1.0, c.hits), recall = near / std::max(all, 1e-9);
    const double octaves = std::log2(60 / c.grid.period / 120);
    c.score =
        2 * precision * recall / std::max(1e-9, precision + recall) * std::exp(-octaves * octaves / (2 * 0.9 * 0.9));
    return c;
}

Rational microseconds(double seconds) {
    return Rational(std::llround(seconds * 1e6), 1000000);
}

} // namespace

Expected<FoundBeats> beatsThrough(const std::vector<double>& onsets, const std::vector<double>& strengths,
                                  double nearTempo) {
    if (onsets.size() < 4)
        return fail(ErrorCode::BadInput, "too little sounds in it to find a beat", {},
                    "tap the beat along, or type the tempo");
    std::vector<double> gaps;
    for (std::size_t i = 1; i < onsets.size(); ++i) gaps.push_back(onsets[i] - onsets[i - 1]);
    std::nth_element(gaps.begin(), gaps.begin() + std::ptrdiff_t(gaps.size() / 2), gaps.end());
    const double usual = 60 / std::max(gaps[gaps.size() / 2], 0.01);
    std::optional<Candidate> best;
    for (const double base : {nearTempo, usual})
        for (const double times : {1.0, 2.0, 0.5, 1.5, 2.0 / 3, 3.0, 1.0 / 3, 4.0, 0.25}) {
            const double tempo = base * times;
            if (!std::isfinite(tempo) || tempo < 45 || tempo > 240) continue;
            const auto c = fit(60 / tempo, onsets, strengths);
            if (c && (!best || c->score > best->score)) best = c;
        }
    if (!best)
        return fail(ErrorCode::BadInput, "no steady beat can be heard in it", {},
                    "tap the beat along, or type the tempo");
    FoundBeats found;
    const Assigned a = assign(best->grid, onsets, strengths);
    // Beat 0 is the first beat of the grid that sounds.
    const int first = a.beats.empty() ? 0 : a.beats.front();
    found.tempo.beatsPerMinute = 60 / best->grid.period;
    found.tempo.firstBeat = microseconds(best->grid.first + first * best->grid.period);
    found.confidence = std::min(1.0, best->hits);
    std::vector<double> off;
    for (std::size_t i = 0; i < a.seconds.size(); ++i)
        off.push_back(std::abs(a.seconds[i] - best->grid.first - a.beats[i] * best->grid.period));
    if (!off.empty()) {
        std::nth_element(off.begin(), off.begin() + std::ptrdiff_t(off.size() * 9 / 10), off.end());
        found.steady = off[off.size() * 9 / 10] < 0.02;
    }
    // Played by hand: each beat goes where it sounds.
    if (!found.steady)
        for (std::size_t i = 0; i < a.seconds.size(); ++i) found.tempo.placed[a.beats[i] - first] = a.seconds[i];
    return found;
}

} // namespace virga
