#pragma once
// What is brighter than a soft threshold shines over its surroundings: its light, blurred over five octaves of radius
// with weights of a fifth each, is added.
#include "core/effects/canvas.h"
#include "core/motion/treatment.h"

namespace virga {

void glow(Canvas& canvas, const Glow& glow);

inline constexpr int glowOctaves = 5;
/// The share of a pixel's light that glows, by its brightest channel: 0 below threshold - knee, all above the threshold
/// but for the threshold itself, a parabola between.
float glowingShare(float brightest, float threshold, float knee);

} // namespace virga
