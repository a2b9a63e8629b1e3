#include <algorithm>
#include <bit>

#include "core/raster/simd/deep_codes.h"

namespace virga {
namespace {

float rise(float v, const DeepCurve& curve) { // above black, of light from 0 to the ceiling
    if (v < 1.0f / (1 << DeepCurve::octaves)) return v * curve.straight;
    const std::uint32_t bits = std::bit_cast<std::uint32_t>(v) - DeepCurve::firstBits, i = bits >> 15;
    const float part = float(bits & 0x7fff) * (1.0f / 0x8000);
    return curve.table[i] + (curve.table[i + 1] - curve.table[i]) * part;
}

std::uint16_t code(float v, const DeepCurve& curve) {
    v = v > -curve.floor ? v : -curve.floor; // what is not a number, too
    v = v < curve.ceiling ? v : curve.ceiling;
    const float above = v < 0 ? -rise(-v, curve) : rise(v, curve);
    return std::uint16_t(std::min(std::max(curve.black + above + 0.5f, 0.0f), 65535.0f));
}

} // namespace

void deepCodesPlainly(const float* from, std::uint16_t* to, int count, float span, const DeepCurve& curve) {
    for (int i = 0; i < count; ++i, from += 4, to += 4) {
        const float alpha = from[3];
        for (int c = 0; c < 3; ++c) to[c] = code(from[c] * span - curve.floor * alpha, curve);
        to[3] = std::uint16_t((alpha > 0 ? std::min(alpha, 1.0f) : 0.0f) * 65535.0f + 0.5f);
    }
}

} // namespace virga
