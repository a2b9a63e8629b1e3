// Overlaps: which shots are on screen, and which lies on top.
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/plan/plan.h"
#include "tests/support/projects.h"

namespace virga::layers_test {
namespace {

using namespace test;

std::vector<int> clipsAt(const Project& p, std::int64_t frame) {
    std::vector<int> out;
    for (const LayerPlan& l : planFrame(p, frame).layers) out.push_back(l.clip);
    return out;
}

TEST(OverlapPlan, BothShotsAreSeenAroundTheCut) {
    Project p = withOverlap(twoClips(), 0, {4, 6}, Side::Incoming);
    EXPECT_EQ(clipsAt(p, 20), (std::vector<int>{0}));
    EXPECT_EQ(clipsAt(p, 21), (std::vector<int>{0, 1}));
    EXPECT_EQ(clipsAt(p, 30), (std::vector<int>{0, 1}));
    EXPECT_EQ(clipsAt(p, 31), (std::vector<int>{1}));
    EXPECT_EQ(planFrame(p, 21).layers[1].sourceTime, Rational(1) - Rational(4, 25)) << "its spare frames";
    EXPECT_EQ(planFrame(p, 30).layers[0].sourceTime, Rational(1) + Rational(30, 25));
    p = withOverlap(p, 0, {4, 6}, Side::Outgoing);
    EXPECT_EQ(clipsAt(p, 25), (std::vector<int>{1, 0})) << "the outgoing one on top";
}

TEST(OverlapPlan, TheShotOnTopComesAloneWhereThatIsWished) {
    Project p = withOverlap(twoClips(), 0, {0, 6}, Side::Incoming);
    EXPECT_EQ(planFrame(p, 28).layers[1].edges.fill, EdgeFill::Mirror);
    p.reel[1].transition.alone = true;
    EXPECT_EQ(planFrame(p, 28).layers[0].edges.fill, EdgeFill::Mirror);
    EXPECT_EQ(planFrame(p, 28).layers[1].edges.fill, EdgeFill::Empty);
    EXPECT_EQ(planFrame(p, 31).layers[0].edges.fill, EdgeFill::Mirror) << "when the other is gone it has copies again";
    p = withOverlap(p, 0, {4, 0}, Side::Outgoing);
    EXPECT_EQ(planFrame(p, 20).layers[0].edges.fill, EdgeFill::Mirror);
    EXPECT_EQ(planFrame(p, 22).layers[1].clip, 0);
    EXPECT_EQ(planFrame(p, 22).layers[1].edges.fill, EdgeFill::Empty);
    EXPECT_EQ(planFrame(p, 22).layers[0].edges.fill, EdgeFill::Mirror);
}

TEST(OverlapPlan, EachShotKeepsToItsOwnSideOfTheMoves) {
    const Project p = withOverlap(plungeProject(), 0, {3, 3}, Side::Incoming);
    const FramePlan plan = planFrame(p, 26);
    ASSERT_EQ(plan.layers.size(), 2u);
    EXPECT_EQ(plan.layers[0].stacks[0].side, Side::Outgoing);
    EXPECT_EQ(plan.layers[1].stacks[0].side, Side::Incoming);
    EXPECT_DOUBLE_EQ(plan.layers[0].stacks[0].origin, 25);
}

TEST(OverlapPlan, ACrossfadeRunsFromNothingToAll) {
    const Project p = withCrossfade(twoClips(), 0, 10);
    EXPECT_DOUBLE_EQ(planFrame(p, 20).layers[1].opacity, 0);
    EXPECT_NEAR(planFrame(p, 25).layers[1].opacity, 0.5, 1e-9);
    EXPECT_DOUBLE_EQ(planFrame(p, 25).layers[0].opacity, 1) << "what lies below stays whole";
    EXPECT_EQ(clipsAt(p, 30), (std::vector<int>{1}));
}

TEST(CropPlan, FitSeesWhatIsLeft) {
    Project p = twoClips();
    p.reel[0].crop = {0.25, 0, 0.25, 0};
    LayerPlan l = planFrame(p, 0).layers[0];
    EXPECT_EQ(l.source, (Size{640, 720}));
    const ScreenMap map = mapAt(l, 0, {1280, 720});
    EXPECT_NEAR(map.toScreen({0, 360}).x, 0, 1e-9) << "filled: twice as wide as before";
    EXPECT_NEAR(map.toScreen({640, 360}).x, 1280, 1e-9);
}

TEST(PlacementPlan, ScalesAboutItsAnchorThenMoves) {
    Project p = twoClips();
    p.reel[0].placement = {0.5, 0, {0.25, 0}, {0, 0}};
    const ScreenMap map = mapAt(planFrame(p, 0).layers[0], 0, {1280, 720});
    EXPECT_NEAR(map.toScreen({0, 0}).x, 320, 1e-9);
    EXPECT_NEAR(map.toScreen({1280, 720}).x, 320 + 640, 1e-9);
    EXPECT_NEAR(map.toScreen({1280, 720}).y, 360, 1e-9);
    EXPECT_NE(hashOf(planFrame(p, 0)), hashOf(planFrame(twoClips(), 0)));
}

TEST(OverlapFlow, AShotThatRunsOutIsAFinding) {
    const Project p = withOverlap(twoClips(), 0, {40, 3}, Side::Incoming);
    const CutFlow flow = flowAtCut(p, 0);
    ASSERT_EQ(flow.findings.size(), 1u);
    EXPECT_EQ(flow.findings[0].name, "spare-before");
    const auto fixed = flow.findings[0].fixes.at(0).apply(p);
    ASSERT_TRUE(fixed);
    EXPECT_EQ(transitionAt(*fixed, 0).overlap, (Overlap{25, 3}));
    EXPECT_TRUE(flowAtCut(*fixed, 0).findings.empty());
}

TEST(OverlapFlow, AShotThatSlidesOverAnotherNeedNotCarryOn) {
    // Common practice, no published source: "slide over", the old shot stays, the new one comes in by one frame height
    // in 3, on top; the shot below needs 3 spare frames.
    Project p = withMove(twoClips(), 0, MoveKind::Slide, 1, 0, 0, 0, 1, 0, 3);
    p = withOverlap(p, 0, {0, 3}, Side::Incoming);
    p.reel[1].edges = EdgeFill::Empty;
    for (const Finding& f : flowAtCut(p, 0).findings) ADD_FAILURE() << f.title;
    p = withOverlap(p, 0, {}, Side::Incoming);
    EXPECT_FALSE(flowAtCut(p, 0).findings.empty()) << "without the shot below it is bare";
}

} // namespace
} // namespace virga::layers_test
