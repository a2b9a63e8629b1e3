#pragma once
// The mean along a line, at a cost that does not depend on its length: running sums (Crow, "Summed-area tables for
// texture mapping", SIGGRAPH 1984, in one dimension) along sheared lines, which are read and left by Catmull and Rom's
// cubic.
#include "core/effects/canvas.h"

namespace virga {

/// Length in pixels, angle in degrees clockwise on screen. Below a quarter of a pixel nothing is done.
void lineBlur(Canvas& canvas, double length, double angle);

} // namespace virga
