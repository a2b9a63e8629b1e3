#include "core/project/tempo.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

double onGrid(const Tempo& tempo, int beat) {
    return tempo.firstBeat.toDouble() + beat * 60 / tempo.beatsPerMinute;
}

Rational toMicroseconds(double seconds) {
    return Rational(std::llround(seconds * 1e6), 1000000);
}

} // namespace

double beatTime(const Tempo& tempo, int beat) {
    const auto at = tempo.placed.find(beat);
    return at == tempo.placed.end() ? onGrid(tempo, beat) : at->second;
}

int beatBefore(const Tempo& tempo, double seconds) {
    seconds += 0.001;
    int beat = int(std::floor((seconds - tempo.firstBeat.toDouble()) * tempo.beatsPerMinute / 60));
    // Placed beats may lie far from the grid, but stay in their order.
    while (beatTime(tempo, beat) > seconds) --beat;
    while (beatTime(tempo, beat + 1) <= seconds) ++beat;
    return beat;
}

Tempo halved(const Tempo& tempo) {
    Tempo out = tempo;
    out.beatsPerMinute /= 2;
    out.placed.clear();
    for (const auto& [beat, at] : tempo.placed)
        if (beat % 2 == 0) out.placed[beat / 2] = at;
    return out;
}

Tempo doubled(const Tempo& tempo) {
    Tempo out = tempo;
    out.beatsPerMinute *= 2;
    out.placed.clear();
    for (const auto& [beat, at] : tempo.placed) {
        out.placed[beat * 2] = at;
        // What lies between two beats follows where either was moved.
        out.placed[beat * 2 + 1] = (at + beatTime(tempo, beat + 1)) / 2;
        out.placed[beat * 2 - 1] = (at + beatTime(tempo, beat - 1)) / 2;
    }
    return out;
}

Tempo shifted(const Tempo& tempo, double seconds) {
    Tempo out = tempo;
    out.firstBeat = toMicroseconds(tempo.firstBeat.toDouble() + seconds);
    for (auto& [beat, at] : out.placed) at += seconds;
    return out;
}

Tempo renumbered(const Tempo& tempo, int beats) {
    Tempo out = tempo;
    out.firstBeat = toMicroseconds(onGrid(tempo, -beats));
    out.placed.clear();
    for (const auto& [beat, at] : tempo.placed) out.placed[beat + beats] = at;
    return out;
}

Tempo withBeatAt(const Tempo& tempo, int beat, double seconds) {
    constexpr double apart = 0.03;
    const double from = beatTime(tempo, beat - 1) + apart, to = beatTime(tempo, beat + 1) - apart;
    Tempo out = tempo;
    if (from < to) out.placed[beat] = std::clamp(seconds, from, to);
    return out;
}

Grid gridThrough(const std::vector<double>& seconds, const std::vector<int>& beats) {
    const double n = double(seconds.size());
    double sx = 0, sy = 0, sxx = 0, sxy = 0;
    for (std::size_t i = 0; i < seconds.size(); ++i) {
        sx += beats[i];
        sy += seconds[i];
        sxx += double(beats[i]) * beats[i];
        sxy += beats[i] * seconds[i];
    }
    Grid grid;
    const double spread = n * sxx - sx * sx;
    if (spread > 0) grid.period = (n * sxy - sx * sy) / spread;
    grid.first = (sy - grid.period * sx) / n;
    for (std::size_t i = 0; i < seconds.size(); ++i)
        grid.worst = std::max(grid.worst, std::abs(grid.first + grid.period * beats[i] - seconds[i]));
    return grid;
}

Expected<Tempo> tempoFromTaps(const std::vector<double>& seconds, int beatsPerBar) {
    if (seconds.size() < 4)
        return fail(ErrorCode::BadInput, "fewer than four taps say nothing sure", {}, "tap along a little longer");
    std::vector<double> gaps;
    for (std::size_t i = 1; i < seconds.size(); ++i) gaps.push_back(seconds[i] - seconds[i - 1]);
    std::nth_element(gaps.begin(), gaps.begin() + std::ptrdiff_t(gaps.size() / 2), gaps.end());
    const double usual = gaps[gaps.size() / 2];
    if (usual < 0.06 || usual > 6)
        return fail(ErrorCode::BadInput, "these taps are not between 10 and 1000 a minute", {},
                    "tap once on every beat");
    std::vector<int> beats = {0};
    for (std::size_t i = 1; i < seconds.size(); ++i)
        beats.push_back(beats.back() + std::max(1, int(std::lround((seconds[i] - seconds[i - 1]) / usual))));
    const Grid grid = gridThrough(seconds, beats);
    if (grid.worst > 0.4 * grid.period)
        return fail(ErrorCode::BadInput, "the taps are too uneven to be beats", {}, "tap once on every beat");
    Tempo tempo;
    tempo.beatsPerMinute = 60 / grid.period;
    tempo.firstBeat = toMicroseconds(grid.first);
    tempo.beatsPerBar = beatsPerBar;
    return tempo;
}

} // namespace virga
