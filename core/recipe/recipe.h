#pragma once
// Using recipes: put at a cut, over a shot or on an overlay, fitted to it; linked, so that the cut goes on following
// the recipe, or free.
#include <span>
#include <string>
#include <vector>

#include "core/project/stack_place.h"
#include "core/recipe/fit.h"

namespace virga {

/// The recipes that ship with Virga, in the order of their groups. Their numbers start from common practice, with no
/// published source.
const std::vector<Recipe>& builtInRecipes();
const Recipe* findRecipe(const std::string& id);
/// One of the project's own.
const Recipe* findRecipe(const Project& project, const std::string& id);

/// The groups, in the order in which they are offered: by movement.
std::span<const std::string_view> recipeGroups();

/// The place where a recipe of this kind would go from a cut: the cut itself; the drift of its incoming clip.
StackPlace placeFor(const Recipe& recipe, int cut);

/// A cut's transition replaced by the recipe, fitted to its room; both clips get its edge fill and ramps. Linked, the
/// recipe is kept in the project and the cut follows it. For a drift or an overlay its moves replace those there,
/// without a link. Unchanged where there is no such place, or the recipe is not for it.
Project withRecipe(const Project& project, StackPlace place, const Recipe& recipe, const RecipeUse& use = {},
                   bool linked = false);

/// Where nothing is copied at the edges of a cut's shots, and a zoom that stands still on top of its moves keeps the
/// frame covered: that zoom as large as these shots and this frame need. Else unchanged.
Project withCoverSolved(const Project& project, int cut);

/// What a use of the recipe takes at a cut: frames on each side.
Fitted fittedAt(const Project& project, int cut, const Recipe& recipe, const RecipeUse& use);

/// What a recipe is made of, when one is kept or a transition pasted.
struct RecipeParts {
    bool movement = true, opacity = true, finishing = true, shutter = true, overlap = true, edges = true, ramps = true;
    bool operator==(const RecipeParts&) const = default;
    bool takes(MoveRole role) const {
        return role == MoveRole::Movement ? movement : role == MoveRole::Opacity ? opacity : finishing;
    }
};

/// A recipe made of a cut as it is, with the lengths that its keys reach. Its headings are found from what moves most.
/// Errors: BadInput where there is no cut, or nothing of what is to be taken.
Expected<Recipe> recipeFrom(const Project& project, int cut, const std::string& name, const RecipeParts& parts = {});

/// A recipe of the given parts put at a cut; what is not among them stays there as it is.
Project withRecipeParts(const Project& project, int cut, const Recipe& recipe, const RecipeParts& parts);

/// A name as an id and part of a file's name: small letters, digits and hyphens only.
std::string plainId(const std::string& name);
/// An id made of a name that none of the given recipes has: "my-zoom", "my-zoom-2".
std::string idFor(const std::string& name, std::span<const Recipe> taken);

/// Recipes that no cut follows taken out.
Project withoutUnusedRecipes(const Project& project);

} // namespace virga
