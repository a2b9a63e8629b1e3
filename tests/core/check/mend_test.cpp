// Mending, and the demo's first attempt.
#include "core/check/mend.h"

#include <gtest/gtest.h>

#include "core/edit/edge_fixes.h"
#include "core/project/project_file.h"
#include "core/recipe/chain.h"
#include "core/recipe/recipe.h"
#include "tests/support/projects.h"

namespace virga::mend_test {
namespace {

using namespace test;

Project demo(const char* name) {
    const auto project = loadProject(std::filesystem::path(VIRGA_SOURCE_DIR) / "demo" / name);
    EXPECT_TRUE(project) << (project ? "" : describe(project.error()));
    return project.value_or(Project());
}

std::string told(const ReelFlow& flow) {
    std::string text;
    for (const Finding* f : flow.all()) text += f->name + " (" + f->title + "); ";
    return text;
}

TEST(Mend, TheDemoHasNoFindings) {
    const ReelFlow flow = flowOfReel(demo("lantern-regatta.virga"));
    EXPECT_TRUE(flow.all().empty()) << told(flow);
    EXPECT_EQ(flow.cuts.size(), 7u);
}

TEST(Mend, TheFirstAttemptHasThreeFaultsAndMendingLeavesNone) {
    const Project first = demo("first-attempt.virga");
    const ReelFlow flow = flowOfReel(first);
    for (const char* fault : {"turns-back:Zoom", "speed-step", "bare-edge"})
        EXPECT_NE(told(flow).find(fault), std::string::npos) << told(flow);
    const Mended mended = mendedReel(first);
    EXPECT_EQ(mended.done.size(), 3u) << ::testing::PrintToString(mended.done);
    EXPECT_TRUE(mended.left.empty());
    EXPECT_TRUE(flowOfReel(mended.project).all().empty()) << told(flowOfReel(mended.project));
    EXPECT_NE(mended.done[0].find("cut "), std::string::npos);
}

// A slide that turns back cannot be matched before it is turned round.
TEST(Mend, OneFixMakesRoomForAnother) {
    const Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 1, 6, 0.4, 0, 10);
    const Mended mended = mendedReel(p);
    EXPECT_EQ(mended.done.size(), 2u) << ::testing::PrintToString(mended.done);
    EXPECT_NE(mended.done[0].find("Turn it round"), std::string::npos);
    EXPECT_TRUE(flowAtCut(mended.project, 0).findings.empty()) << told(flowOfReel(mended.project));
}

TEST(Mend, AFixIsAppliedByItsName) {
    const Project first = demo("first-attempt.virga");
    const auto turned = withFixApplied(first, {"turns-back:Zoom", "Turn it round", {}});
    ASSERT_TRUE(turned) << describe(turned.error());
    EXPECT_EQ(turned->done.size(), 1u);
    EXPECT_EQ(told(flowOfReel(turned->project)).find("turns-back"), std::string::npos);
    const auto byKind = withFixApplied(first, {"turns-back", "", {}});
    ASSERT_TRUE(byKind);
    EXPECT_EQ(byKind->project, turned->project) << "the first fix is the best";
    // What is not there is told with what is.
    const auto nothing = withFixApplied(first, {"no-such", "", {}});
    ASSERT_FALSE(nothing);
    EXPECT_NE(nothing.error().remedy.find("turns-back:Zoom"), std::string::npos);
    const auto other = withFixApplied(first, {"turns-back:Zoom", "Paint it", {}});
    ASSERT_FALSE(other);
    EXPECT_NE(other.error().remedy.find("Turn it round"), std::string::npos);
    EXPECT_FALSE(withFixApplied(first, {"turns-back:Zoom", "", 99}));
    int applied = 0;
    for (int cut = 0; cut < cutCount(first); ++cut)
        applied += withFixApplied(first, {"turns-back", "", cut}).has_value();
    EXPECT_EQ(applied, 1) << "only at its own cut";
}

TEST(Mend, OneCutIsMendedAndTheOthersAreLeftAlone) {
    const Project first = demo("first-attempt.virga");
    const Mended mended = mendedCut(first, 0);
    EXPECT_EQ(mended.done.size(), 1u);
    EXPECT_FALSE(transitionAt(mended.project, 0) == transitionAt(first, 0));
    for (int cut = 1; cut < cutCount(first); ++cut)
        EXPECT_EQ(transitionAt(mended.project, cut), transitionAt(first, cut)) << cut;
    EXPECT_EQ(mendedCut(first, 99).project, first);
}

TEST(Mend, WhatIsNotSafeIsLeftToTheEditor) {
    // Half the size for a long, slow time: covering it would change the framing.
    const Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.02, 20, 0.6, 0.65, 20, {Interpolation::Linear},
                               {Interpolation::Linear});
    const Mended mended = mendedReel(p);
    const auto has = [&](const std::vector<std::string>& list, const char* words) {
        return std::any_of(list.begin(), list.end(),
                           [&](const std::string& s) { return s.find(words) != std::string::npos; });
    };
    EXPECT_TRUE(has(mended.left, "Copies fill"));
    EXPECT_FALSE(has(mended.done, "Copies"));
}

