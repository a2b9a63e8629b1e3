// Recipes as files, in projects, and on the shelf.
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>
#include <set>
#include <thread>

#include "core/base/file.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"
#include "core/recipe/link.h"
#include "core/recipe/shelf.h"
#include "tests/support/folder.h"
#include "tests/support/projects.h"

namespace virga::recipe_file_test {
namespace {

using namespace test;
using json = nlohmann::json;
namespace fs = std::filesystem;

Recipe again(const Recipe& recipe) {
    auto read = recipeFromText(recipeText(recipe), "again");
    if (!read) ADD_FAILURE() << describe(read.error());
    return read.value_or(Recipe{});
}

Recipe randomRecipe(std::mt19937& draw) {
    const auto number = [&](double least, double most) { return least + (most - least) * (draw() % 10001) / 10000.0; };
    Recipe r;
    r.id = "r" + std::to_string(draw() % 1000);
    r.name = "Ré " + std::to_string(draw() % 1000);
    r.note = draw() % 2 ? "a \"note\"\n" : "";
    r.group = draw() % 2 ? "in" : "";
    for (unsigned i = draw() % 4; i > 0; --i) r.tags.push_back("tag" + std::to_string(i));
    r.place = RecipePlace(draw() % 3);
    for (unsigned i = draw() % 4; i > 0; --i) r.headings.push_back(Heading(1 + draw() % 8));
    r.rate = draw() % 2 ? Rational(30000, 1001) : Rational(25);
    r.framesOut = int(draw() % 50), r.framesIn = int(draw() % 50);
    r.wholeFrames = int(draw() % 6), r.step = int(draw() % 5);
    if (draw() % 2) r.edges = EdgeFill(draw() % 4);
    if (draw() % 2) r.rampOut = Ramp{number(-100, 100), number(100, 1000), int(1 + draw() % 30)};
    if (draw() % 2) r.rampIn = Ramp{number(-100, 100), number(100, 1000), int(1 + draw() % 30)};
    if (draw() % 2) r.transition.shutter = Shutter{number(0, 720), number(-720, 720), int(draw() % 64)};
    r.transition.overlap = {std::int64_t(draw() % 20), std::int64_t(draw() % 20)};
    r.transition.top = Side(draw() % 2);
    for (unsigned i = draw() % 5; i > 0; --i) {
        const MoveInfo& info = allMoves()[draw() % allMoves().size()];
        Move move = makeMove(info.kind, "m" + std::to_string(i));
        move.enabled = draw() % 2, move.holds = draw() % 2, move.even = draw() % 2;
        move.anchor = {number(-1, 2), number(-1, 2)};
        for (std::size_t p = 0; p < move.parameters.size(); ++p) {
            const ParameterInfo& parameter = info.parameters[p];
            move.parameters[p] = parameter.choices.empty() ? number(parameter.lowest, parameter.highest)
                                                           : double(draw() % parameter.choices.size());
        }
        for (std::size_t c = 0; c < move.channels.size(); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming}) {
                Curve& curve = move.channels[c].side(side);
                curve.space = spaceOf(move, int(c));
                double time = number(-20, 0);
                for (unsigned k = draw() % 5; k > 0; --k, time += number(0.1, 9))
                    curve.keys.push_back({time,
                                          number(info.channels[c].lowest, info.channels[c].highest),
                                          Interpolation(draw() % 3),
                                          {number(0, 1), number(-3, 3)},
                                          {number(0, 1), number(-3, 3)}});
            }
        r.transition.moves.push_back(std::move(move));
    }
    return r;
}

TEST(RecipeFile, EveryBuiltInOneComesBack) {
    for (const Recipe& recipe : builtInRecipes()) {
        EXPECT_EQ(again(recipe), recipe) << recipe.id;
        EXPECT_EQ(recipeText(again(recipe)), recipeText(recipe)) << recipe.id;
        const fs::path file = fs::path(VIRGA_SOURCE_DIR) / "core/recipe/built_in" / (recipe.id + ".virga-recipe");
        EXPECT_EQ(readFile(file).value_or(""), recipeText(recipe)) << "the file is as Virga writes it";
    }
}

TEST(RecipeFile, AThousandRandomOnesComeBack) {
    std::mt19937 draw(17);
    for (int i = 0; i < 1000; ++i) {
        const Recipe recipe = randomRecipe(draw);
        ASSERT_EQ(again(recipe), recipe) << "number " << i;
        ASSERT_EQ(recipeText(again(recipe)), recipeText(recipe)) << "number " << i;
    }
}

TEST(RecipeFile, UnknownFieldsSurviveAndOlderFilesDo) {
    json document = json::parse(recipeText(*findRecipe("plunge")));
    document["mood"] = "stormy";
    document["transition"]["moves"][0]["weather"] = {{"wind", 7}};
    Recipe recipe = recipeFromText(document.dump(), "f").value();
    recipe.name = "Another";
    json written = json::parse(recipeText(recipe));
    EXPECT_EQ(written["mood"], "stormy");
    EXPECT_EQ(written["transition"]["moves"][0]["weather"]["wind"], 7);
    EXPECT_EQ(written["name"], "Another");
    // In a project too.
    Project p = withRecipe(twoClips(), 0, recipe, {}, true);
    const json saved = toJson(p, {});
    EXPECT_EQ(saved["recipes"][0]["mood"], "stormy");
    const Project read = fromJson(saved, {}, "p").value();
    EXPECT_EQ(read, p);
    EXPECT_EQ(json::parse(recipeText(read.recipes[0]))["mood"], "stormy");
    // A file with the least that one can have.
    const auto least =
        recipeFromText(R"({"format":"virga-recipe","version":1,"id":"a","name":"A","transition":{}})", "f");
    ASSERT_TRUE(least) << describe(least.error());
    EXPECT_EQ(least->framesOut, 8);
    // A project of before recipes.
    json old = documentOf(twoClips(), {});
    old.erase("recipes");
    for (json& clip : old["reel"]) clip["transition"].erase("link");
    EXPECT_EQ(fromJson(old, {}, "old").value(), twoClips());
}

TEST(RecipeFile, WhatIsWrongIsSaid) {
    const auto why = [](const std::string& text) {
        const auto read = recipeFromText(text, "bad.virga-recipe");
        EXPECT_FALSE(read);
        return read ? std::string() : describe(read.error());
    };
    EXPECT_NE(why("{").find("bad.virga-recipe"), std::string::npos);
    EXPECT_NE(why(R"({"format":"virga-recipe","version":1,"id":"a","name":"A"})").find("\"transition\" is missing"),
              std::string::npos);
    EXPECT_NE(why(R"({"format":"virga-recipe","version":9,"id":"a","name":"A","transition":{}})").find("newer Virga"),
              std::string::npos);
    EXPECT_NE(why(R"({"format":"virga-project","version":1,"id":"a","name":"A","transition":{}})").size(), 0u);
    EXPECT_NE(why(R"({"format":"virga-recipe","version":1,"id":"a","name":"A","transition":{"top":"beside"}})")
                  .find("/transition"),
              std::string::npos);
    EXPECT_NE(
        why(R"({"format":"virga-recipe","version":1,"id":"a","name":"A","rate":"0/1","transition":{}})").find("/rate"),
        std::string::npos);
    EXPECT_NE(why(R"({"format":"virga-recipe","version":1,"id":"a","name":"A","framesOut":-3,"transition":{}})")
                  .find("too small"),
              std::string::npos);
}

// Random damage to a real file: an error or a recipe, never anything else.
TEST(RecipeFile, SurvivesDamage) {
    const std::string text = recipeText(*findRecipe("landing"));
    std::mt19937 draw(5);
    int recipes = 0, errors = 0;
    for (int i = 0; i < 3000; ++i) {
        std::string bad = text;
        for (unsigned n = 1 + draw() % 4; n > 0; --n) bad[draw() % bad.size()] = char(draw());
        const auto read = recipeFromText(bad, "f");
        ++(read ? recipes : errors);
        EXPECT_TRUE(!read || again(*read) == *read) << bad;
    }
    EXPECT_GT(recipes, 30);
    EXPECT_GT(errors, 30);
}

TEST(RecipeFile, TheSchemaIsThePublishedOne) {
    const fs::path file = fs::path(VIRGA_SOURCE_DIR) / "core/project/recipe.schema.json";
    if (std::getenv("VIRGA_WRITE_SCHEMA")) ASSERT_TRUE(writeFileAtomically(file, recipeSchemaText()));
    EXPECT_TRUE(readFile(file).value_or("") == recipeSchemaText()) << "write it anew with VIRGA_WRITE_SCHEMA=1";
}

TEST(RecipeFile, AProjectOpensWithoutTheUsersFolder) {
    TemporaryFolder folder;
    Recipe mine = *findRecipe("swing");
    mine.id = "mine", mine.name = "Mine";
    Project p = withRecipe(twoClips(folder.path() / "a.mp4", folder.path() / "b.mp4"), 0, mine, {}, true);
    const fs::path file = folder.path() / "p.virga";
    ASSERT_TRUE(saveProject(p, file));
    ::setenv("XDG_DATA_HOME", (folder.path() / "nothing").c_str(), 1);
    const Project read = loadProject(file).value();
    ::unsetenv("XDG_DATA_HOME");
    EXPECT_EQ(read, p);
    ASSERT_TRUE(findRecipe(read, "mine"));
    Recipe changed = *findRecipe(read, "mine");
    changed.transition.moves[0].channels[0].outgoing.keys.back().value = -60;
    EXPECT_EQ(transitionAt(withRecipeChanged(read, changed), 0).moves[0].channels[0].outgoing.keys.back().value, -60);
}

TEST(RecipeShelf, HoldsFilesByTheirNames) {
    TemporaryFolder folder;
    const fs::path shelf = folder.path() / "recipes";
    EXPECT_TRUE(shelfIn(shelf).recipes.empty());
    Recipe recipe = *findRecipe("swing");
    recipe.id = "my-swing", recipe.name = "My swing";
    ASSERT_TRUE(putOnShelf(recipe, shelf));
    std::ofstream(shelf / "broken.virga-recipe") << "{";
    std::ofstream(shelf / "notes.txt") << "no recipe";
    const Shelf read = shelfIn(shelf);
    ASSERT_EQ(read.recipes.size(), 1u);
    EXPECT_EQ(read.recipes[0], recipe);
    ASSERT_EQ(read.notReadable.size(), 1u);
    EXPECT_NE(read.notReadable[0].find("broken.virga-recipe"), std::string::npos);
    EXPECT_FALSE(takeFromShelf("other", shelf));
    EXPECT_TRUE(takeFromShelf("my-swing", shelf));
    EXPECT_TRUE(shelfIn(shelf).recipes.empty());
    // An id that is a path leads nowhere.
    recipe.id = "../../outside";
    EXPECT_EQ(fileOf(recipe, shelf).parent_path(), shelf);
}

TEST(RecipeShelf, NothingIsReplacedUnread) {
    TemporaryFolder folder;
    const fs::path shelf = folder.path() / "recipes";
    Recipe recipe = *findRecipe("swing");
    recipe.id = "my-swing", recipe.name = "My swing";
    ASSERT_TRUE(putOnShelf(recipe, shelf));
    const std::string newer = R"({"virga": "recipe", "version": 999, "name": "from a newer Virga"})";
    std::ofstream(fileOf(recipe, shelf)) << newer;
    const auto refused = putOnShelf(recipe, shelf);
    ASSERT_FALSE(refused);
    EXPECT_FALSE(refused.error().remedy.empty());
    EXPECT_EQ(*readFile(fileOf(recipe, shelf)), newer) << "it is left as it is";
    const auto added = addToShelf(recipe, shelf);
    ASSERT_TRUE(added) << describe(added.error());
    EXPECT_EQ(added->id, "my-swing-2");
    EXPECT_EQ(*readFile(fileOf(recipe, shelf)), newer);
    // Ids that differ in case only are different files.
    recipe.id = "My-Swing";
    ASSERT_TRUE(putOnShelf(recipe, shelf));
    EXPECT_TRUE(takeFromShelf("My-Swing", shelf));
    EXPECT_TRUE(fs::exists(shelf / "my-swing.virga-recipe"));
}

TEST(RecipeShelf, SixThatAreSavedAtOnceAreSix) {
    TemporaryFolder folder;
    const fs::path shelf = folder.path() / "recipes";
    Recipe recipe = *findRecipe("swing");
    recipe.name = "Our swing";
    std::vector<std::thread> threads;
    for (int i = 0; i < 6; ++i) threads.emplace_back([&] { EXPECT_TRUE(addToShelf(recipe, shelf)); });
    for (auto& t : threads) t.join();
    EXPECT_EQ(shelfIn(shelf).recipes.size(), 6u);
}

} // namespace
} // namespace virga::recipe_file_test
