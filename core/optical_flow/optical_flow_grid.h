#pragma once
// Inside core/optical_flow only: reading flow fields.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/optical_flow/optical_flow_pair.h"

namespace virga {

/// A cell's flow, in cells. REQUIRES: inside the grid.
inline Point flowAt(const FlowField& field, Size grid, int x, int y) {
    const auto i = (std::size_t(y) * std::size_t(grid.width) + std::size_t(x)) * 2;
    return {field.steps[i] / FlowField::perCell, field.steps[i + 1] / FlowField::perCell};
}

/// Between the cells' middles, bilinearly; outside as at the border.
inline Point flowBetweenCells(const FlowField& field, Size grid, Point at) {
    const double x = std::clamp(at.x, 0.0, grid.width - 1.0), y = std::clamp(at.y, 0.0, grid.height - 1.0);
    const int x0 = int(x), y0 = int(y), x1 = std::min(x0 + 1, grid.width - 1), y1 = std::min(y0 + 1, grid.height - 1);
    const double u = x - x0, v = y - y0;
    const Point a = flowAt(field, grid, x0, y0), b = flowAt(field, grid, x1, y0), c = flowAt(field, grid, x0, y1),
                d = flowAt(field, grid, x1, y1);
    const Point top = a + (b - a) * u, low = c + (d - c) * u;
    return top + (low - top) * v;
}

/// How far each cell of a field is to be trusted.
std::vector<float> trustOf(const FlowPair& pair, bool forward);

} // namespace virga
