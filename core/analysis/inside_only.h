#pragma once
// Inside core/analysis only: whether what moves may be a subject rather than the camera.
#include <vector>

#include "core/analysis/step_finder.h"

namespace virga::measure {

/// Whether a movement is that of something inside the picture. What the camera does is seen at the border too, where a
/// subject seldom is: there most must go along, to within `reach` widths, and something must be seen at all. `size` is
/// the picture's.
bool isInsideOnly(const Matrix& map, const std::vector<FeaturePair>& pairs, Size size, double reach);

} // namespace virga::measure
