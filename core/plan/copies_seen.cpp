#include "core/plan/copies_seen.h"

#include <array>
#include <cmath>

namespace virga {
namespace {

constexpr int gridColumns = 32, gridRows = 18; // the points that are looked at

bool isOn(const Point& p, Size output) {
    return p.x >= 0 && p.y >= 0 && p.x < output.width && p.y < output.height;
}

// Where what lies at `p` in the source's tiled plane lies once more: across each edge of its tile.
std::array<Point, 4> twinsOf(const Point& p, double left, double top, Size source, EdgeFill fill) {
    const double w = source.width, h = source.height;
    if (fill == EdgeFill::Repeat) return {Point(p.x - w, p.y), {p.x + w, p.y}, {p.x, p.y - h}, {p.x, p.y + h}};
    return {Point(2 * left * w - p.x, p.y),
            {2 * (left + 1) * w - p.x, p.y},
            {p.x, 2 * top * h - p.y},
            {p.x, 2 * (top + 1) * h - p.y}};
}

} // namespace

double shareSeenTwice(const LayerPlan& layer, double fading, Size output) {
    const Size source = layer.source;
    const EdgeFill fill = layer.edges.fill;
    if (source.isEmpty() || output.isEmpty() || fill == EdgeFill::Empty) return 0;
    const ScreenMap open = mapAt(layer, layer.shutter.open, output), map = mapAt(layer, layer.shutter.at(0.5), output),
                    close = mapAt(layer, layer.shutter.close, output);
    if (!open.isVisible() || !map.isVisible() || !close.isVisible()) return 0;
    // Beyond so many tiles nothing is filled.
    const double most = layer.edges.copies > 0 ? layer.edges.copies : 1e300;
    const auto isFilled = [&](double column, double row) { return std::abs(column) <= most && std::abs(row) <= most; };
    double seen = 0;
    for (int y = 0; y < gridRows; ++y)
        for (int x = 0; x < gridColumns; ++x) {
            const Point p =
                map.toSource({(x + 0.5) * output.width / gridColumns, (y + 0.5) * output.height / gridRows});
            const double column = std::floor(p.x / source.width), row = std::floor(p.y / source.height);
            if (!std::isfinite(column) || !std::isfinite(row)) continue;
            bool twice = false;
            if (fill == EdgeFill::Hold)
                twice = column != 0 || row != 0;
            else if (isFilled(column, row))
                for (const Point& twin : twinsOf(p, column, row, source, fill))
                    twice = twice || (isOn(map.toScreen(twin), output) &&
                                      isFilled(std::floor(twin.x / source.width), std::floor(twin.y / source.height)));
            if (!twice) continue;
            const double blur = 100 * (close.toScreen(p) - open.toScreen(p)).length() / output.width;
            if (std::isfinite(blur)) seen += fading > 0 ? std::exp(-blur / fading) : blur == 0;
        }
    return seen / (gridColumns * gridRows) * layer.opacity;
}

} // namespace virga
