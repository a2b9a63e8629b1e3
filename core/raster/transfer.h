#pragma once
// Between code values and linear light, by IEC 61966-2-1 (sRGB).
#include "core/raster/image.h"

namespace virga {

/// Linear light of a code value, where 0 is black and 1 is white; and back. The curve goes on above 1, and below 0 as
/// its own mirror image.
double linearFromCode(double code);
double codeFromLinear(double linear);

/// Whole pictures with straight alpha, premultiplied on the way. All of this file keeps light as kept_light.h says.
Image<Linear16> linearise(ImageView<const Rgba8> picture);
Image<Linear16> linearise(ImageView<const Rgba16> picture);
/// Three planes of 16-bit code values of limited range (deepBlack to deepWhite), opaque. REQUIRES: one size.
Image<Linear16> linearise(ImageView<const std::uint16_t> r, ImageView<const std::uint16_t> g,
                          ImageView<const std::uint16_t> b);

/// One row back to 8 bits, rounded to the nearest code value. Colour stays premultiplied: it is the picture over black.
void encodeRow(const LinearF* from, Rgba8* to, int count);
/// The same for pixels that were not sampled; same code values.
void encodeRow(const Linear16* from, Rgba8* to, int count);

/// To 8 bits by ordered dithering, so that a slow gradient shows no bands (Bayer, "An optimum method for two-level
/// rendition of continuous-tone pictures", ICC 1973), with its 8 x 8 pattern fixed to the screen: x and y are the first
/// pixel's place. Its amplitude is 7/8 of a code value, so that what was a code value stays that one.
void ditherRow(const LinearF* from, Rgba8* to, int count, int x, int y);

/// To 16 bits with what lies beyond black and white, rounded; within one step. Colour stays premultiplied.
void encodeRow(const LinearF* from, Deep16* to, int count);
void encodeRow(const Linear16* from, Deep16* to, int count);

} // namespace virga
