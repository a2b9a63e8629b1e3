#pragma once
// What a recipe's use does to its transition, one step at a time. Each step can be taken back by another one of the
// same kind, so that what is changed at a cut can be told in the recipe's own terms.
#include "core/project/recipe.h"

namespace virga {

/// Left and right exchanged: anchors, slides, turns, swivels and angles.
Transition mirrored(const Transition& transition);
/// Time running backwards about the cut: what departed arrives.
Transition reversed(const Transition& transition);
/// The movement that goes to `from` made to go to `to`: turned by quarters, mirrored, in for out. Where there is no way
/// from one to the other it stays.
Transition turned(const Transition& transition, Heading from, Heading to);
/// Every way scaled about its rest, in its channel's space, within its channel's range. Slides that pass whole frames
/// go on passing whole ones, at least one; opacity stays.
Transition strengthened(const Transition& transition, double factor);
/// Slides by whole frames only, by another number of them.
Transition passing(const Transition& transition, int wholeFrames, int before);
/// Times of each side scaled; keys that lay on whole frames do so afterwards. An outgoing movement whose last key lay
/// on its shot's last frame runs on to it (withRunOnToEnd).
Transition lasting(const Transition& transition, double factorOut, double factorIn);

/// One side's shapes made evener by a share of the way to a straight line: a shape that is steep at its end throws all
/// of a movement of a few frames into the last of them.
Transition evened(const Transition& transition, Side side, double share);

/// How far a transition's keys reach on a side, in frames from the cut; 0 where it has none.
double reachOf(const Transition& transition, Side side);

/// Whether a curve's way ends a whole number of frames from rest, at least one.
bool passesWholeFrames(const Move& move, int channel, Side side);

} // namespace virga
