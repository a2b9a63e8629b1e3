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
    bool operator==(const Quality&) const = default;
};
inline constexpr Quality exactQuality{};         // what is exported, and what the Picture shows at rest
inline constexpr Quality quickQuality{6, 24, 3}; // while something is being dragged or played

} // namespace virga
