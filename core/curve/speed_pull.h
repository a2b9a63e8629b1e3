#pragma once
// Shaping a curve by its speed.
#include "core/curve/curve.h"

namespace virga {

/// Which end of a curve keeps its values while its speed is changed.
enum class Kept { First, Last };

/// The curve with `speed` (its space's units per frame) at a time inside a segment: of all changes of that segment's
/// Bezier that keep its timing the one whose three control speeds change least, so it is felt most where it is pulled.
/// The values follow: what lies behind the kept end's side of the segment shifts by what the segment gains. At a key
/// the segment on the kept side is taken. A held segment, or a time outside the keys, leaves the curve as it is.
Curve withSpeedPulled(const Curve& curve, double time, double speed, Kept kept);

} // namespace virga
