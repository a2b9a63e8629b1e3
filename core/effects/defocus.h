#pragma once
// The mean under an aperture's shape: every row of it is a difference of running sums.
#include <vector>

#include "core/effects/canvas.h"
#include "core/motion/treatment.h"

namespace virga {

/// Radius in pixels, to the rim of a disc or the corners of a polygon.
void defocus(Canvas& canvas, double radius, int blades, double highlights);

/// The aperture's rows from the topmost one down: where each begins and ends, from its middle, in pixels; the mean over
/// the row's height, so that the rim is anti-aliased. For tests.
struct ApertureRow {
    int y = 0;
    double from = 0, to = 0;
    double height = 1; // the share of the row that lies inside
};
std::vector<ApertureRow> apertureRows(double radius, int blades);

} // namespace virga
