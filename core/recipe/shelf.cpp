#include "core/recipe/shelf.h"

#include <algorithm>

#include "core/base/file.h"

namespace virga {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t largestRecipe = 8u << 20; // bytes: a recipe is a few thousand

} // namespace

fs::path recipeFolder() {
    const fs::path data = userFolder("XDG_DATA_HOME", ".local/share");
    return data.empty() ? fs::path() : data / "virga/recipes";
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
    constexpr std::size_t longestName = 200; // bytes; with the ending it is a file's name
    const std::string& id = recipe.id;
    const bool isName = !id.empty() && id.size() <= longestName && id.front() != '.' && id.find('/') == id.npos &&
                        id.find('\0') == id.npos;
    return folder / ((isName ? id : plainId(id)) + std::string(recipeSuffix));
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

namespace {

Expected<void> makeFolder(const fs::path& folder) {
    if (folder.empty())
        return fail(ErrorCode::WriteFailed, "there is no home folder to keep recipes in", {},
                    "set HOME or XDG_DATA_HOME, or write the recipe to a file");
    std::error_code error;
    fs::create_directories(folder, error);
    if (error)
        return fail(ErrorCode::WriteFailed, "the folder for recipes cannot be made: " + error.message(),
                    folder.string(), "check who may write there");
    return {};
}

} // namespace

Expected<Recipe> addToShelf(const Recipe& recipe, const fs::path& folder, std::span<const Recipe> taken) {
    if (auto made = makeFolder(folder); !made) return tl::unexpected(made.error());
    Recipe added = recipe;
    const std::string plain = plainId(recipe.name);
    constexpr int mostAlike = 10000;
    for (int n = 1; n < mostAlike; ++n) {
        added.id = n == 1 ? plain : plain + "-" + std::to_string(n);
        const auto isSame = [&](const Recipe& r) { return r.id == added.id; };
        if (findRecipe(added.id) || std::any_of(taken.begin(), taken.end(), isSame)) continue;
        const auto created = createFileAtomically(fileOf(added, folder), recipeText(added));
        if (!created) return tl::unexpected(created.error());
        if (*created) return added;
    }
    return fail(ErrorCode::BadInput, "too many recipes have this name", recipe.name, "choose another name");
}

Expected<void> putOnShelf(const Recipe& recipe, const fs::path& folder) {
    if (auto made = makeFolder(folder); !made) return made;
    const fs::path file = fileOf(recipe, folder);
    std::error_code error;
    if (fs::exists(fs::symlink_status(file, error)))
        if (const auto there = loadRecipe(file); !there)
            return fail(ErrorCode::BadInput,
                        "a file by this name cannot be read as a recipe and was left as it is: " +
                            there.error().message,
                        file.string(), "move it away, or save the recipe under another name");
    return saveRecipe(recipe, file);
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
