// A recipe's file; what is read is put at a cut.
#include "core/project/recipe.h"
#include "core/recipe/recipe.h"
#include "tests/fuzz/fuzz.h"
#include "tests/support/projects.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Project base = test::twoClips();
    const auto recipe = recipeFromText(fuzz::text(data, size), "fuzz.virga-recipe");
    if (!recipe) return fuzz::requireTold(recipe.error()), 0;
    const std::string written = recipeText(*recipe);
    const auto again = recipeFromText(written, "again");
    fuzz::require(again && *again == *recipe, "a recipe that was read can be written and read", written);
    fuzz::requireSound(withRecipe(base, placeFor(*recipe, 0), *recipe));
    return 0;
}
