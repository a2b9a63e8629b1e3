#pragma once
// Several keys of one curve changed together. A group is a list of key indices, ascending; what is not in the curve is
// left out. Keys keep their order and their distance of smallestKeyGap; where a change would break it, the times are
// held at that distance. Each function returns the changed curve.
#include <vector>

#include "core/curve/curve.h"

namespace virga {

using KeyGroup = std::vector<int>;

/// Every key of a curve.
KeyGroup allKeys(const Curve& curve);

/// Moved by a time and, in the curve's space, by a value step; reaches stay and the shapes of segments between two keys
/// of the group as they are.
Curve withGroupMoved(const Curve& curve, const KeyGroup& group, double time, double step);

/// Run backwards: what came first comes last, in the same span of time. Handles and kinds of segments turn round with
/// it. For neighbouring keys; others between them are taken along. A held segment stays one, and so holds what was its
/// later value.
Curve reversed(const Curve& curve, const KeyGroup& group);

/// Values replaced by their opposites about `neutral`, in the curve's space; rises with them.
Curve flippedGroup(const Curve& curve, const KeyGroup& group, double neutral);

/// Times multiplied by a factor (more than 0) about a time.
Curve stretched(const Curve& curve, const KeyGroup& group, double about, double factor);

/// Stretched so that the first key lies at one time and the last at another. REQUIRES: from < to.
Curve spread(const Curve& curve, const KeyGroup& group, double from, double to);

/// At equal distances in time between the group's first and last key.
Curve evenedOut(const Curve& curve, const KeyGroup& group);

/// The whole curve moved so that its last key lies one frame past the cut: the movement is then still under way on the
/// last frame that is shown.
Curve endingPastCut(const Curve& curve);

/// The other side's curve that mirrors this one about the cut: times with the opposite sign, the same values.
Curve mirroredAboutCut(const Curve& curve);

/// Handles by the monotone rule of Fritsch and Carlson ("Monotone piecewise cubic interpolation", SIAM J. Numer. Anal.
/// 17, 1980), in the curve's space: the curve never leaves the values of the keys on its two sides. Segments whose two
/// keys are both in the group become eased.
Curve smoothed(const Curve& curve, const KeyGroup& group);

} // namespace virga
