#pragma once
// Making the incoming side carry on at the outgoing side's rate as it is seen: the change over the whole of a frame
// (changeOver), in the curve's space. A momentary speed that no frame shows counts for nothing.
#include "core/base/error.h"
#include "core/curve/curve.h"

namespace virga {

/// The incoming curve with its first value solved so that its change over frame 0 equals `rate`; the normalised shape
/// of its first segment and every other key stay. Errors: BadInput where the cut is not inside the first segment, where
/// that segment stands still there whatever its values, or where the value would leave [lowest, highest].
Expected<Curve> matchedByFirstValue(const Curve& incoming, double rate, double lowest, double highest,
                                    Ends ends = Ends::RunOn);

/// The incoming curve with its first handle solved instead; all values stay. Of the handles that match, the one whose
/// rates fall most evenly from frame to frame is taken. Errors: as above; where the values go the other way; and where
/// they leave so little to travel that the rate would fall away (mostUneven).
Expected<Curve> matchedByFirstHandle(const Curve& incoming, double rate, Ends ends = Ends::RunOn);

/// The largest ratio between the rates of neighbouring frames from frame 0 on that a match may have: beyond it the eye
/// sees the movement trip (s(1) < 0.4 s(0)).
inline constexpr double mostUneven = 2.5;
/// That ratio of a curve. Rates below 5 % of the first one count as 5 %, so that coming to rest is none.
double unevenness(const Curve& incoming, Ends ends = Ends::RunOn);

} // namespace virga
