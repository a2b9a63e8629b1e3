#pragma once
// What a camera does that is not held still: patterns between -1 and 1, continuous in time, so that they blur like any
// other movement; the same on every machine.
#include <cstdint>

namespace virga {

enum class ShakePattern { Sway, Wander, Jolt };

/// A pattern's value on one axis after some cycles. Sway is a sine; Wander two octaves of gradient noise; Jolt goes
/// straight from one side to the other every half cycle. Every axis and seed has its own phase or stream.
double shakeAt(ShakePattern pattern, double cycles, std::uint32_t axis, std::uint32_t seed);

/// Gradient noise of one dimension with the quintic fade, whose second derivative is continuous (Perlin, "Improving
/// noise", SIGGRAPH 2002): 0 at every integer, within -1/2 and 1/2.
double gradientNoise(double x, std::uint32_t stream);

} // namespace virga
