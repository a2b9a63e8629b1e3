#pragma once
// Making the incoming side carry on at the outgoing side's speed. Speeds are derivatives in the curve's space, per
// frame.
#include "core/base/error.h"
#include "core/curve/curve.h"

namespace virga {

/// The incoming curve with its first value solved so that its speed just after the cut equals `speed`; the normalised
/// shape of its first segment and every other key stay. Errors: BadInput where the cut is not inside the first segment,
/// where that segment stands still at the cut whatever its values, or where the value would leave [lowest, highest].
Expected<Curve> matchedByFirstValue(const Curve& incoming, double speed, double lowest, double highest);

/// The incoming curve with its first handle solved instead; all values stay. The handle's reach is shortened where its
/// rise would otherwise overshoot. Errors: as above, and where the values go the other way.
Expected<Curve> matchedByFirstHandle(const Curve& incoming, double speed);

} // namespace virga
