#pragma once
// One recipe to many cuts.
#include <cstdint>

#include "core/recipe/recipe.h"

namespace virga {

struct ManyCuts {
    int every = 1;          // of the chosen cuts, only every so-manieth, from the first on
    bool alternate = false; // every second one the other way round
    bool carryOn = false;   // each goes on the way the moving cut before it went
    std::uint32_t seed = 0; // direction, strength and length varied by it; 0: all alike
    bool linked = true;
    bool operator==(const ManyCuts&) const = default;
};

/// The recipe at the given cuts (ascending); gaps on either side are left out. A recipe that stacks shots shortens the
/// shots between neighbouring cuts to its step and keeps those beneath on screen until they are covered.
Project withRecipeOnCuts(const Project& project, const std::vector<int>& cuts, const Recipe& recipe,
                         const RecipeUse& use, const ManyCuts& how);

/// The uses at each of the cuts that are taken, as withRecipeOnCuts would choose them.
std::vector<std::pair<int, RecipeUse>> usesAt(const Project& project, const std::vector<int>& cuts,
                                              const Recipe& recipe, const RecipeUse& use, const ManyCuts& how);

/// The heading at a cut in which the recipe goes on as the moving cut before it went; as `use` says where none does.
RecipeUse carryingOn(const Project& project, int cut, const Recipe& recipe, const RecipeUse& use);

} // namespace virga
