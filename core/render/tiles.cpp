#include "core/render/tiles.h"

#include <algorithm>

namespace virga {

std::vector<Tile> tilesFor(Size output, Exposure::Shape shape) {
    const auto parted = [](int whole, int most) {
        const int parts = (whole + most - 1) / most;
        return (whole + parts - 1) / parts;
    };
    int width = tileSide, height = tileSide;
    if (shape == Exposure::Shape::Wide) {
        width = parted(output.width, 1024);
        height = mostTilePixels / width;
    } else if (shape == Exposure::Shape::Tall) {
        height = parted(output.height, 256);
        width = mostTilePixels / height;
    }
    std::vector<Tile> tiles;
    for (int y = 0; y < output.height; y += height)
        for (int x = 0; x < output.width; x += width)
            tiles.push_back({x, y, std::min(width, output.width - x), std::min(height, output.height - y)});
    return tiles;
}

} // namespace virga