TEST(Mend, CoversWithTheLeastSlideWhereOneDoes) {
    // Large enough, but pushed aside.
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1.3, 1.3, 8, 1.3, 1.3, 8, {Interpolation::Linear},
                         {Interpolation::Linear});
    p = withMove(p, 0, MoveKind::Slide, 0, 0.16, 0.22, 8, 0.16, 0.16, 8, {Interpolation::Linear},
                 {Interpolation::Linear});
    p.settings.edges = EdgeFill::Empty;
    const auto slide = slideThatCovers(p, 0);
    ASSERT_TRUE(slide);
    EXPECT_LT(slide->by.x, 0);
    EXPECT_NEAR(slide->by.y, 0, 1e-6);
    EXPECT_EQ(slide->edges, unsigned(LeftEdge));
    const Project covered = withCoveringSlide(p, 0, slide->by);
    const CutFlow flow = flowAtCut(covered, 0);
    for (const Finding& f : flow.findings) EXPECT_NE(f.name, "bare-edge") << f.detail;
}

TEST(Chain, PlansTheSameForASeedAndLeavesNothingThatBreaks) {
    Project bare = demo("lantern-regatta.virga");
    for (Clip& clip : bare.reel) clip.transition.moves.clear(), clip.transition.overlap = {};
    const auto plan = chainOf(bare);
    EXPECT_EQ(plan.size(), 7u);
    const auto again = chainOf(bare);
    for (std::size_t i = 0; i < plan.size(); ++i) EXPECT_EQ(plan[i].label, again[i].label);
    bool differs = false;
    for (std::uint32_t seed = 2; seed < 6 && !differs; ++seed) {
        const auto other = chainOf(bare, {seed, false});
        for (std::size_t i = 0; i < plan.size() && i < other.size(); ++i)
            differs = differs || other[i].label != plan[i].label;
    }
    EXPECT_TRUE(differs) << "another seed, another plan";
    for (std::uint32_t seed : {1U, 2U, 3U, 4U}) {
        const ReelFlow flow = flowOfReel(withChain(bare, {seed, false}));
        for (const Finding* f : flow.all()) EXPECT_NE(f->severity, Severity::Breaks) << seed << ": " << f->title;
        EXPECT_EQ(told(flow).find("still"), std::string::npos) << "nothing is quite still";
    }
    EXPECT_TRUE(chainOf(demo("lantern-regatta.virga")).empty()) << "cuts with moves are left alone";
    EXPECT_EQ(chainOf(demo("lantern-regatta.virga"), {1, true}).size(), 7u);
}

TEST(Chain, ContinuesTheCutBefore) {
    Project p = withRecipe(twoClips(), 0, *findRecipe("half-slide"));
    Clip third = p.reel[0];
    third.id = "clip-99", third.transition = {};
    p.reel.push_back(third);
    const auto proposal = continuationOf(p, 1);
    ASSERT_TRUE(proposal);
    EXPECT_EQ(proposal->label, "as cut 1: slide y goes up");
    const Project with = withProposal(p, *proposal).value();
    const CutFlow a = flowAtCut(p, 0), b = flowAtCut(with, 1);
    EXPECT_NEAR(b.speedOut, a.speedOut, 1e-6);
    EXPECT_NEAR(b.speedIn, a.speedIn, 1e-6);
    EXPECT_FALSE(continuationOf(p, 0)) << "nothing moves before it";
    p.reel.pop_back();
    EXPECT_FALSE(withProposal(p, *proposal));
}

} // namespace
} // namespace virga::mend_test
