#pragma once
// What users do with recipes, each as one named, undoable step.
#include "app/document/document.h"
#include "core/recipe/link.h"
#include "core/recipe/many.h"

namespace virga {

/// Where a recipe would go now: the selected overlay or clip where it is for one, else the cut.
StackPlace placeOf(const Document& document, const Recipe& recipe);
bool canUse(const Document& document, const Recipe& recipe);

void applyRecipe(Document& document, const Recipe& recipe, const RecipeUse& use = {}, bool linked = true);
void applyRecipeToCuts(Document& document, const std::vector<int>& cuts, const Recipe& recipe, const RecipeUse& use,
                       const ManyCuts& how);
/// The cuts between and beside the chosen clips; the cut where fewer than two are chosen.
std::vector<int> chosenCuts(const Document& document);

/// A cut that was kept as a recipe follows it.
void linkTo(Document& document, int cut, const Recipe& recipe);
void foldOwn(Document& document, int cut);
void dropOwn(Document& document, int cut);
void cutLink(Document& document, int cut);
/// The recipe's name, note or group in this project, for all its cuts.
void changeRecipe(Document& document, const Recipe& recipe);

/// A cut as text for the clipboard: its transition, and as a recipe, edges and ramps with it.
std::string copiedCut(const Project& project, int cut);
/// The recipe in copied text. Errors: BadInput where there is none.
Expected<Recipe> recipeInCopy(const std::string& text);
void pasteParts(Document& document, int cut, const Recipe& recipe, const RecipeParts& parts);

} // namespace virga
