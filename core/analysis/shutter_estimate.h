#pragma once
// The shutter angle of a video, read from how long its fast frames are blurred.
#include <optional>
#include <vector>

#include "core/plan/shot_movement.h"
#include "core/raster/grey.h"

namespace virga {

/// A fast picture beside a slower one of the same shot, which shows it sharper.
struct BlurPair {
    const Grey* fast = nullptr;
    const Grey* slow = nullptr;
    Matrix toFast;        // from the slow picture to the fast one, in widths
    Matrix before, after; // from the fast picture's own time to half a frame before and after it
    double slower = 0;    // the slow one's speed as a share of the fast one's, 0 to 1
    double travel = 0;    // of the fast one over a frame, in widths
};

/// In degrees, 0 to 540; empty where no pair tells. The slow picture is moved to where the fast one is at the moments
/// of an exposure, and the mean of those compared with it: the angle at which they differ least, by linear light. What
/// the slow one is blurred by itself is added by its variance.
std::optional<double> shutterAngleOf(const std::vector<BlurPair>& pairs);

} // namespace virga
