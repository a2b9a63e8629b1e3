#pragma once
// The innermost loop of the sampling kernel: bilinear samples of 15-bit linear light along walks over a block of
// pixels, added up in integers. One plain header; behind it Highway picks the widest instructions of the machine. All
// arithmetic is either integer or single IEEE operations in a fixed order, so that every target gives the same bits as
// addWalksPlainly.
#include <cstdint>
#include <span>

#include "core/geom/edge_fill.h"

namespace virga {

/// Coordinates that do not run straight: bicubic polynomials over the block, u = sum of u[j][i] x^i y^j, where x and y
/// are the pixel's number times the scale, less 1 (to about -1 .. 1 over the block) plus half a pixel.
struct Bend {
    float u[4][4] = {}, v[4][4] = {};
    float scaleX = 0, scaleY = 0; // 2 / block's width and height
};

/// One shutter sample in one mip level. Positions are continuous pixel coordinates of that level.
struct Walk {
    const std::uint16_t* pixels = nullptr; // RGBA, row after row without gaps, one more pixel readable behind the last
    int width = 0, height = 0;
    float u = 0, v = 0;                   // of the block's first pixel centre
    float ux = 0, vx = 0, uy = 0, vy = 0; // steps for one pixel to the right, and one down
    int weight = 0;                       // 0 to wholeWeight
    // Outside these nothing is. Only asked for empty edges and limited copies.
    float lowU = 0, highU = 0, lowV = 0, highV = 0;
    float rampU = 1, rampV = 1; // how steeply it ends, for a pixel of the level: 1 within a pixel of the screen
    const Bend* bend = nullptr; // instead of u to vy
};
inline constexpr int wholeWeight = 16384;

/// By how much sums are shifted down so that `count` whole weights of white stay below 2^30.
int shiftFor(std::size_t count);

/// Adds to 4 sums a pixel: value times weight over all walks, shifted down by `shift` with rounding after every second
/// walk. REQUIRES: pixel values up to 32767; |u|, |v| small enough for floats (see walks.cpp); the walks' weights sum
/// to no more than `count` whole weights with shift = shiftFor(count).
void addWalks(std::span<const Walk> walks, Edges edges, int width, int height, int shift, std::int32_t* sums);

/// The same one pixel at a time, without any vector: what tests compare with.
void addWalksPlainly(std::span<const Walk> walks, Edges edges, int width, int height, int shift, std::int32_t* sums);

} // namespace virga
