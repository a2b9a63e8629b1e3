#include "core/audio/limiter.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <deque>
#include <numbers>

namespace virga {
namespace {

constexpr std::int64_t half = limiterReach / 2; // 10 ms

// The least gain in a window of `half` samples on both sides, for each sample that has one.
std::vector<float> leastAround(const std::vector<float>& gains) {
    std::vector<float> least(gains.size() - std::size_t(2 * half));
    std::deque<std::size_t> rising; // indices of gains that may still be the least, lowest gain first
    for (std::size_t i = 0; i < gains.size(); ++i) {
        while (!rising.empty() && gains[rising.back()] >= gains[i]) rising.pop_back();
        rising.push_back(i);
        if (i < std::size_t(2 * half)) continue;
        const std::size_t from = i - std::size_t(2 * half);
        if (rising.front() < from) rising.pop_front();
        least[from] = gains[rising.front()];
    }
    return least;
}

// Weights of a raised cosine that add up to 1.
const std::vector<double>& window() {
    static const std::vector<double> weights = [] {
        std::vector<double> w(std::size_t(2 * half + 1));
        double sum = 0;
        for (std::size_t i = 0; i < w.size(); ++i)
            sum += w[i] = 1 - std::cos(2 * std::numbers::pi * double(i + 1) / double(w.size() + 1));
        for (double& v : w) v /= sum;
        return w;
    }();
    return weights;
}

} // namespace

std::vector<float> limited(const std::vector<float>& stereo, float* deepest) {
    assert(stereo.size() >= std::size_t(4 * limiterReach));
    const std::size_t count = stereo.size() / 2, kept = count - std::size_t(2 * limiterReach);
    const auto middle = stereo.begin() + 2 * limiterReach;
    std::vector<float> out(middle, middle + std::ptrdiff_t(2 * kept));
    if (deepest) *deepest = 1;
    if (std::all_of(stereo.begin(), stereo.end(), [](float v) { return std::abs(v) <= limiterCeiling; })) return out;
    std::vector<float> gains(count);
    for (std::size_t i = 0; i < count; ++i) {
        const float peak = std::max(std::abs(stereo[2 * i]), std::abs(stereo[2 * i + 1]));
        gains[i] = peak > limiterCeiling ? limiterCeiling / peak : 1;
    }
    // The mean of least gains around a sample is nowhere above the gain that it needs: each of them counts it, too.
    const auto least = leastAround(gains);
    const auto& weights = window();
    for (std::size_t i = 0; i < kept; ++i) {
        const auto first = least.begin() + std::ptrdiff_t(i);
        if (std::all_of(first, first + 2 * half + 1, [](float g) { return g == 1; })) continue;
        double gain = 0;
        for (std::size_t k = 0; k < weights.size(); ++k) gain += weights[k] * double(first[std::ptrdiff_t(k)]);
        if (deepest) *deepest = std::min(*deepest, float(gain));
        for (const std::size_t c : {2 * i, 2 * i + 1})
            out[c] = std::clamp(float(out[c] * gain), -limiterCeiling, limiterCeiling);
    }
    return out;
}

} // namespace virga
