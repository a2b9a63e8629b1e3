#include "core/plan/plan.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/edit/edits.h"
#include "tests/support/projects.h"

namespace virga::plan_test {
namespace {

using namespace test;

TEST(Plan, TellsTheSourceTimeExactly) {
    Project p = twoClips();
    p.settings.rate = Rational(30000, 1001);
    const FramePlan plan = planFrame(p, 7);
    ASSERT_EQ(plan.layers.size(), 1u);
    EXPECT_EQ(plan.layers[0].mediaId, "media-1");
    EXPECT_EQ(plan.layers[0].sourceTime, Rational(1) + Rational(7 * 1001, 30000));
    EXPECT_EQ(planFrame(p, 25).layers[0].mediaId, "media-2");
    EXPECT_EQ(planFrame(p, 25).layers[0].sourceTime, Rational(1));
    EXPECT_TRUE(planFrame(p, -1).layers.empty());
    EXPECT_TRUE(planFrame(p, 50).layers.empty());
}

TEST(Plan, ACropLeavesAtLeastOnePixel) {
    EXPECT_EQ(croppedSize({1280, 720}, {0.1, 0.25, 0.2, 0.05}), (Size{1280 - 128 - 256, 720 - 180 - 36}));
    EXPECT_EQ(croppedSize({101, 9}, {0.5, 0.5, 0.5, 0.5}), (Size{1, 1}));
    EXPECT_EQ(croppedSize({}, {0.1, 0.1, 0.1, 0.1}), Size());
}

TEST(Plan, EachSideKeepsToItsOwnCurve) {
    const Project p = plungeProject();
    const LayerPlan out = planFrame(p, 24).layers[0], in = planFrame(p, 25).layers[0];
    ASSERT_EQ(out.stacks.size(), 1u);
    EXPECT_EQ(out.stacks[0].side, Side::Outgoing);
    EXPECT_EQ(out.stacks[0].origin, 25);
    EXPECT_EQ(in.stacks[0].side, Side::Incoming);
    // The shutter of frame 0 opens before the cut; there the incoming curve runs on as it begins, and never follows the
    // outgoing one.
    const Size size{1280, 720};
    EXPECT_EQ(in.shutter, (OpenInterval{24.75, 25.25}));
    const Curve& curve = in.stacks[0].stack[0].channels[0].incoming;
    EXPECT_NEAR(mapAt(in, 24.75, size).matrix()[0][0], 0.62 * std::exp2(-0.25 * speedAfter(curve, 0)), 1e-9);
    EXPECT_NEAR(mapAt(in, 25, size).matrix()[0][0], 0.62, 1e-9);
    EXPECT_GT(mapAt(in, 25.25, size).matrix()[0][0], 0.62);
    EXPECT_GT(mapAt(out, 24.25, size).matrix()[0][0], 1.5);
    EXPECT_NEAR(mapAt(out, 25, size).matrix()[0][0], 2.5, 1e-9);
}

TEST(Plan, MovesComeInTheirOrderAfterFitAndDrift) {
    Project p = plungeProject();
    Clip third = p.reel[1];
    third.transition.moves[0] = makeMove(MoveKind::Spin, "move-5");
    p = withClip(p, 2, third);
    p.reel[1].drift = {makeMove(MoveKind::Slide, "move-6")};
    const auto stacks = planFrame(p, 30).layers[0].stacks;
    ASSERT_EQ(stacks.size(), 3u);
    EXPECT_EQ(stacks[0].stack[0].kind, MoveKind::Slide); // drift
    EXPECT_EQ(stacks[1].stack[0].kind, MoveKind::Zoom);  // incoming cut
    EXPECT_EQ(stacks[2].stack[0].kind, MoveKind::Spin);  // outgoing cut
    EXPECT_EQ(stacks[0].origin, 25);
    EXPECT_EQ(stacks[2].origin, 50);
}

TEST(Plan, TheNearerCutsShutterRules) {
    Project p = plungeProject();
    p.reel[1].transition.shutter = Shutter{360, {}, 12};
    EXPECT_EQ(planFrame(p, 20).layers[0].samples, 12);
    EXPECT_EQ(planFrame(p, 30).layers[0].shutter, (OpenInterval{29.5, 30.5}));
    p.reel[1].transition.shutter.reset();
    p.reel[0].shutter = Shutter{90, {}, 0};
    EXPECT_EQ(planFrame(p, 20).layers[0].shutter, (OpenInterval{19.875, 20.125}));
}

TEST(Fit, FillsFitsAndStretches) {
    const Size screen{1280, 720};
    const auto corner = [&](Fit fit, Size source, Rational aspect = 1) {
        return ScreenMap(fitMatrix(fit, source, aspect, screen)).toScreen({0, 0});
    };
    EXPECT_EQ(corner(Fit::Fill, {1280, 720}), Point(0, 0));
    // A portrait clip: filling cuts top and bottom, fitting leaves the sides.
    EXPECT_NEAR(corner(Fit::Fill, {720, 1280}).y, (720 - 1280 * 1280.0 / 720) / 2, 1e-9);
    EXPECT_NEAR(corner(Fit::Fit, {720, 1280}).x, (1280 - 720 * 720.0 / 1280) / 2, 1e-9);
    EXPECT_EQ(corner(Fit::Stretch, {33, 97}), Point(0, 0));
    // ITU-R BT.601 pixels at 16:9: 720 x 576 with an aspect of 64:45 fill a 16:9 frame exactly.
    EXPECT_NEAR(corner(Fit::Fit, {720, 576}, Rational(64, 45)).x, 0, 1e-9);
    EXPECT_NEAR(corner(Fit::Fit, {720, 576}, Rational(64, 45)).y, 0, 1e-9);
    EXPECT_EQ(fitMatrix(Fit::Fill, {0, 0}, 1, screen), Matrix());
}

TEST(PlanHash, ChangesWithWhatIsSeenAndWithNothingElse) {
    const Project p = plungeProject();
    const auto at = [](const Project& q, std::int64_t n) { return hashOf(planFrame(q, n)); };
    EXPECT_EQ(at(p, 24), at(p, 24));
    EXPECT_NE(at(p, 24), at(p, 23));
    Project named = p;
    named.name = "other";
    named.reel[0].name = "other";
    EXPECT_EQ(at(p, 24), at(named, 24));
    Project changed = p;
    changed.reel[1].transition.moves[0].channels[0].incoming.keys[0].value = 0.7;
    EXPECT_EQ(at(p, 24), at(changed, 24)) << "the outgoing side does not see it";
    EXPECT_NE(at(p, 25), at(changed, 25));
    Project edges = p;
    edges.settings.edges = EdgeFill::Hold;
    EXPECT_NE(at(p, 3), at(edges, 3));
    // A clip pushed along the reel looks the same as before.
    EXPECT_EQ(at(p, 30), at(withClipTrimmed(p, 0, Edge::Tail, 5), 35));
}

} // namespace
} // namespace virga::plan_test
