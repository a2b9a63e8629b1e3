#pragma once
// The parts of a transition that can be changed at one cut while the rest follows its recipe. A part is named in files:
// "m1/factor/outgoing" is one side of a channel of the recipe's move m1, "m1/settings" all of that move but its curves,
// "m1" that it is there at all; "overlap" (with who lies on top), "shutter", "order". Moves that name none of the
// recipe's are the cut's own and lie on top of the others.
#include <string>
#include <vector>

#include "core/project/recipe.h"

namespace virga {

/// Names of all parts in which two transitions differ, among the moves that follow the recipe.
std::vector<std::string> differingParts(const Transition& a, const Transition& b);

/// The new transition with the given parts, and the moves of its own, as they are at the cut. Moves that stay keep
/// their ids.
Transition keepingParts(const Transition& next, const Transition& now, const std::vector<std::string>& own);

/// The name of the part that is one side of a move's channel.
std::string curvePart(const Move& move, int channel, Side side);

/// A part in words: "Zoom, outgoing", "Slide, its settings", "the shutter".
std::string partText(const Transition& at, const std::string& part);

} // namespace virga
