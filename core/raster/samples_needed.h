#pragma once
// How many shutter samples a tile needs: one for every so many pixels of path.
#include <functional>

#include "core/geom/screen_map.h"
#include "core/raster/sampler.h"

namespace virga {

/// The longest path, in screen pixels, that a point of the picture now inside the tile travels while the shutter opens
/// from fraction 0 to 1; `mapAt` gives the map at a fraction.
double pathLength(const std::function<ScreenMap(double)>& mapAt, Tile tile);

/// ceil(path / pixelsPerSample), between 1 and `most`; 1 for less than 1/50 pixel.
int samplesNeeded(double path, double pixelsPerSample, int most);

} // namespace virga
