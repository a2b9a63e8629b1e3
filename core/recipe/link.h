#pragma once
// Cuts that follow a recipe: what is changed at one of them stays its own, what is changed in the recipe reaches all.
#include "core/recipe/recipe.h"

namespace virga {

/// The cuts that follow a recipe, ascending.
std::vector<int> cutsOf(const Project& project, const std::string& recipe);

/// A recipe changed (found by its id; added where the project has it not), and every cut that follows it with it, but
/// for the parts that are the cut's own.
Project withRecipeChanged(const Project& project, const Recipe& recipe);

/// After an edit: at linked cuts whose link and recipe the edit left alone, what it changed becomes the cut's own.
/// Nothing is noted where the piece's rate or size changed: that changes all cuts alike.
Project withOwnNoted(const Project& before, Project after);

/// A cut's own parts and moves taken over into its recipe; all cuts that follow it get them.
Project withOwnFolded(const Project& project, int cut);
/// The same for what an edit changed at one linked cut, so that editing it edits the recipe.
Project withEditFolded(const Project& before, const Project& after);

/// A cut's own parts dropped: as the recipe says again.
Project withOwnDropped(const Project& project, int cut);
/// The same recipe used in another way; own parts stay.
Project withUseChanged(const Project& project, int cut, const RecipeUse& use);
/// The cut as it is, following no recipe any more.
Project withLinkCut(const Project& project, int cut);

/// What of one channel of a move is the cut's own: nothing where the cut follows no recipe.
struct OwnOfLane {
    bool outgoing = false, incoming = false;
    bool rest = false; // its settings, or all of a move that the recipe has not
    bool any() const { return outgoing || incoming || rest; }
};
OwnOfLane ownOfLane(const Project& project, int cut, int move, int channel);

/// The cut's own parts in words, with its own moves: "Zoom, outgoing", "Glow added here".
std::vector<std::string> ownTexts(const Project& project, int cut);

} // namespace virga
