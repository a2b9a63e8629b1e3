#include "core/analysis/find_beats.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/analysis/beat_tracker.h"
#include "core/audio/audio_reader.h"

namespace virga {
namespace {

constexpr int envelopeRate = 500; // 2 ms
constexpr int envelopeStep = audioRate / envelopeRate;

// The 2 ms around a time in which it grows loudest; the time itself where nothing begins there.
double sharpened(const std::vector<float>& energy, double seconds) {
    constexpr double around = 0.03;
    const auto from = std::max<long>(2, std::lround((seconds - around) * envelopeRate));
    const auto to = std::min<long>(long(energy.size()) - 2, std::lround((seconds + around) * envelopeRate));
    constexpr double leastRise = 0.7; // of the logarithm of the energy: twice as much
    double most = 0, best = seconds;
    for (long i = from; i < to; ++i) {
        const double before = double(energy[std::size_t(i - 1)]) + energy[std::size_t(i - 2)];
        const double after = double(energy[std::size_t(i)]) + energy[std::size_t(i + 1)];
        const double grown = std::log((after + 1e-9) / (before + 1e-9)), rise = grown * std::sqrt(after);
        if (grown > leastRise && rise > most) most = rise, best = double(i) / envelopeRate;
    }
    return best;
}

Rational microseconds(double seconds) {
    return Rational(std::llround(seconds * 1e6), 1000000);
}

} // namespace

struct BeatFinder::State {
    NoveltyMeter novelty;
    std::vector<float> energy; // mean square of each 2 ms
    double sum = 0;
    int summed = 0;
};

BeatFinder::BeatFinder() : m_state(std::make_unique<State>()) {}
BeatFinder::~BeatFinder() = default;

void BeatFinder::add(std::span<const float> mono) {
    State& s = *m_state;
    s.novelty.add(mono);
    for (float v : mono) {
        if (!std::isfinite(v)) v = 0;
        s.sum += double(v) * v;
        if (++s.summed == envelopeStep) {
            s.energy.push_back(float(s.sum / envelopeStep));
            s.sum = 0;
            s.summed = 0;
        }
    }
}

Expected<FoundBeats> BeatFinder::finish() {
    State& s = *m_state;
    const auto tracked = trackBeats(s.novelty.finish());
    if (!tracked) return tl::unexpected(tracked.error());
    std::vector<double> at = tracked->seconds;
    for (double& seconds : at) seconds = std::max(0.0, sharpened(s.energy, seconds));
    for (std::size_t i = 1; i < at.size(); ++i) at[i] = std::max(at[i], at[i - 1] + 0.05);
    std::vector<int> numbers(at.size());
    for (std::size_t i = 0; i < at.size(); ++i) numbers[i] = int(i);
    const Grid grid = gridThrough(at, numbers);
    std::vector<double> off;
    for (std::size_t i = 0; i < at.size(); ++i) off.push_back(std::abs(at[i] - grid.first - double(i) * grid.period));
    std::nth_element(off.begin(), off.begin() + std::ptrdiff_t(off.size() * 9 / 10), off.end());
    FoundBeats found;
    found.confidence = tracked->confidence;
    found.steady = off[off.size() * 9 / 10] < 0.02;
    found.tempo.beatsPerMinute = 60 / grid.period;
    found.tempo.firstBeat = microseconds(grid.first);
    found.barsKnown = tracked->perBar > 0;
    if (found.barsKnown) found.tempo.beatsPerBar = tracked->perBar;
    // Beat 0 begins a bar: where the first that sounds does not, those before it lie before the music.
    const int ahead = found.barsKnown && tracked->firstOfBar > 0 ? tracked->perBar - tracked->firstOfBar : 0;
    if (!found.steady) {
        for (std::size_t i = 0; i < at.size(); ++i) found.tempo.placed[int(i)] = at[i];
        constexpr std::size_t some = 8;
        found.slowest = 1e9;
        for (std::size_t i = 0; i + some < at.size(); ++i) {
            const double here = 60 * double(some) / (at[i + some] - at[i]);
            found.slowest = std::min(found.slowest, here), found.fastest = std::max(found.fastest, here);
        }
        if (found.fastest == 0) found.slowest = found.fastest = found.tempo.beatsPerMinute;
    }
    if (ahead > 0) found.tempo = renumbered(found.tempo, ahead);
    found.firstHeard = ahead;
    found.lastHeard = ahead + int(at.size()) - 1;
    if (tracked->otherTempo > 0)
        found.otherTempo = found.tempo.beatsPerMinute * (tracked->otherTempo > tracked->tempo ? 2 : 0.5);
    return found;
}

std::string FoundBeats::described() const {
    if (!isSure()) return "unsure: hardly more begins on these beats than anywhere else";
    const std::string other =
        otherTempo > 0 ? fmt::format("; it may as well be counted at {:.4g}", otherTempo) : std::string();
    if (steady) return "steady" + other;
    return (changesTempo() ? fmt::format("the tempo goes between {:.0f} and {:.0f}", slowest, fastest)
                           : std::string("played freely, each beat where it sounds")) +
           other;
}

Expected<FoundBeats> findBeats(const std::filesystem::path& path, Rational duration,
                               const std::function<void(double)>& progress, const Cancel& cancel) {
    BeatFinder finder;
    const double seconds = std::clamp(duration.toDouble(), 0.0, 1200.0);
    constexpr std::int64_t chunk = 10;
    const auto reader = AudioReader::open(path, 1, cancel);
    if (!reader) return tl::unexpected(reader.error());
    for (std::int64_t from = 0; double(from) < seconds; from += chunk) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        const auto count = std::int64_t(std::min<double>(double(chunk), seconds - double(from)) * audioRate);
        auto sound = (*reader)->read(from, count, cancel);
        if (!sound) return tl::unexpected(sound.error());
        std::vector<float> mono(std::size_t(count), 0.0f);
        for (std::size_t i = 0; i < mono.size(); ++i) mono[i] = ((*sound)[2 * i] + (*sound)[2 * i + 1]) / 2;
        finder.add(mono);
        if (progress) progress(std::min(1.0, double(from + chunk) / seconds));
    }
    auto found = finder.finish();
    if (!found) found.error().place = path.string();
    return found;
}

} // namespace virga
