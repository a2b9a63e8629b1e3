#pragma once
// The user's own recipes: single files in one folder, which other programs may read and write too. Built-in ones stand
// beside them. Nothing is kept in memory but what was read last.
#include <filesystem>

#include "core/recipe/recipe.h"

namespace virga {

inline constexpr std::string_view recipeSuffix = ".virga-recipe";

/// $XDG_DATA_HOME/virga/recipes; empty where the user has no home. See userFolder().
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

/// Where a recipe of a shelf lies: an id and a file name are one to one. An id that is no file's name leads nowhere
/// else than into the folder.
std::filesystem::path fileOf(const Recipe& recipe, const std::filesystem::path& folder);
/// A new recipe put on the shelf, under an id of its own made of its name; nothing is replaced, whatever else adds one
/// at the same moment. Errors: as writing a file. Ids of `taken` are not given.
Expected<Recipe> addToShelf(const Recipe& recipe, const std::filesystem::path& folder,
                            std::span<const Recipe> taken = {});
/// A recipe put in the place of the one with its id, or where there is none. Errors: BadInput where the file there
/// cannot be read, which is left as it is; as writing a file.
Expected<void> putOnShelf(const Recipe& recipe, const std::filesystem::path& folder);
/// Errors: NotFound where it is not there, else as removing a file.
Expected<void> takeFromShelf(const std::string& id, const std::filesystem::path& folder);

} // namespace virga
