#include "core/recipe/shelf.h"

#include <algorithm>
#include <cstdlib>

#include "core/base/file.h"

namespace virga {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t largestRecipe = 8u << 20; // bytes: a recipe is a few thousand

} // namespace

fs::path recipeFolder() {
    const char* data = std::getenv("XDG_DATA_HOME");
    if (data && fs::path(data).is_absolute()) return fs::path(data) / "virga/recipes";
    const char* home = std::getenv("HOME");
    return fs::path(home ? home : ".") / ".local/share/virga/recipes";
}

Expected<Recipe> loadRecipe(const fs::path& file) {
    auto text = readFile(file, largestRecipe);
    if (!text) return tl::unexpected(text.error());
    return recipeFromText(*text, file.string());
}

Expected<void> saveRecipe(const Recipe& recipe, const fs::path& file) {
    return writeFileAtomically(file, recipeText(recipe));
}

fs::path fileOf(const Recipe& recipe, const fs::path& folder) {
    return folder / (plainId(recipe.id) + std::string(recipeSuffix)); // an id that is a path leads nowhere
}

Shelf shelfIn(const fs::path& folder) {
    Shelf shelf;
    std::error_code error;
    std::vector<fs::path> files;
    for (fs::directory_iterator at(folder, error), end; !error && at != end; at.increment(error))
        if (at->path().extension() == recipeSuffix) files.push_back(at->path());
    std::sort(files.begin(), files.end());
    for (const fs::path& file : files) {
        auto recipe = loadRecipe(file);
        if (!recipe) {
            shelf.notReadable.push_back(describe(recipe.error()));
            continue;
        }
        recipe->id = file.stem().string(); // by its file: two never have the same
        shelf.recipes.push_back(std::move(*recipe));
    }
    std::stable_sort(shelf.recipes.begin(), shelf.recipes.end(),
                     [](const Recipe& a, const Recipe& b) { return a.name < b.name; });
    return shelf;
}

Expected<void> putOnShelf(const Recipe& recipe, const fs::path& folder) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (error)
        return fail(ErrorCode::WriteFailed, "the folder for recipes cannot be made: " + error.message(),
                    folder.string(), "check who may write there");
    return saveRecipe(recipe, fileOf(recipe, folder));
}

Expected<void> takeFromShelf(const std::string& id, const fs::path& folder) {
    Recipe recipe;
    recipe.id = id;
    const fs::path file = fileOf(recipe, folder);
    std::error_code error;
    if (!fs::remove(file, error))
        return fail(error ? ErrorCode::WriteFailed : ErrorCode::NotFound,
                    error ? "cannot be removed: " + error.message() : "is not there any more", file.string(),
                    "look into the folder");
    return {};
}

} // namespace virga
