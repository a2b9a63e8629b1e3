#pragma once
// Recipes: transitions kept for reuse. A recipe is data; applying it fits it to the cut's clips and makes the incoming
// side carry on at the outgoing side's speed.
#include <string>
#include <vector>

#include "core/project/project.h"

namespace virga {

struct RecipeChannel {
    MoveKind kind;
    int channel;
    double outStart, outEnd, inStart, inEnd;
};

struct Recipe {
    std::string name;  // in files
    std::string label; // as people read it
    int framesOut = 8, framesIn = 8;
    std::vector<RecipeChannel> channels;
    EdgeFill edges = EdgeFill::Mirror;
};

/// The recipes that ship with Virga. Their numbers are common practice, with no published source.
const std::vector<Recipe>& builtInRecipes();
const Recipe* findRecipe(const std::string& name);

/// The cut's transition replaced by the recipe, shortened where a clip is shorter than it; both clips get its edge
/// fill. `opposite` turns it round: in instead of out, left instead of right, up instead of down.
Project withRecipe(const Project& project, int cut, const Recipe& recipe, bool opposite = false);

} // namespace virga
