#pragma once
// Does a source's frame, mapped to the screen, cover the output? Decided with polygons, exact for affine and projective
// maps; with lenses by their border, in straight pieces to a twentieth of a
// pixel, or where a lens sends a part of that nowhere by parting the output until a square agrees, to 1/512 of a side.
#include "core/geom/screen_map.h"

namespace virga {

/// The share of the output, 0 to 1, that the source's own frame does not cover (so edge fill shows there).
double uncoveredShare(const ScreenMap& map, Size source, Size output);

} // namespace virga
