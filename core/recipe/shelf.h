#pragma once
// The user's own recipes: single files in one folder, which other programs may read and write too. Built-in ones stand
// beside them. Nothing is kept in memory but what was read last.
#include <filesystem>

#include "core/recipe/recipe.h"

namespace virga {

inline constexpr std::string_view recipeSuffix = ".virga-recipe";

/// The folder of the user's recipes by the XDG Base Directory Specification: $XDG_DATA_HOME/virga/recipes.
std::filesystem::path recipeFolder();

struct Shelf {
    std::vector<Recipe> recipes;          // the user's own, by name
    std::vector<std::string> notReadable; // what is wrong with other files there, a sentence each
};
/// All recipes of a folder; an empty shelf where there is no such folder.
Shelf shelfIn(const std::filesystem::path& folder);

/// Errors: as reading a file, and as recipeFromText.
Expected<Recipe> loadRecipe(const std::filesystem::path& file);
/// Errors: as writing a file.
Expected<void> saveRecipe(const Recipe& recipe, const std::filesystem::path& file);

/// Where a recipe of a shelf lies.
std::filesystem::path fileOf(const Recipe& recipe, const std::filesystem::path& folder);
/// A recipe put on the shelf: one with the same id is replaced. Errors: as writing a file.
Expected<void> putOnShelf(const Recipe& recipe, const std::filesystem::path& folder);
/// Errors: NotFound where it is not there, else as removing a file.
Expected<void> takeFromShelf(const std::string& id, const std::filesystem::path& folder);

} // namespace virga
