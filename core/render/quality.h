#pragma once
// How well, and so how fast, a frame is rendered.
#include "core/raster/pyramid.h"

namespace virga {

struct Quality {
    double pixelsPerSample = 1.5; // a shutter sample for every so many pixels of path
    int mostSamples = 256;
    int mostPictures = 16; // of the source's inside one shutter interval
    Enlarging enlarging = Enlarging::Bilinear;
    bool finishing = true; // false: finishing is left out, bars are not
    bool overlays = true;  // false: clips above the reel are left out
    bool blur = true;      // false: the shutter opens for an instant
    bool proxies = false;  // light copies serve where there are some
    bool findsFlow = true; // false: where a shot's flow is not known yet, its pictures are mixed
    bool operator==(const Quality&) const = default;
};
inline constexpr Quality exactQuality{}; // what is exported, and what the Picture shows at rest
// while something is being dragged or played
inline constexpr Quality quickQuality{6, 24, 3, Enlarging::Bilinear, true, true, true, true, false};

} // namespace virga
