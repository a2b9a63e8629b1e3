#pragma once
// Changing curves without spoiling their shape. Each function returns the changed curve; an index out of range leaves
// it as it is.
#include "core/curve/curve.h"
#include "core/curve/shape.h"

namespace virga {

/// Keys never come closer than this many frames.
inline constexpr double smallestKeyGap = 0.01;

/// A key moved in time and value. Reaches stay; the rises of the two segments it touches are scaled with their value
/// difference. Where that difference is or becomes 0 the rises stay as they are, so that a dip between equal keys
/// survives and every move can be taken back. Time is kept between the neighbours.
Curve withKeyMoved(const Curve& curve, int key, double time, double value);

/// A key put on the curve without changing it (de Casteljau), or outside its keys with the value it holds there.
/// `added` receives its index. A key already at that time is left alone and its index given.
Curve withKeyAdded(const Curve& curve, double time, double fallback, int* added = nullptr);

Curve withKeyRemoved(const Curve& curve, int key);

/// A curve whose times were scaled so that what was one frame lasts `frame` frames now, counted so that `end` is the
/// time at which its shot ends. Where its last key lay on the shot's last frame and lies before it now, the curve gets
/// a key on the new last frame, as far as it runs on (runOnSpeed): the movement is one curve up to the cut at any rate,
/// and no frame repeats another. A last key that says no more than that is taken off again where frames grow longer.
/// Values stay within [lowest, highest].
Curve withRunOnToEnd(const Curve& curve, double end, double frame, double lowest, double highest);

/// The segment that leaves `key` bent to a shape.
Curve withShape(const Curve& curve, int key, const Shape& shape);

/// A handle set; reach is kept within 0 to 1. The segment becomes eased.
Curve withLeaveHandle(const Curve& curve, int key, Handle handle);
Curve withArriveHandle(const Curve& curve, int key, Handle handle);

/// Every value replaced by its opposite about `neutral`, in the curve's space: the same movement the other way round.
Curve flipped(const Curve& curve, double neutral);

/// The same keys interpolated in another space: values stay, and each segment's shape. Where a segment's values are
/// equal its handles are flattened.
Curve inSpace(const Curve& curve, Space space);

/// Two keys with a shape between them.
Curve twoKeys(Space space, double t0, double v0, double t1, double v1, const Shape& shape);

} // namespace virga
