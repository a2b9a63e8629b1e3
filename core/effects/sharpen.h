#pragma once
// Unsharp mask on the luminance in code values; colours are scaled by its ratio in linear light, so that edges get no
// coloured rims.
#include "core/effects/canvas.h"
#include "core/motion/treatment.h"

namespace virga {

void sharpen(Canvas& canvas, const Sharpen& sharpen);

/// What of a difference counts: none below the threshold, the rest beyond it.
float beyondThreshold(float difference, float threshold);

} // namespace virga
