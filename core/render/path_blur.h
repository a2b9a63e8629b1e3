#pragma once
// The exposures of a zoom and of a spin of a finished picture, sampled as layers are.
#include "core/base/cancel.h"
#include "core/effects/canvas.h"
#include "core/motion/treatment.h"
#include "core/render/quality.h"

namespace virga {

/// The mean over scalings, or turns, about a centre. Light is kept in 15 bits on the way, whatever its largest value.
void pathBlur(Canvas& canvas, const ZoomBlur& blur, const Quality& quality, const Cancel& cancel);
void pathBlur(Canvas& canvas, const SpinBlur& blur, const Quality& quality, const Cancel& cancel);

/// Any treatment; see core/effects/finish.h for all others.
void treat(Canvas& canvas, const Treatment& treatment, const Quality& quality, const Cancel& cancel);

} // namespace virga
