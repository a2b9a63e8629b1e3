#include "core/analysis/inside_only.h"

#include <algorithm>
#include <array>

namespace virga::measure {
namespace {

constexpr int across = 8, down = 6; // cells of the raster whose outer ones are the picture's border
constexpr int leastPerCell = 2;     // features that tell what a cell of it does
constexpr int leastBorder = 5;      // of its 24 cells that must tell something

} // namespace

bool isInsideOnly(const Matrix& map, const std::vector<FeaturePair>& pairs, Size size, double reach) {
    struct Cell {
        int along = 0, all = 0; // features that go along, and all
    };
    std::array<Cell, across * down> cells;
    for (const FeaturePair& p : pairs) {
        const int x = std::clamp(int((p.to.x + 0.5) * across), 0, across - 1),
                  y = std::clamp(int((p.to.y * size.aspect() + 0.5) * down), 0, down - 1);
        Cell& cell = cells[std::size_t(y * across + x)];
        cell.along += (through(map, p.from) - p.to).length() < reach;
        ++cell.all;
    }
    int go = 0, told = 0;
    for (int y = 0; y < down; ++y)
        for (int x = 0; x < across; ++x) {
            const Cell& cell = cells[std::size_t(y * across + x)];
            const bool border = x == 0 || y == 0 || x == across - 1 || y == down - 1;
            if (!border || cell.all < leastPerCell) continue;
            ++told;
            go += 2 * cell.along >= cell.all;
        }
    return told < leastBorder || 2 * go < told;
}

} // namespace virga::measure
