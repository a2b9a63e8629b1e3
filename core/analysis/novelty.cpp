#include "core/analysis/novelty.h"

#include <aubio/aubio.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/audio/audio_reader.h"

namespace virga {
namespace {

constexpr uint_t window = 2048, hop = audioRate / noveltyRate;
constexpr int lowBands = 8;
constexpr double lowest = 40, highest = 16000; // Hz

template <auto Free> struct With {
    template <typename T> void operator()(T* p) const { Free(p); }
};

// The mean of a list around each place, `reach` to each side, over what is there.
std::vector<float> meanAround(const std::vector<float>& values, std::size_t reach) {
    std::vector<double> sums(values.size() + 1, 0);
    for (std::size_t i = 0; i < values.size(); ++i) sums[i + 1] = sums[i] + values[i];
    std::vector<float> mean(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) {
        const std::size_t from = i > reach ? i - reach : 0, to = std::min(values.size(), i + reach + 1);
        mean[i] = float((sums[to] - sums[from]) / double(to - from));
    }
    return mean;
}

std::vector<float> aboveSurroundings(const std::vector<float>& values) {
    const auto mean = meanAround(values, noveltyRate / 4);
    std::vector<float> out(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) out[i] = std::max(0.0F, values[i] - mean[i]);
    return out;
}

} // namespace

struct NoveltyMeter::State {
    std::unique_ptr<aubio_pvoc_t, With<del_aubio_pvoc>> spectra{new_aubio_pvoc(window, hop)};
    std::unique_ptr<fvec_t, With<del_fvec>> in{new_fvec(hop)};
    std::unique_ptr<cvec_t, With<del_cvec>> spectrum{new_cvec(window)};
    uint_t filled = 0;
    std::vector<float> levels; // noveltyBands a frame
    std::array<std::pair<uint_t, uint_t>, noveltyBands> bins;

    State() {
        const double ratio = std::pow(highest / lowest, 1.0 / noveltyBands), width = double(audioRate) / window;
        for (int b = 0; b < noveltyBands; ++b) {
            const double from = lowest * std::pow(ratio, b);
            const auto first = uint_t(std::ceil(from / width)), last = uint_t(std::ceil(from * ratio / width));
            const auto nearest = uint_t(std::lround(from * std::sqrt(ratio) / width));
            bins[std::size_t(b)] = last > first ? std::pair(first, last) : std::pair(nearest, nearest + 1);
        }
    }
    void process() {
        aubio_pvoc_do(spectra.get(), in.get(), spectrum.get());
        for (const auto& [from, to] : bins) {
            float sum = 0;
            for (uint_t k = from; k < to; ++k) sum += cvec_norm_get_sample(spectrum.get(), k);
            levels.push_back(sum / float(to - from));
        }
        filled = 0;
    }
};

NoveltyMeter::NoveltyMeter() : m_state(std::make_unique<State>()) {}
NoveltyMeter::~NoveltyMeter() = default;

void NoveltyMeter::add(std::span<const float> mono) {
    State& s = *m_state;
    for (float v : mono) {
        fvec_set_sample(s.in.get(), std::isfinite(v) ? v : 0, s.filled++);
        if (s.filled == hop) s.process();
    }
}

Novelty NoveltyMeter::finish() {
    State& s = *m_state;
    const std::vector<float> tail(window, 0.0F);
    add(tail);
    const std::size_t frames = s.levels.size() / noveltyBands;
    std::vector<float> loud(frames, 0.0F);
    float loudest = 0;
    for (std::size_t i = 0; i < frames; ++i) {
        for (std::size_t b = 0; b < noveltyBands; ++b) loud[i] += s.levels[i * noveltyBands + b] / noveltyBands;
        loudest = std::max(loudest, loud[i]);
    }
    const auto around = meanAround(loud, 3 * noveltyRate);
    Novelty out;
    out.bands.resize(s.levels.size());
    constexpr float compression = 30;
    for (std::size_t i = 0; i < frames; ++i)
        for (std::size_t b = 0; b < noveltyBands; ++b)
            out.bands[i * noveltyBands + b] =
                std::log1p(compression * s.levels[i * noveltyBands + b] / (around[i] + loudest * 1e-3F + 1e-9F));
    std::vector<float> all(frames, 0.0F), low(frames, 0.0F);
    for (std::size_t i = 0; i + 1 < frames; ++i) // before the first there is silence
        for (std::size_t b = 0; b < noveltyBands; ++b) {
            const float before = i > 0 ? out.bands[(i - 1) * noveltyBands + b] : 0;
            const float rise = std::max(0.0F, out.bands[(i + 1) * noveltyBands + b] - before);
            all[i] += rise / noveltyBands;
            if (b < lowBands) low[i] += rise / lowBands;
        }
    constexpr float lowShare = 0.6F; // drums and basses carry the beat
    for (std::size_t i = 0; i < frames; ++i) all[i] += lowShare * low[i];
    out.all = aboveSurroundings(all);
    out.low = aboveSurroundings(low);
    std::vector<float> squares(frames);
    double whole = 0;
    for (std::size_t i = 0; i < frames; ++i) squares[i] = out.all[i] * out.all[i], whole += squares[i];
    const float floor = 0.1F * float(std::sqrt(whole / std::max<double>(1, double(frames)))) + 1e-9F;
    const auto power = meanAround(squares, 4 * noveltyRate);
    for (std::size_t i = 0; i < frames; ++i) {
        const float scale = 1 / (std::sqrt(power[i]) + floor);
        out.all[i] *= scale, out.low[i] *= scale;
    }
    return out;
}

} // namespace virga
