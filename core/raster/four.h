#pragma once
// Inside core/raster: one pixel's four channels in one vector register, by the compiler's own vectors. Every operation
// is one IEEE or integer operation for each channel.
#include <cstdint>
#include <cstring>

#include "core/raster/image.h"

namespace virga::four {

using Floats = float __attribute__((vector_size(16)));
using Ints = std::int32_t __attribute__((vector_size(16)));
using Shorts = std::int16_t __attribute__((vector_size(8)));

inline Floats load(const LinearF& pixel) {
    Floats v;
    std::memcpy(&v, &pixel, sizeof v);
    return v;
}

inline void store(Floats v, LinearF& pixel) {
    std::memcpy(static_cast<void*>(&pixel), &v, sizeof v);
}

/// Values below 2^15, so that signed conversion does.
inline Floats load(const Linear16& pixel) {
    Shorts raw;
    std::memcpy(&raw, &pixel, sizeof raw);
    return __builtin_convertvector(__builtin_convertvector(raw, Ints), Floats);
}

inline void store(Ints v, Linear16& pixel) {
    const Shorts raw = __builtin_convertvector(v, Shorts);
    std::memcpy(static_cast<void*>(&pixel), &raw, sizeof raw);
}

/// The nearest integers, halves upward, to v * most with v held to 0 .. 1; what is not a number becomes 0.
inline Ints scaled(Floats v, float most) {
    const Floats zero = {}, one = zero + 1.0f;
    v = v > zero ? v : zero;
    v = v < one ? v : one;
    return __builtin_convertvector(v * most + 0.5f, Ints);
}

} // namespace virga::four
