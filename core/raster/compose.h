#pragma once
// Laying pictures over each other in linear light, premultiplied.
#include "core/raster/image.h"

namespace virga {

/// under = over * opacity + under * (1 - alpha of over * opacity), pixel by pixel (Porter and Duff, "Compositing
/// digital images", SIGGRAPH 1984: over).
void layOver(LinearF* under, const LinearF* over, int count, float opacity);

} // namespace virga
