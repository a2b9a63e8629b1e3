#pragma once
// Inside core/trace only: a lens that grows or fades through a side, read from pairs of features.
#include <optional>
#include <vector>

#include "core/analysis/step_finder.h"

namespace virga {

/// A step of a side, from the picture nearer to rest to the one nearer to the cut.
struct OutwardStep {
    PictureStep step;
    std::vector<FeaturePair> pairs;
};

struct LensCourse {
    std::vector<double> amounts; // of the lens (core/geom/screen_map.h) behind each step
    std::vector<Matrix> maps;    // what lies beneath it does
};

/// Steps from rest, where there is no lens. Empty where a lens about the frame's centre does not explain features that
/// it was not fitted to clearly better than the steps alone.
std::optional<LensCourse> lensCourse(const std::vector<OutwardStep>& steps, double aspect);

} // namespace virga
