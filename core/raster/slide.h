#pragma once
// A slide along one axis without a turn, at one size, is a box filter along rows or columns: running sums give its mean
// over the whole path, however long, for a few additions a pixel (Crow, "Summed-area tables for texture mapping",
// SIGGRAPH 1984, in one dimension). Eased speed is followed by stretches of constant speed.
#include <functional>
#include <optional>
#include <vector>

#include "core/raster/sampler.h"

namespace virga {

/// Source coordinates are x * scale.x + start.x and y * scale.y + start.y; along the path's axis a stop is added.
struct Slide {
    bool vertical = false;
    Point start{0, 0}, scale{1, 1};
    std::vector<double> stops; // source pixels along the axis, at equal times; from each to the next at constant speed
    bool operator==(const Slide&) const = default;
};

/// `mapAt` gives the map at a fraction of the shutter interval. Nothing where the movement is no such slide (within
/// 1/16 source pixel, or 1/100 of the path), or shorter than `shortest` source pixels.
std::optional<Slide> slideOf(const std::function<ScreenMap(double)>& mapAt, double shortest);

/// As sampleTile: the mean over the whole path.
void sampleSlide(const Pyramid& source, Edges edges, const Slide& slide, Tile tile, LinearF* out);

} // namespace virga
