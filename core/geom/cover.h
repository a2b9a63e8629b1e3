#pragma once
// The least that makes a source cover the output through all of a movement: a zoom, or a slide, over everything else;
// and which moment and which edges of the source ask for it. For any map: exact for matrices, by its border for lenses.
#include <cstdint>
#include <span>

#include "core/geom/screen_map.h"

namespace virga {

/// A source on the screen at one moment.
struct SeenSource {
    ScreenMap map;
    Size source;
    std::int64_t frame = 0; // whose moment it is
};

/// Edges of a source, as bits.
enum SourceEdge : unsigned { LeftEdge = 1, TopEdge = 2, RightEdge = 4, BottomEdge = 8 };

/// Whether the source covers all of the output.
bool covers(const ScreenMap& map, Size source, Size output);

struct LeastZoom {
    double factor = 1; // at least 1
    std::int64_t frame = 0;
    unsigned edges = 0; // those that bind there; 0 where no zoom is needed
};
/// The smallest zoom about a screen point with which every moment covers the output; empty where none up to 64 does.
std::optional<LeastZoom> leastZoom(std::span<const SeenSource> moments, Size output, Point about);

struct LeastSlide {
    Point by{0, 0}; // pixels of the output
    std::int64_t frame = 0;
    unsigned edges = 0; // as above, at the moment that binds most
};
/// The shortest slide with which every moment covers the output; empty where none does. Each edge that must stay
/// outside a corner of the output is a half plane of slides; the nearest point of all of them to 0 is found by trying
/// each border and each crossing of two (the extreme points of a convex programme in two unknowns). Lenses bend the
/// half planes: they are laid anew about the slide that was found until it stays.
std::optional<LeastSlide> leastSlide(std::span<const SeenSource> moments, Size output);

} // namespace virga
