#pragma once
// Colours parted as by a simple lens: every sample is the picture a little larger, smaller or aside, seen by the
// channels with weights that sum to one each, so that a constant field stays.
#include <array>
#include <vector>

#include "core/effects/canvas.h"
#include "core/motion/treatment.h"

namespace virga {

void colourSplit(Canvas& canvas, const ColourSplit& split);

/// A sample's place from 1 (all red) to -1 (all blue), and its weights for red, green and blue.
struct SplitSample {
    double place = 0;
    std::array<float, 3> weights{};
};
/// From 3 to 16; with three, red goes out, green stays, blue goes in.
std::vector<SplitSample> splitSamples(int count);

} // namespace virga
