#pragma once
// How everything moves from one picture to the next, and back: two dense fields of optical flow, made once for a pair
// of pictures and asked for any moment between them. Plain data; threads may share const ones.
#include <cstdint>
#include <vector>

#include "core/raster/grey.h"

namespace virga {

/// A field over a grid; where a cell's middle goes, in cells, in steps of 1/64.
struct FlowField {
    std::vector<std::int16_t> steps; // x, y of each cell, row by row
    static constexpr double perCell = 64;
    bool operator==(const FlowField&) const = default;
};

struct FlowPair {
    Size grid;                   // cells
    Size source;                 // of the pictures, upright, in their own pixels
    FlowField forward, backward; // from the first to the second, and from the second to the first
    double untrusted = 0;        // the share of cells in which the two do not come back to where they began
    bool isEmpty() const { return grid.isEmpty(); }
    std::size_t bytes() const { return (forward.steps.size() + backward.steps.size()) * sizeof(std::int16_t); }
    bool operator==(const FlowPair&) const = default;
};

/// Dense inverse search (Kroeger, Timofte, Dai and Van Gool, "Fast optical flow using dense inverse search", ECCV 2016,
/// as OpenCV ships it), both ways, on grey pictures of equal size; the grid has half their cells a side. The same
/// numbers on any machine and any number of threads. REQUIRES: sizes equal, at least 24 pixels a side.
FlowPair flowBetween(const Grey& first, const Grey& second);

/// The longest side of the grey pictures that flow is found on.
inline constexpr int flowSide = 1280;
/// The least side of a picture that flow can be found on.
inline constexpr int leastFlowSide = 24;

/// How far a cell's flow is to be trusted, 0 to 1, from how far from its start it comes back by the other field:
/// `away` and `length` in cells, `cell` in pixels. One half at one pixel and 5 % of its length.
double trustIn(double away, double length, double cell);

} // namespace virga
