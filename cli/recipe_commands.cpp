// Recipes from the terminal: listed, shown, put on cuts, kept from one.
#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/move_spec.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/base/output.h"
#include "core/check/flow.h"
#include "core/project/project_file.h"
#include "core/recipe/many.h"
#include "core/recipe/shelf.h"

namespace virga::cli {
namespace {

using json = nlohmann::json;

// A file, one of the user's own, of the project's, or a built-in one.
Expected<Recipe> recipeNamed(const std::string& name, const Project* project = nullptr) {
    if (name.ends_with(recipeSuffix)) return loadRecipe(name);
    if (project)
        if (const Recipe* recipe = findRecipe(*project, name)) return *recipe;
    for (const Recipe& recipe : shelfIn(recipeFolder()).recipes)
        if (recipe.id == name) return recipe;
    if (const Recipe* recipe = findRecipe(name)) return *recipe;
    return fail(ErrorCode::NotFound, fmt::format("there is no recipe \"{}\"", name), {},
                "see virga-cli recipes list, or give a .virga-recipe file");
}

std::string joined(const std::vector<std::string>& words) {
    std::string text;
    for (const std::string& word : words) text += (text.empty() ? "" : ", ") + word;
    return text;
}

} // namespace

int runRecipeList(const RecipeOptions& options) {
    const Shelf shelf = shelfIn(recipeFolder());
    std::vector<Recipe> all = builtInRecipes();
    all.insert(all.end(), shelf.recipes.begin(), shelf.recipes.end());
    json list = json::array();
    for (const Recipe& r : all) {
        std::vector<std::string> headings;
        for (const Heading heading : r.headings) headings.push_back(std::string(nameOf(heading)));
        if (options.json)
            list.push_back({{"id", r.id},
                            {"name", r.name},
                            {"group", r.group},
                            {"tags", r.tags},
                            {"headings", headings},
                            {"framesOut", r.framesOut},
                            {"framesIn", r.framesIn},
                            {"builtIn", findRecipe(r.id) != nullptr},
                            {"note", r.note}});
        else
            say("{:<18} {:<18} {:<6} {:>3} | {:<3} {}\n", r.id, r.name, r.group, r.framesOut, r.framesIn,
                joined(headings));
    }
    if (options.json) sayJson(jsonText(list));
    for (const std::string& bad : shelf.notReadable) warn("{}\n", bad);
    return Fine;
}

int runRecipeShow(const RecipeOptions& options) {
    const auto recipe = recipeNamed(options.recipe);
    if (!recipe) return complain(recipe.error());
    writeOut(printableJson(recipeText(*recipe)));
    return Fine;
}

int runRecipeApply(const RecipeOptions& options) {
    const auto project = openProject(options.project);
    if (!project) return complain(project.error());
    const auto recipe = recipeNamed(options.recipe, &*project);
    if (!recipe) return complain(recipe.error());
    if (recipe->place != RecipePlace::Cut)
        return complain({ErrorCode::BadInput, "this recipe is not for cuts", options.recipe, "choose another one"});
    const auto cuts = cutsFromText(options.cuts, cutCount(*project));
    if (!cuts) return complain(cuts.error());
    RecipeUse use;
    use.strength = options.strength / 100;
    use.length = options.length / 100;
    use.mirrored = options.mirrored, use.reversed = options.reversed, use.byTime = options.byTime;
    use.wholeFrames = options.frames, use.step = options.step;
    if (!options.heading.empty()) {
        const auto heading = headingNamed(options.heading);
        if (!heading || std::find(recipe->headings.begin(), recipe->headings.end(), *heading) == recipe->headings.end())
            return complain({ErrorCode::BadInput, fmt::format("{} cannot go \"{}\"", recipe->name, options.heading),
                             "--heading " + options.heading, "see virga-cli recipes list for its directions"});
        use.heading = *heading;
    }
    ManyCuts how;
    how.every = options.every, how.alternate = options.alternate, how.carryOn = options.carryOn;
    how.seed = options.seed, how.linked = !options.free;
    const Project done = withRecipeOnCuts(*project, *cuts, *recipe, use, how);
    Output output = projectOutput(done, options.force);
    output.inputs.push_back(options.project);
    if (const auto may = mayWrite(options.out, output); !may) return complain(may.error());
    if (const auto saved = saveProject(done, options.out); !saved) return complain(saved.error());
    const auto uses = usesAt(*project, *cuts, *recipe, use, how);
    say("{}: {} at {} cut{}\n", options.out, recipe->name, uses.size(), uses.size() == 1 ? "" : "s");
    const ReelFlow flow = flowOfReel(done);
    const auto all = flow.all();
    for (const Finding* f : all) say("  {}. {}\n", f->title, f->detail);
    return !all.empty() && all.front()->severity == Severity::Breaks ? Findings : Fine;
}

int runRecipeSave(const RecipeOptions& options) {
    const auto project = openProject(options.project);
    if (!project) return complain(project.error());
    const auto cuts = cutsFromText(options.cuts, cutCount(*project));
    if (!cuts) return complain(cuts.error());
    if (cuts->size() != 1)
        return complain({ErrorCode::BadInput, "a recipe is made of one cut", "--cuts " + options.cuts,
                         "name one, such as --cut 2"});
    const Shelf shelf = shelfIn(recipeFolder());
    auto recipe = recipeFrom(*project, cuts->front(), options.name);
    if (!recipe) return complain(recipe.error());
    recipe->note = options.note;
    recipe->id = idFor(options.name, shelf.recipes);
    if (options.out.empty()) {
        const auto added = addToShelf(*recipe, recipeFolder());
        if (!added) return complain(added.error());
        say("{}\n", fileOf(*added, recipeFolder()));
        return Fine;
    }
    const Output output{"a recipe",
                        {std::string(recipeSuffix)},
                        {options.project},
                        !options.force,
                        [](const std::filesystem::path& path) { return loadRecipe(path).has_value(); }};
    if (const auto may = mayWrite(options.out, output); !may) return complain(may.error());
    if (const auto done = saveRecipe(*recipe, options.out); !done) return complain(done.error());
    say("{}\n", options.out);
    return Fine;
}

} // namespace virga::cli
