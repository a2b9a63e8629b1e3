#pragma once
// Long affine movement in two passes: first a short blur about one moment into a picture somewhat larger than the
// screen, then the same picture moved on in steps of that blur's length: n1 * n2 samples for the price of n1 + n2.
#include <functional>
#include <optional>
#include <vector>

#include "core/raster/sampler.h"

namespace virga {

struct TwoPass {
    Size size;                     // of the picture between the passes
    std::vector<ScreenMap> first;  // source to that picture: the short blur
    std::vector<ScreenMap> second; // that picture to the screen
    std::vector<float> weights;    // of the second pass: how long each step takes
};

/// Whether any pixel of the screen looks at a tile of the picture between the passes.
bool isNeeded(const TwoPass& two, Tile tile, Size output);

/// `mapAt` gives the map at a fraction of the shutter interval. The steps are of equal length along the path, so that
/// easing does not matter. Nothing where sampling directly costs no more; where any map is not affine; or where some
/// sample would be out of place by more than 0.3 pixels, as the movement is not one and the same all along.
std::optional<TwoPass> twoPassOf(const std::function<ScreenMap(double)>& mapAt, Size output, double pixelsPerSample,
                                 int mostSamples);

/// Sampled light as a picture that can be sampled again.
void quantise(const LinearF* from, Linear16* to, int count);

} // namespace virga
