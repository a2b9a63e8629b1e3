#pragma once
// Gaussian blur at a cost per pixel that does not depend on its width. Wide ones work on a line halved by the binomial
// 1 4 6 4 1 as often as leaves a standard deviation of two samples, and come back by the same one (Burt and Adelson,
// "The Laplacian pyramid as a compact image code", IEEE Trans. Comm. 31, 1983); the variances of all steps are counted
// in.
#include <vector>

#include "core/effects/canvas.h"

namespace virga {

/// Standard deviations in pixels; 50 dB and more to the sampled Gaussian from 0.3 pixels on. Below 0.05 nothing is
/// done.
void gaussianBlur(Canvas& canvas, double across, double down);

/// A line as it is blurred: how often it is halved, and the weights then, from the middle outward. For tests.
struct GaussianPlan {
    int halvings = 0;
    std::vector<float> weights;
};
GaussianPlan gaussianPlan(double sigma);

/// How far a Gaussian reaches, in pixels.
int gaussianReach(double sigma);

} // namespace virga
