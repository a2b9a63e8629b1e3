#pragma once
// Between code values and linear light, by IEC 61966-2-1 (sRGB).
#include "core/raster/image.h"

namespace virga {

/// Linear light, 0 to 1, of a code value, 0 to 1; and back.
double linearFromCode(double code);
double codeFromLinear(double linear);

/// Whole pictures with straight alpha, premultiplied on the way.
Image<Linear16> linearise(ImageView<const Rgba8> picture);
Image<Linear16> linearise(ImageView<const Rgba16> picture);

/// One row back to 8 bits, rounded to the nearest code value. Colour stays premultiplied: it is the picture over black.
void encodeRow(const LinearF* from, Rgba8* to, int count);
/// The same for pixels that were not sampled; same code values.
void encodeRow(const Linear16* from, Rgba8* to, int count);

} // namespace virga
