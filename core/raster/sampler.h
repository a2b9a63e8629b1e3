#pragma once
// The shutter-sampling kernel: the mean, in linear light, of a source seen through several maps. Bilinear at natural
// size; trilinear in its mip levels where it is made smaller (Williams, "Pyramidal parametrics", SIGGRAPH 1983), and in
// the sharper enlargement, where the pyramid has one. Pure; may run on any number of threads at once.
#include <span>

#include "core/geom/edge_fill.h"
#include "core/geom/screen_map.h"
#include "core/raster/image.h"
#include "core/raster/pyramid.h"

namespace virga {

struct Tile {
    int x = 0, y = 0, width = 0, height = 0;
    bool operator==(const Tile&) const = default;
};

inline constexpr int tileSide = 64;
inline constexpr int mostTilePixels = tileSide * tileSide; // a tile may have any shape of so many pixels

/// Writes tile.width x tile.height pixels, row by row, to `out`: each the mean over `maps` of the source at the pixel's
/// centre, by `weights` (0 to 1, at least one of them 1, or none for equal ones). Precision of the coordinates is
/// better than 1/100 source pixel at any offset (1/1000 for affine maps). A map that is not visible adds nothing, nor
/// does any place beyond a horizon or a lens's field. REQUIRES: source not empty, maps not empty.
void sampleTile(const Pyramid& source, Edges edges, std::span<const ScreenMap> maps, Tile tile, LinearF* out,
                std::span<const float> weights = {});

/// Where nothing has to be sampled, as the one map moves by whole pixels and the tile lies inside the source: the
/// source's pixel under the tile's first one, in rows of the source's width. Null elsewhere.
const Linear16* stillPixels(const Pyramid& source, std::span<const ScreenMap> maps, Tile tile);

/// What sampleTile gives, by the plainest double-precision arithmetic, one pixel at a time, without short cuts: what
/// tests compare with, and what is left for pixels so near a horizon that no other way is near enough.
LinearF sampleReference(const Pyramid& source, Edges edges, std::span<const ScreenMap> maps, Point screen);

} // namespace virga
