#pragma once
// Making the incoming side carry on at the outgoing side's rate as it is seen: the change over the whole of a frame
// (changeOver), in the curve's space. A momentary speed that no frame shows counts for nothing.
#include <optional>

#include "core/base/error.h"
#include "core/curve/curve.h"

namespace virga {

/// What an incoming curve is to carry on, in its space per frame.
struct EntryRate {
    double frame = 0;                // its change over frame 0
    std::optional<double> momentary; // its speed at the cut itself, where that is asked for, too: a result of a higher
                                     // rate, or slow motion, shows parts of a frame
    EntryRate(double overFrame, std::optional<double> atCut = {}) : frame(overFrame), momentary(atCut) {} // NOLINT
};

/// The incoming curve with its first value solved so that its change over frame 0 equals the rate; the normalised shape
/// of its first segment and every other key stay, but for its first handle where a momentary speed is asked for.
/// Errors: BadInput where the cut is not inside the first segment, where that segment stands still there whatever its
/// values, or where the value would leave [lowest, highest].
Expected<Curve> matchedByFirstValue(const Curve& incoming, const EntryRate& rate, double lowest, double highest,
                                    Ends ends = Ends::RunOn);

/// The incoming curve with its first handle solved instead; all values stay. Of the handles that match, the one whose
/// rates fall most evenly from frame to frame is taken. Errors: as above; where the values go the other way; and where
/// they leave so little to travel that the rate would fall away (mostUneven).
Expected<Curve> matchedByFirstHandle(const Curve& incoming, const EntryRate& rate, Ends ends = Ends::RunOn);

/// The outgoing curve with its last frame, from -1 to the cut, run at the speed with which it comes to it. Where a side
/// gets much faster within that frame no incoming side carries on both its frame's rate and its speed at the cut.
/// Unchanged where the speed at the cut is at most `most` times the change over frame -1.
Curve levelledAtCut(const Curve& outgoing, double most, Ends ends = Ends::RunOn);

/// The speed with which the outgoing side comes to the cut itself, where its change over frame -1 is its rate: by its
/// last segment, or as it runs on.
double momentaryAtCut(const Curve& outgoing);

/// The largest ratio between the rates of neighbouring frames from frame 0 on that a match may have: beyond it the eye
/// sees the movement trip (s(1) < 0.4 s(0)).
inline constexpr double mostUneven = 2.5;
/// That ratio of a curve. Rates below 5 % of the first one count as 5 %, so that coming to rest is none.
double unevenness(const Curve& incoming, Ends ends = Ends::RunOn);

} // namespace virga
