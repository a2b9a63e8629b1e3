#pragma once
// How a picture is parted for its threads.
#include <vector>

#include "core/render/exposure.h"

namespace virga {

/// Equal tiles of one shape that together cover the output.
std::vector<Tile> tilesFor(Size output, Exposure::Shape shape);

} // namespace virga
