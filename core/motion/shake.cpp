#include "core/motion/shake.h"

#include <cmath>
#include <numbers>

namespace virga {
namespace {

// Mixes the bits of its argument so that each depends on all (Wellons's "lowbias32" multipliers, found by search and
// published; from memory).
std::uint32_t mixed(std::uint32_t x) {
    x ^= x >> 16;
    x *= 0x7feb352dU;
    x ^= x >> 15;
    x *= 0x846ca68bU;
    x ^= x >> 16;
    return x;
}

// The slope at an integer, from -1 to 1.
double slopeAt(std::int64_t i, std::uint32_t stream) {
    const auto place = static_cast<std::uint32_t>(static_cast<std::uint64_t>(i));
    return double(mixed(place + mixed(stream))) / 2147483647.5 - 1;
}

double phaseOf(std::uint32_t axis, std::uint32_t seed) {
    return double(mixed(seed * 16 + axis + 1)) / 4294967296.0;
}

} // namespace

double gradientNoise(double x, std::uint32_t stream) {
    if (!(std::abs(x) < 1e15)) return 0;
    const double floor = std::floor(x), f = x - floor;
    const auto i = std::int64_t(floor);
    const double fade = f * f * f * (f * (f * 6 - 15) + 10);
    const double a = slopeAt(i, stream) * f, b = slopeAt(i + 1, stream) * (f - 1);
    return a + (b - a) * fade;
}

double shakeAt(ShakePattern pattern, double cycles, std::uint32_t axis, std::uint32_t seed) {
    switch (pattern) {
    case ShakePattern::Sway:
        return std::sin(2 * std::numbers::pi * (cycles + phaseOf(axis, seed)));
    case ShakePattern::Wander: {
        const std::uint32_t stream = seed * 16 + axis;
        // Twice as fast at half the size; 4/3 brings the largest sum of the two to 1.
        return (gradientNoise(cycles, stream) + gradientNoise(2 * cycles + 0.37, stream + 0x9e3779b9U) / 2) * 4 / 3;
    }
    case ShakePattern::Jolt: {
        const double x = cycles + phaseOf(axis, seed), f = x - std::floor(x);
        return f < 0.5 ? 4 * f - 1 : 3 - 4 * f;
    }
    }
    return 0;
}

} // namespace virga
