#include "core/edit/layer_edits.h"

#include <gtest/gtest.h>

#include "core/edit/reel_edits.h"
#include "core/plan/plan.h"
#include "tests/support/projects.h"

namespace virga::layer_edits_test {
namespace {

using namespace test;

TEST(Overlays, FindARowThatIsFree) {
    Project p = withOverlayAdded(twoClips(), "media-1", 5);
    p.overlays[0].clip.length = 20;
    EXPECT_EQ(p.overlays[0].clip.edges, EdgeFill::Empty) << "a small picture has no copies around it";
    p = withOverlayAdded(p, "media-2", 10);
    EXPECT_EQ(p.overlays[1].row, 1);
    EXPECT_EQ(overlayRows(p), 2);
    p = withOverlayMoved(p, 1, 30, 0);
    EXPECT_EQ(p.overlays[1].row, 0) << "after the first there is room";
    EXPECT_EQ(withOverlayMoved(p, 1, 20, 0).overlays[1].row, 1) << "here there is none";
    EXPECT_EQ(withOverlayMoved(p, 1, -9, 0).overlays[1].start, 0);
    EXPECT_EQ(withoutOverlay(p, 0).overlays.size(), 1u);
    EXPECT_EQ(withOverlayAdded(p, "none", 0), p);
}

TEST(Overlays, AreTrimmedWithinTheirSource) {
    Project p = withOverlayAdded(twoClips(), "media-1", 10);
    ASSERT_EQ(p.overlays[0].clip.length, 75);
    EXPECT_EQ(withOverlayTrimmed(p, 0, false, 10).overlays[0].clip.length, 75) << "the source ends there";
    p = withOverlayTrimmed(p, 0, false, -55);
    p = withOverlayTrimmed(p, 0, true, 5);
    EXPECT_EQ(p.overlays[0].start, 15);
    EXPECT_EQ(p.overlays[0].clip.length, 15);
    EXPECT_EQ(p.overlays[0].clip.sourceIn, Rational(5, 25));
    EXPECT_EQ(withOverlayTrimmed(p, 0, true, 100).overlays[0].clip.length, 1);
    EXPECT_EQ(withOverlayTrimmed(p, 0, true, -100).overlays[0].start, 10) << "back to its first picture";
}

TEST(Entrances, ComeInAndGoOutAgain) {
    Project p = withOverlayAdded(twoClips(), "media-1", 10);
    p.overlays[0].clip.length = 30;
    p = withEntrance(p, 0, Side::Incoming, Entrance::PopUp, 8);
    p = withEntrance(p, 0, Side::Outgoing, Entrance::Fade, 5);
    int frames = 0;
    EXPECT_EQ(entranceOf(p.overlays[0], Side::Incoming, &frames), Entrance::PopUp);
    EXPECT_EQ(frames, 8);
    EXPECT_EQ(entranceOf(p.overlays[0], Side::Outgoing, &frames), Entrance::Fade);
    EXPECT_EQ(frames, 5);
    const auto layerAt = [&](std::int64_t n) { return planFrame(p, n).layers.back(); };
    EXPECT_EQ(layerAt(10).overlay, 0);
    const auto scaleAt = [&](std::int64_t n) {
        const ScreenMap m = mapAt(layerAt(n), double(n), {1280, 720});
        return (m.toScreen({100, 0}) - m.toScreen({0, 0})).length() / 100;
    };
    EXPECT_LT(scaleAt(10), 0.02) << "it grows out of nothing";
    EXPECT_NEAR(scaleAt(18), 0.5, 1e-9) << "to its own size";
    EXPECT_DOUBLE_EQ(layerAt(34).opacity, 1);
    EXPECT_NEAR(layerAt(37).opacity, 0.6, 1e-9);
    EXPECT_EQ(planFrame(p, 40).layers.size(), 1u) << "and is gone";
    p = withEntrance(p, 0, Side::Incoming, Entrance::Cut, 8);
    EXPECT_EQ(entranceOf(p.overlays[0], Side::Incoming), Entrance::Cut);
    EXPECT_EQ(p.overlays[0].clip.transition.moves.size(), 1u) << "only the fade is left";
    p.overlays[0].clip.transition.moves[0].channels[0].outgoing.keys[1].value = 0.3;
    EXPECT_FALSE(entranceOf(p.overlays[0], Side::Outgoing)) << "shaped by hand";
}

TEST(Overlays, AClipTakenUpLeavesAGap) {
    const Project p = withClipLiftedToOverlay(twoClips(), 1);
    EXPECT_TRUE(p.reel[1].isGap());
    ASSERT_EQ(p.overlays.size(), 1u);
    EXPECT_EQ(p.overlays[0].start, 25);
    EXPECT_EQ(planFrame(p, 30).layers.size(), 1u) << "the same picture, a row higher";
}

TEST(Adjustments, CoverASpanOfTheReelButNotOverlays) {
    Project p = withAdjustmentAdded(twoClips(), 10, 20);
    p = withOverlayAdded(p, "media-2", 0);
    FramePlan plan = planFrame(p, 15);
    ASSERT_EQ(plan.treats.size(), 1u);
    EXPECT_EQ(plan.treats[0].treatments, (std::vector<Treatment>{Bars{2.39, 1}}));
    EXPECT_EQ(plan.steps, (std::vector<Step>{{Step::Lay, 0}, {Step::Treat, 0}, {Step::Lay, 1}})) << "overlays follow";
    EXPECT_TRUE(planFrame(p, 9).treats.empty());
    EXPECT_TRUE(planFrame(p, 30).treats.empty());
    Adjustment a = p.adjustments[0];
    Move spin = makeMove(MoveKind::Spin, "m");
    spin.channels[0].incoming.keys = {Key{0, 90}};
    a.moves = {spin};
    p = withAdjustmentChanged(p, 0, a);
    plan = planFrame(p, 15);
    EXPECT_NE(movementAt(plan.layers[0], 15, {1280, 720}), ScreenMap());
    EXPECT_EQ(movementAt(plan.layers[1], 15, {1280, 720}), ScreenMap()) << "overlays lie above it";
}

TEST(Overlays, EveryEntranceIsRecognisedAndRestsAfterIt) {
    Project p = withOverlayAdded(twoClips(), "media-2", 0);
    for (int e = 0; e <= int(lastEntrance); ++e)
        for (const Side side : {Side::Incoming, Side::Outgoing}) {
            const Project q = withEntrance(p, 0, side, Entrance(e), 6);
            EXPECT_EQ(entranceOf(q.overlays[0], side), Entrance(e)) << nameOf(Entrance(e));
            const LayerPlan rests = planFrame(q, 12).layers.back();
            EXPECT_EQ(movementAt(rests, 12, {1280, 720}), ScreenMap()) << nameOf(Entrance(e));
            EXPECT_TRUE(rests.treatments.empty() && rests.opacity == 1) << nameOf(Entrance(e));
        }
    const Project blurred = withEntrance(p, 0, Side::Incoming, Entrance::BlurIn, 6);
    EXPECT_FALSE(planFrame(blurred, 1).layers.back().treatments.empty());
    const Project pushed = withEntrance(p, 0, Side::Incoming, Entrance::PushIn, 6);
    EXPECT_NE(movementAt(planFrame(pushed, 1).layers.back(), 1, {1280, 720}), ScreenMap());
}

TEST(Markers, OneAFrameInOrder) {
    Project p = withMarker(withMarker(twoClips(), 30, "gun"), 4, "start");
    ASSERT_EQ(p.markers.size(), 2u);
    EXPECT_EQ(p.markers[0].name, "start");
    EXPECT_EQ(withMarker(p, 30, "start gun").markers.size(), 2u);
    EXPECT_EQ(withMarkerMoved(p, 0, 12).markers[0].frame, 12);
    EXPECT_EQ(withoutMarker(p, 0).markers.size(), 1u);
    EXPECT_EQ(withoutMarker(p, 5), p);
}

} // namespace
} // namespace virga::layer_edits_test
