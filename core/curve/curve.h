#pragma once
// Keys and the curve through them. Times are frames from the cut (fractions allowed, also past it), values in the
// channel's own unit. A curve is interpolated in its space: plain values, log2 of a factor ("even zoom", so that equal
// steps look equal), or, for a depth d in units of the distance at which the frame fills the view, log2 of how large it
// is seen there, 1 / (1 - d). Before its first and after its last key a curve holds. All functions are total and free
// of shared state.
#include <vector>

namespace virga {

enum class Interpolation { Hold, Linear, Eased };
enum class Space { Linear, Log2, Depth };

/// What a curve does beyond its keys while a frame beside them is exposed.
enum class Ends { RunOn, Hold };

/// One end of a cubic Bezier segment. `reach` is a fraction of the segment's duration, 0 to 1, so time never runs
/// backwards; `rise` is in units of the curve's space and counts forward in time: a straight line has rise = reach * (b
/// - a) at both ends.
struct Handle {
    double reach = 1.0 / 3;
    double rise = 0;
    bool operator==(const Handle&) const = default;
};

struct Key {
    double time = 0;
    double value = 0;
    Interpolation next = Interpolation::Eased; // how the segment that leaves this key runs
    Handle leave;                              // into the segment that leaves this key
    Handle arrive;                             // out of the segment that comes in
    bool operator==(const Key&) const = default;
};

struct Curve {
    Space space = Space::Linear;
    std::vector<Key> keys; // ascending in time, strictly

    bool isEmpty() const { return keys.empty(); }
    bool operator==(const Curve&) const = default;
};

/// A value in the curve's space, and back. Factors below 1e-6 count as 1e-6 in Log2, distances below 1e-6 in Depth.
double toSpace(double value, Space space);
double fromSpace(double value, Space space);

/// The value at a time, in the channel's own unit; `fallback` for a curve without keys.
double evaluate(const Curve& curve, double time, double fallback = 0);

/// The value at a time at which the frame whose own time is `frame` is exposed. Where that frame lies within the keyed
/// range, both ends included, times beyond it run on (see runOnSpeed): a key on a frame does not cost the frame half
/// its blur, and a handle that is steep for a tenth of a frame throws nothing far. Every other frame sees the curve
/// hold.
double evaluateExposed(const Curve& curve, double frame, double time, Ends ends, double fallback = 0);

/// The speed with which a curve runs on before its first or after its last key, in units of its space per unit of time:
/// its tangent there, bounded by twice its mean speed over the half frame beside the key. `frame` is how long a frame
/// lasts in the curve's times. 0 for fewer than two keys.
enum class CurveEnd { First, Last };
double runOnSpeed(const Curve& curve, CurveEnd end, double frame = 1);

/// The change over the whole of a frame, from frame - 1/2 to frame + 1/2, in the curve's space: its rate as it is seen.
double changeOver(const Curve& curve, double frame, Ends ends = Ends::RunOn);

/// The derivative at a time in units of the curve's space per frame; 0 where the curve holds. At a key the two sides
/// may differ: speedBefore is the limit from earlier times, speedAfter that from later ones.
double speedBefore(const Curve& curve, double time);
double speedAfter(const Curve& curve, double time);

/// The index of the key whose outgoing segment covers the time, or -1 before the first and from the last key on.
int segmentAt(const Curve& curve, double time);

/// Where a cubic Bezier with the end points 0 and 1 and inner abscissae x1, x2 in [0, 1] has the abscissa x: s with
/// |x(s) - x| <= 1e-12 by Newton's method guarded by bisection (Press et al., Numerical Recipes, section 9.4).
double solveBezier(double x1, double x2, double x);

} // namespace virga
