#pragma once
// Curves run backwards: so that what is solved for the side that arrives serves the one that departs, and so that one
// side can be made the mirror image of the other's speeds.
#include "core/base/error.h"
#include "core/curve/curve.h"

namespace virga {

/// The curve with time running backwards about `middle`: what it had at middle + t it has at middle - t. A held segment
/// then holds its other value.
Curve backwards(const Curve& curve, double middle);

/// The outgoing curve with its last handle solved so that its change over frame -1 equals `rate`; all values stay. Of
/// the handles that do, the one whose rates rise most evenly. Errors: as matchedByFirstHandle.
Expected<Curve> matchedByLastHandle(const Curve& outgoing, double rate, Ends ends = Ends::RunOn);

/// The incoming curve that has the outgoing one's speeds in reverse order: frame n as fast as frame -1 - n where both
/// take the same `length`, else stretched by their ratio. It arrives at `rest`, and is scaled so that its change over
/// frame 0 equals the outgoing one's over frame -1. Errors: BadInput where the outgoing side has no movement.
Expected<Curve> mirroredProfile(const Curve& outgoing, double length, double rest, Ends ends = Ends::RunOn);

/// The curve with its times stretched about 0; shapes stay.
Curve stretched(const Curve& curve, double factor);
/// The curve with its way scaled, in its space, about one of its keys; shapes stay.
Curve scaledAbout(const Curve& curve, int key, double factor);
/// The curve with all its values shifted in its space.
Curve shifted(const Curve& curve, double by);

} // namespace virga
