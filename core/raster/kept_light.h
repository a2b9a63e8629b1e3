#pragma once
// How pictures keep light beyond black and white, which limited-range footage has (codes below 16 and above 235 of 8
// bits), in numbers that are never negative: light is shifted up by `lightFloor` and pressed into `lightSpan`, both
// times alpha. Means and layers of such numbers are such numbers again, so that nothing between reading and encoding
// needs to know; only who asks for light itself converts.
#include "core/raster/image.h"

namespace virga {

/// Black and white in stored pictures, exactly. They leave room for what the lowest and highest 16-bit limited-range
/// code mean by sRGB's curve, drawn on below 0 as its mirror image: -0.0064 and 1.2246.
inline constexpr int keptBlack = 171, keptWhite = 26784;

/// The lowest and highest light kept.
inline constexpr float lightFloor = float(keptBlack) / float(keptWhite - keptBlack);
inline constexpr float lightCeiling = float(linearOne - keptBlack) / float(keptWhite - keptBlack);
inline constexpr float lightSpan = float(linearOne) / float(keptWhite - keptBlack);

/// Light, premultiplied and 1 for white, of what is kept, and back.
inline LinearF lightOf(LinearF kept) {
    const float floor = lightFloor * kept.a;
    return {kept.r * lightSpan - floor, kept.g * lightSpan - floor, kept.b * lightSpan - floor, kept.a};
}
inline LinearF keptOf(LinearF light) {
    const float floor = lightFloor * light.a;
    constexpr float scale = 1 / lightSpan;
    return {(light.r + floor) * scale, (light.g + floor) * scale, (light.b + floor) * scale, light.a};
}

/// The same for one opaque channel of a stored picture, where linearOne is 1.
inline double lightOf(std::uint16_t kept) {
    return double(kept - keptBlack) / (keptWhite - keptBlack);
}
inline std::uint16_t keptOf(double light) {
    const double v = light * (keptWhite - keptBlack) + keptBlack;
    return std::uint16_t((v > 0 ? (v < linearOne ? v : linearOne) : 0) + 0.5);
}

} // namespace virga
