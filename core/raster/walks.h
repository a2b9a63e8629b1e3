#pragma once
// Inside core/raster: maps over a tile as walks for the innermost loop. Affine maps run straight; all others are
// followed by bicubic polynomials where these are near enough.
#include <deque>
#include <vector>

#include "core/geom/edge_fill.h"
#include "core/raster/pyramid.h"
#include "core/raster/sampler.h"
#include "core/raster/simd/add_walks.h"

namespace virga {

struct WalkSet {
    std::vector<Walk> walks;
    std::deque<Bend> bends; // addresses stay
};

/// Adds the walks of one map, its levels and probes, with weights that sum to `weight`. False, and nothing added, where
/// no polynomial over the tile is within 1/256 source pixel (1/128 of a pixel of the level where it is minified), or
/// the scale changes by more than a third: then the tile is to be parted. REQUIRES: map.isVisible().
///
/// With a `pick` between 0 and 1 only one of two mip levels is taken: the coarser one where its share is above it. Over
/// many samples with evenly spread picks that is the blend, for half the price. A negative one blends.
bool addWalksOf(const ScreenMap& map, const Pyramid& source, Edges edges, Tile tile, int weight, double pick,
                WalkSet& to);

} // namespace virga
