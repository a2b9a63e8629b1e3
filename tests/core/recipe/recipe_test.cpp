#include "core/recipe/recipe.h"

#include <gtest/gtest.h>

#include "core/flow/flow.h"
#include "tests/support/projects.h"

namespace virga {
namespace {

using namespace test;

// The built-in numbers are common practice, with no published source.
TEST(Recipe, HasTheNumbersOfPractice) {
    const Recipe* plunge = findRecipe("plunge");
    ASSERT_TRUE(plunge);
    EXPECT_EQ(plunge->channels[0].outEnd, 2.5);
    EXPECT_EQ(plunge->framesOut, 5);
    EXPECT_EQ(findRecipe("quarter-turn")->channels[0].outEnd, -90);
    EXPECT_EQ(findRecipe("half-slide")->channels[0].outEnd, -0.5);
    EXPECT_EQ(findRecipe("nothing"), nullptr);
}

TEST(Recipe, CarriesOnEitherWayRound) {
    for (const Recipe& recipe : builtInRecipes())
        for (const bool opposite : {false, true}) {
            const Project p = withRecipe(twoClips(), 0, recipe, opposite);
            const CutFlow flow = flowAtCut(p, 0);
            EXPECT_NEAR(flow.speedIn, flow.speedOut, 0.06 * flow.speedOut) << recipe.label;
            EXPECT_GT(flow.speedOut, 5);
            for (const Finding& f : flow.findings)
                EXPECT_EQ(f.severity, Severity::WorthALook) << recipe.label << ": " << f.title;
            EXPECT_EQ(edgesOf(p, p.reel[0]), EdgeFill::Mirror);
        }
    const auto last = [](const Project& p) {
        return transitionAt(p, 0).moves[0].channels[0].outgoing.keys.back().value;
    };
    EXPECT_EQ(last(withRecipe(twoClips(), 0, *findRecipe("quarter-turn"), true)), 90);
    EXPECT_NEAR(last(withRecipe(twoClips(), 0, *findRecipe("plunge"), true)), 0.4, 1e-12);
}

TEST(Recipe, FitsItselfToShortClips) {
    Project p = twoClips();
    p.reel[0].length = 3;
    p.reel[1].length = 6;
    p = withRecipe(p, 0, *findRecipe("plunge"));
    const Channel& c = transitionAt(p, 0).moves[0].channels[0];
    EXPECT_EQ(c.outgoing.keys.front().time, -3);
    EXPECT_EQ(c.incoming.keys.back().time, 6);
}

TEST(Recipe, ReplacesTheMovesAndFillsEmptyEdges) {
    Project p = plungeProject();
    p.settings.edges = EdgeFill::Empty;
    p = withRecipe(p, 0, *findRecipe("half-slide"));
    ASSERT_EQ(transitionAt(p, 0).moves.size(), 1u);
    EXPECT_EQ(transitionAt(p, 0).moves[0].kind, MoveKind::Slide);
    EXPECT_EQ(p.reel[0].edges, EdgeFill::Mirror);
    EXPECT_EQ(p.settings.edges, EdgeFill::Empty) << "the rest of the piece is left alone";
    EXPECT_EQ(withRecipe(p, 7, *findRecipe("plunge")), p);
}

} // namespace
} // namespace virga
