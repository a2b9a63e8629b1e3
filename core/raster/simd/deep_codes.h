#pragma once
// Linear light as the 16-bit codes that deliveries are made from, many channels at once. Every target gives the same
// bits: single IEEE operations in a fixed order.
#include <cstdint>

namespace virga {

/// The curve by straight lines between 256 points of each octave of light from 2^-9 on, below which it is straight;
/// above black, in codes. See transfer.cpp.
struct DeepCurve {
    static constexpr int octaves = 9;
    static constexpr std::uint32_t firstBits = std::uint32_t(127 - octaves) << 23; // 2^-9 as an IEEE float
    const float* table = nullptr;                                                  // (octaves + 1) * 256 + 2 values
    float straight = 0, black = 0; // codes for each light; the code of 0
    float floor = 0, ceiling = 0;  // light from -floor to ceiling; what is not a number is -floor
};

/// Codes of `count` pixels of four channels that were kept as (light + floor * alpha) / span; alpha becomes 0 to 65535.
void deepCodes(const float* from, std::uint16_t* to, int count, float span, const DeepCurve& curve);

/// The same one channel at a time: what tests compare with.
void deepCodesPlainly(const float* from, std::uint16_t* to, int count, float span, const DeepCurve& curve);

} // namespace virga
