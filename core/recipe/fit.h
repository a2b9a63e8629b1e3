#pragma once
// A recipe fitted to one place: turned, scaled and shortened as its use and the room there ask, and made to carry on
// again where fitting cost it that.
#include "core/geom/screen_map.h"
#include "core/project/project.h"

namespace virga {

/// The frames that a recipe may take on each side of a cut.
struct Room {
    std::int64_t out = 0, in = 0;
    bool operator==(const Room&) const = default;
};

/// What a shot leaves free beside its other cut's moves; at least half of it.
Room roomAt(const Project& project, int cut);

struct Fitted {
    Transition transition; // its moves name those of the recipe; no link, no ids
    std::optional<EdgeFill> edges;
    std::optional<Ramp> rampOut, rampIn;
    int framesOut = 0, framesIn = 0; // that it takes now
};

/// REQUIRES: a frame that is not empty.
Fitted fitted(const Recipe& recipe, const RecipeUse& use, Size frame, FrameRate rate, Room room);

/// A transition that stands at a cut told in the recipe's own terms: the steps of fitting taken back. What the range of
/// a channel cut off stays cut off, and a side that was made evener stays so.
Transition unfitted(const Recipe& recipe, const RecipeUse& use, FrameRate rate, Room room, const Transition& at);

/// The heading that a use of it means.
Heading headingOf(const Recipe& recipe, const RecipeUse& use);
/// Its use in the opposite direction: in for out, left for right; mirrored where it has none.
RecipeUse opposite(const Recipe& recipe, RecipeUse use);

/// Whether a transition carries on through the cut between two shots that fill the frame and stand still.
bool carriesOn(const Transition& transition, Size frame);

} // namespace virga
