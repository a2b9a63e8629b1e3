#include "core/beats/find_beats.h"

#include <aubio/aubio.h>

#include <algorithm>
#include <cmath>

#include "core/media/audio_reader.h"

namespace virga {
namespace {

constexpr uint_t window = 1024, hop = 256;
constexpr int envelopeRate = 500; // 2 ms
constexpr int envelopeStep = audioRate / envelopeRate;

template <auto Free> struct With {
    template <typename T> void operator()(T* p) const { Free(p); }
};

// The 2 ms in which it grows loudest around a time: aubio's onsets come a little late and by whole hops.
double sharpened(const std::vector<float>& energy, double seconds) {
    const auto from = std::max<long>(2, std::lround((seconds - 0.045) * envelopeRate));
    const auto to = std::min<long>(long(energy.size()) - 2, std::lround((seconds + 0.02) * envelopeRate));
    double most = 0, best = seconds;
    for (long i = from; i < to; ++i) {
        const double before = double(energy[std::size_t(i - 1)]) + energy[std::size_t(i - 2)];
        const double after = double(energy[std::size_t(i)]) + energy[std::size_t(i + 1)];
        const double rise = std::log((after + 1e-7) / (before + 1e-7)) * std::sqrt(after);
        if (rise > most) most = rise, best = double(i) / envelopeRate;
    }
    return best;
}

double strengthAt(const std::vector<float>& energy, double seconds) {
    const auto from = std::max<long>(0, std::lround(seconds * envelopeRate));
    double most = 0;
    for (long i = from; i < std::min<long>(from + 15, long(energy.size())); ++i)
        most = std::max(most, std::sqrt(double(energy[std::size_t(i)])));
    return most;
}

} // namespace

struct BeatFinder::State {
    std::unique_ptr<aubio_onset_t, With<del_aubio_onset>> onset{new_aubio_onset("default", window, hop, audioRate)};
    std::unique_ptr<aubio_tempo_t, With<del_aubio_tempo>> tempo{new_aubio_tempo("default", window, hop, audioRate)};
    std::unique_ptr<fvec_t, With<del_fvec>> in{new_fvec(hop)}, out{new_fvec(2)};
    uint_t filled = 0;
    std::vector<double> onsets, beats;
    std::vector<float> energy; // mean square of each 2 ms
    double sum = 0;
    int summed = 0;

    void process() {
        aubio_onset_do(onset.get(), in.get(), out.get());
        if (fvec_get_sample(out.get(), 0) > 0) onsets.push_back(double(aubio_onset_get_last_s(onset.get())));
        aubio_tempo_do(tempo.get(), in.get(), out.get());
        if (fvec_get_sample(out.get(), 0) > 0) beats.push_back(double(aubio_tempo_get_last_s(tempo.get())));
        filled = 0;
    }
};

BeatFinder::BeatFinder() : m_state(std::make_unique<State>()) {}
BeatFinder::~BeatFinder() = default;

void BeatFinder::add(std::span<const float> mono) {
    State& s = *m_state;
    for (float v : mono) {
        if (!std::isfinite(v)) v = 0;
        fvec_set_sample(s.in.get(), v, s.filled++);
        if (s.filled == hop) s.process();
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
    // The last onset needs a window of silence after it to be seen.
    const std::vector<float> tail(window * 4, 0.0f);
    add(tail);
    std::vector<double> onsets, strengths;
    double loudest = 0;
    for (const double at : s.onsets) {
        const double exact = sharpened(s.energy, at);
        if (!onsets.empty() && exact - onsets.back() < 0.03) continue;
        onsets.push_back(exact);
        strengths.push_back(strengthAt(s.energy, exact));
        loudest = std::max(loudest, strengths.back());
    }
    // A beat at the very first sample has nothing before it to rise from.
    if (strengthAt(s.energy, 0) > 0.3 * loudest && loudest > 0 && (onsets.empty() || onsets.front() > 0.05)) {
        onsets.insert(onsets.begin(), 0);
        strengths.insert(strengths.begin(), strengthAt(s.energy, 0));
    }
    for (double& strength : strengths) strength /= std::max(loudest, 1e-9);
    return beatsThrough(onsets, strengths, double(aubio_tempo_get_bpm(s.tempo.get())));
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
