// Cuts that follow recipes.
#include "core/recipe/link.h"

#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/edit/carry_on.h"
#include "core/edit/move_edits.h"
#include "core/edit/piece_edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/project_json.h"
#include "core/recipe/many.h"
#include "tests/support/projects.h"

namespace virga::link_test {
namespace {

using namespace test;

Project reelOf(int clips) {
    Project p = twoClips();
    for (Media& media : p.media) media.duration = 20;
    for (Clip& clip : p.reel) clip.length = 60, clip.sourceIn = 5;
    for (int i = 2; i < clips; ++i) {
        Clip more = p.reel[std::size_t(i % 2)];
        more.id = "clip-" + std::to_string(100 + i);
        p.reel.push_back(more);
    }
    return p;
}

std::vector<int> allCuts(const Project& p) {
    std::vector<int> cuts;
    for (int cut = 0; cut < cutCount(p); ++cut) cuts.push_back(cut);
    return cuts;
}

Project linkedReel(int clips, const char* id = "plunge") {
    const Project p = reelOf(clips);
    return withRecipeOnCuts(p, allCuts(p), *findRecipe(id), {}, {});
}

double endOf(const Project& p, int cut) {
    return transitionAt(p, cut).moves[0].channels.at(0).outgoing.keys.back().value;
}

// As the document does it: an edit, and what it did noted.
Project edited(const Project& before, const Project& after) {
    return withOwnNoted(before, after);
}
Project withEnd(const Project& p, int cut, double value) {
    const CurveAddress at{cut, 0, 0, Side::Outgoing};
    const Curve& curve = curveAt(p, at);
    return withCurve(p, at, withKeyMoved(curve, int(curve.keys.size()) - 1, 0, value));
}

TEST(RecipeLink, AChangeOfTheRecipeReachesAllItsCuts) {
    const Project p = linkedReel(5);
    Recipe recipe = *findRecipe(p, "plunge");
    recipe.transition.moves[0].channels[0].outgoing.keys.back().value = 3;
    recipe.transition.moves.push_back(makeMove(MoveKind::Glow, "m9"));
    recipe.edges = EdgeFill::Repeat;
    recipe.transition.shutter = Shutter{270, -135, 0};
    const Project q = withRecipeChanged(p, recipe);
    for (int cut = 0; cut < 4; ++cut) {
        EXPECT_EQ(endOf(q, cut), 3) << cut;
        ASSERT_EQ(transitionAt(q, cut).moves.size(), 2u);
        EXPECT_EQ(transitionAt(q, cut).moves[0].id, transitionAt(p, cut).moves[0].id) << "it is the same move";
        EXPECT_EQ(transitionAt(q, cut).moves[1].kind, MoveKind::Glow);
        EXPECT_EQ(transitionAt(q, cut).shutter->angle, 270);
        EXPECT_EQ(q.reel[std::size_t(cut)].edges, EdgeFill::Repeat);
        EXPECT_TRUE(transitionAt(q, cut).link->own.empty());
    }
    std::set<std::string> ids;
    for (int cut = 0; cut < 4; ++cut)
        for (const Move& move : transitionAt(q, cut).moves) EXPECT_TRUE(ids.insert(move.id).second) << move.id;
    recipe.transition.moves.pop_back();
    EXPECT_EQ(transitionAt(withRecipeChanged(q, recipe), 2).moves.size(), 1u);
}

TEST(RecipeLink, ALocalChangeStaysAndTheRestFollows) {
    const Project p = linkedReel(4);
    const Project q = edited(p, withEnd(p, 1, 4));
    ASSERT_EQ(transitionAt(q, 1).link->own, std::vector<std::string>{"m1/factor/outgoing"});
    EXPECT_EQ(ownTexts(q, 1), std::vector<std::string>{"Zoom, outgoing"});
    EXPECT_TRUE(ownOfLane(q, 1, 0, 0).outgoing);
    EXPECT_FALSE(ownOfLane(q, 1, 0, 0).incoming);
    EXPECT_FALSE(ownOfLane(q, 0, 0, 0).any());
    EXPECT_TRUE(transitionAt(q, 0).link->own.empty());
    Recipe recipe = *findRecipe(q, "plunge");
    recipe.transition.moves[0].channels[0].outgoing.keys.back().value = 3;
    recipe.transition.moves[0].anchor = {0.3, 0.3};
    const Project r = withRecipeChanged(q, recipe);
    EXPECT_EQ(endOf(r, 0), 3);
    EXPECT_EQ(endOf(r, 1), 4) << "its own";
    EXPECT_EQ(transitionAt(r, 1).moves[0].anchor, (Point{0.3, 0.3})) << "this follows";
    // Dropped, it is as the recipe says.
    EXPECT_EQ(endOf(withOwnDropped(r, 1), 1), 3);
    EXPECT_TRUE(transitionAt(withOwnDropped(r, 1), 1).link->own.empty());
}

TEST(RecipeLink, EveryKindOfChangeIsNoted) {
    const Project p = linkedReel(3, "creep-and-plunge");
    const auto own = [&](const Project& after) { return transitionAt(edited(p, after), 0).link->own; };
    EXPECT_EQ(own(withoutMove(p, 0, 2)), std::vector<std::string>{"m3"});
    Move moved = transitionAt(p, 0).moves[0];
    moved.anchor = {0.2, 0.4};
    EXPECT_EQ(own(withMoveChanged(p, 0, 0, moved)), std::vector<std::string>{"m1/settings"});
    EXPECT_EQ(own(withMoveReordered(p, 0, 0, 2)), std::vector<std::string>{"order"});
    EXPECT_EQ(own(withOverlap(p, 0, {2, 2}, Side::Outgoing)), std::vector<std::string>{"overlap"});
    Project shuttered = p;
    shuttered.reel[1].transition.shutter = Shutter{90, -45, 0};
    EXPECT_EQ(own(shuttered), std::vector<std::string>{"shutter"});
    EXPECT_TRUE(own(withSolo(p, 0, 0, true)).empty()) << "a way of looking";
    const Project added = edited(p, withMoveAdded(p, 0, MoveKind::Sharpen));
    EXPECT_EQ(ownTexts(added, 0), std::vector<std::string>{"Sharpen added here"});
    EXPECT_TRUE(ownOfLane(added, 0, 3, 0).rest);
    // What was removed here stays away, what was added stays.
    Recipe recipe = *findRecipe(p, "creep-and-plunge");
    recipe.note = "another";
    EXPECT_EQ(transitionAt(withRecipeChanged(edited(p, withoutMove(p, 0, 2)), recipe), 0).moves.size(), 2u);
    EXPECT_EQ(transitionAt(withRecipeChanged(added, recipe), 0).moves.size(), 4u);
    // The reel's edits are none of a cut's own.
    EXPECT_TRUE(own(withCutRolled(p, 0, 5)).empty());
    EXPECT_TRUE(own(withRate(p, 50)).empty());
}

TEST(RecipeLink, FoldedBackItReachesTheOthersInTheirOwnTerms) {
    // The second cut goes the other way, twice as long and half as strong.
    Project p = linkedReel(4);
    RecipeUse use;
    use.heading = Heading::Out, use.length = 2, use.strength = 0.5;
    p = withUseChanged(p, 1, use);
    EXPECT_NEAR(endOf(p, 1), std::sqrt(0.4), 1e-12);
    const Project q = withOwnFolded(edited(p, withEnd(p, 0, 4)), 0);
    EXPECT_EQ(endOf(q, 0), 4);
    EXPECT_EQ(endOf(q, 2), 4);
    EXPECT_NEAR(endOf(q, 1), 0.5, 1e-9) << "half the way to a quarter";
    EXPECT_TRUE(transitionAt(q, 0).link->own.empty());
    // And from the turned one to the others.
    const Project r = withOwnFolded(edited(q, withEnd(q, 1, 0.4)), 1);
    EXPECT_NEAR(endOf(r, 0), 1 / (0.4 * 0.4), 1e-9);
    EXPECT_NEAR(endOf(r, 1), 0.4, 1e-12) << "this one stays as it is";
    // A move added here becomes everybody's.
    const Project added = edited(p, withUsualMove(p, 0, MoveKind::Glow));
    const Project all = withOwnFolded(added, 0);
    for (int cut = 0; cut < 3; ++cut) EXPECT_EQ(transitionAt(all, cut).moves.size(), 2u) << cut;
    EXPECT_TRUE(ownTexts(all, 0).empty());
    // With the switch on, an edit is folded by itself.
    EXPECT_EQ(endOf(withEditFolded(p, withEnd(p, 0, 4)), 2), 4);
    const Project local = edited(p, withEnd(p, 0, 3)); // its own before the switch was turned on
    EXPECT_EQ(endOf(withEditFolded(local, withEnd(local, 0, 4)), 2), 4);
    const Project other = withUseChanged(p, 0, use);
    EXPECT_EQ(endOf(withEditFolded(p, other), 2), endOf(p, 2)) << "another use is no edit of the recipe";
}

TEST(RecipeLink, BackwardsUsesFoldTheirSides) {
    Project p = linkedReel(3);
    RecipeUse use;
    use.reversed = true;
    p = withUseChanged(p, 1, use);
    const auto incomingStart = [](const Project& q, int cut) {
        return transitionAt(q, cut).moves[0].channels.at(0).incoming.keys.front().value;
    };
    EXPECT_NEAR(incomingStart(p, 1), 2.5, 1e-12) << "what departed arrives";
    const CurveAddress in{1, 0, 0, Side::Incoming};
    const Project q = withOwnFolded(edited(p, withCurve(p, in, withKeyMoved(curveAt(p, in), 0, 0, 3))), 1);
    EXPECT_NEAR(endOf(q, 0), 3, 1e-9);
}

TEST(RecipeLink, CutLooseItStaysAsItIs) {
    const Project p = linkedReel(3);
    const Project q = withLinkCut(p, 0);
    EXPECT_FALSE(transitionAt(q, 0).link);
    EXPECT_EQ(endOf(q, 0), endOf(p, 0));
    EXPECT_EQ(q.recipes.size(), 1u) << "the other cut follows it still";
    EXPECT_TRUE(withLinkCut(q, 1).recipes.empty());
    // Another recipe in its place: the first is forgotten where nobody follows it.
    const Project other = withRecipe(withLinkCut(p, 1), 0, *findRecipe("swing"), {}, true);
    ASSERT_EQ(other.recipes.size(), 1u);
    EXPECT_EQ(other.recipes[0].id, "swing");
}

TEST(RecipeLink, AnotherStateOfARecipeReachesItsCuts) {
    const Project p = linkedReel(3);
    Recipe newer = *findRecipe("plunge");
    newer.transition.moves[0].channels[0].outgoing.keys.back().value = 3;
    const Project q = withRecipe(p, 1, newer, {}, true);
    EXPECT_EQ(endOf(q, 0), 3) << "a project has one state of a recipe";
    EXPECT_EQ(q.recipes.size(), 1u);
}

TEST(RecipeLink, ThreeHundredCutsFollow) {
    const Project p = linkedReel(301);
    Recipe recipe = *findRecipe(p, "plunge");
    recipe.transition.moves[0].channels[0].outgoing.keys.back().value = 3;
    const Project q = withRecipeChanged(p, recipe);
    for (int cut = 0; cut < 300; ++cut) ASSERT_EQ(endOf(q, cut), 3) << cut;
    EXPECT_EQ(documentOf(withRecipeChanged(q, *findRecipe("plunge")), {}).dump(), documentOf(p, {}).dump())
        << "and back, byte for byte";
}

} // namespace
} // namespace virga::link_test
