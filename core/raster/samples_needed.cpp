#include "core/raster/samples_needed.h"

#include <algorithm>
#include <cmath>

namespace virga {

double pathLength(const std::function<ScreenMap(double)>& mapAt, Tile tile) {
    constexpr int steps = 4; // a half turn inside one shutter is still followed round its arc
    const double x0 = tile.x, y0 = tile.y, x1 = x0 + tile.width, y1 = y0 + tile.height;
    const Point corners[] = {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}};
    double longest = 0;
    ScreenMap maps[steps + 1];
    for (int i = 0; i <= steps; ++i) maps[i] = mapAt(double(i) / steps);
    // Points inside the tile at the start, at the middle and at the end: the picture under a tile changes while it
    // moves.
    for (const int reference : {0, steps / 2, steps}) {
        if (!maps[reference].isVisible()) continue;
        for (const Point& corner : corners) {
            const Point source = maps[reference].toSource(corner);
            double path = 0;
            Point at = maps[0].toScreen(source);
            for (int i = 1; i <= steps; ++i) {
                const Point next = maps[i].toScreen(source);
                path += (next - at).length();
                at = next;
            }
            if (std::isfinite(path)) longest = std::max(longest, path);
        }
    }
    return longest;
}

int samplesNeeded(double path, double pixelsPerSample, int most) {
    if (path < 0.02) return 1;
    return std::clamp(int(std::ceil(std::min(path / pixelsPerSample, 1e6))) + 1, 2, std::max(most, 2));
}

} // namespace virga
