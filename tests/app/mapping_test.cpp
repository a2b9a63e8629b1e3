// The plain mappings between pixels and the piece, without a window.
#include <gtest/gtest.h>

#include "app/lanes/lane_scale.h"
#include "app/reel/reel_scale.h"
#include "core/curve/curve_edit.h"
#include "tests/support/projects.h"

namespace virga::mapping_test {
namespace {

using namespace test;

TEST(ReelScale, GoesThereAndBack) {
    const ReelScale s = ReelScale::fitting(600, 1280);
    EXPECT_DOUBLE_EQ(s.xOf(0), 12);
    EXPECT_DOUBLE_EQ(s.xOf(600), 1268);
    EXPECT_DOUBLE_EQ(s.frameAt(s.xOf(123)), 123);
    EXPECT_GT(ReelScale::fitting(0, 100).pixelsPerFrame, 0);
}

TEST(ReelScale, FindsJointsBeforeEdgesBeforeClips) {
    const Project p = twoClips();
    const ReelScale s{10, 10};
    EXPECT_EQ(hitTest(p, s, 260, 50, 20, 60), (ReelHit{ReelHit::OnJoint, 0}));
    EXPECT_EQ(hitTest(p, s, 258, 25, 20, 60), (ReelHit{ReelHit::OnTail, 0}));
    EXPECT_EQ(hitTest(p, s, 263, 25, 20, 60), (ReelHit{ReelHit::OnHead, 1}));
    EXPECT_EQ(hitTest(p, s, 100, 50, 20, 60), (ReelHit{ReelHit::OnClip, 0}));
    EXPECT_EQ(hitTest(p, s, 12, 50, 20, 60), (ReelHit{ReelHit::OnHead, 0}));
    EXPECT_EQ(hitTest(p, s, 511, 50, 20, 60), (ReelHit{ReelHit::OnTail, 1}));
    EXPECT_EQ(hitTest(p, s, 100, 10, 20, 60).what, ReelHit::Nowhere);
    EXPECT_EQ(hitTest(p, s, 800, 50, 20, 60).what, ReelHit::Nowhere);
    EXPECT_EQ(hitTest(Project(), s, 10, 50, 20, 60).what, ReelHit::Nowhere);
    EXPECT_EQ(hitTest(p, {10, 0.2}, 11, 25, 20, 60).what, ReelHit::OnClip) << "a clip too narrow for handles is moved";
}

TEST(ReelScale, KnowsWhereADropWouldGo) {
    const Project p = twoClips();
    EXPECT_EQ(placeAt(p, {0, 10}, 50), 0);
    EXPECT_EQ(placeAt(p, {0, 10}, 200), 1);
    EXPECT_EQ(placeAt(p, {0, 10}, 480), 2);
    EXPECT_EQ(placeAt(Project(), {0, 10}, 480), 0);
}

TEST(FrameScale, ZoomsAboutThePointer) {
    const FrameScale s{520, 36}, z = s.zoomed(2, 700);
    EXPECT_DOUBLE_EQ(z.frameAt(700), s.frameAt(700));
    EXPECT_DOUBLE_EQ(z.pixelsPerFrame, 72);
    EXPECT_DOUBLE_EQ(s.zoomed(1000, 0).pixelsPerFrame, 200);
    EXPECT_DOUBLE_EQ(s.zoomed(0, 0).pixelsPerFrame, 0.5);
    EXPECT_EQ(s.labelStep(), 1);
    EXPECT_EQ((FrameScale{0, 10}).labelStep(), 5);
}

Channel plunge() {
    return transitionAt(plungeProject(), 0).moves[0].channels[0];
}
const ChannelInfo& zoomInfo() {
    return moveInfo(MoveKind::Zoom).channels[0];
}

TEST(ValueScale, ShowsAllValuesAndIsEvenForZooms) {
    const ValueScale v = ValueScale::fitting(plunge(), zoomInfo(), Space::Log2, 10, 90);
    for (const double value : {0.62, 1.0, 2.5}) {
        EXPECT_GT(v.yOf(value), 10);
        EXPECT_LT(v.yOf(value), 90);
        EXPECT_NEAR(v.valueAt(v.yOf(value)), value, 1e-9);
    }
    EXPECT_NEAR(v.yOf(0.5) - v.yOf(1), v.yOf(1) - v.yOf(2), 1e-9) << "equal factors, equal distances";
    const ValueScale empty = ValueScale::fitting({}, zoomInfo(), Space::Log2, 10, 90);
    EXPECT_NEAR(empty.yOf(1), 50, 1e-9) << "rest lies in the middle";
}

LaneAxes axesFor(const Channel& c) {
    LaneAxes axes;
    axes.frames[0] = axes.frames[1] = {520, 36};
    axes.values = ValueScale::fitting(c, zoomInfo(), Space::Log2, 10, 90);
    axes.speeds = SpeedScale::fitting(c, 100, 40);
    return axes;
}

TEST(LaneHit, FindsDropsRingsAndCurves) {
    const Channel c = plunge();
    const LaneAxes axes = axesFor(c);
    const FrameScale& f = axes.frames[0];
    const ValueScale& v = axes.values;
    const auto hit = [&](double x, double y, KeyGroup selected = {}) {
        return hitLane(c, axes, x, y, {{selected, {}}});
    };
    const double x = f.xOf(-5), y = v.yOf(1);
    EXPECT_EQ(hit(x, y), (LaneHit{LaneHit::OnKey, Side::Outgoing, 0}));
    EXPECT_EQ(hit(x, y - 10), (LaneHit{LaneHit::OnKey, Side::Outgoing, 0})) << "the drop's body";
    EXPECT_EQ(hit(f.xOf(12), v.yOf(1)), (LaneHit{LaneHit::OnKey, Side::Incoming, 1}));
    EXPECT_EQ(hit(f.xOf(-2.5), v.yOf(evaluate(c.outgoing, -2.5))), (LaneHit{LaneHit::OnCurve, Side::Outgoing, 0}));
    EXPECT_EQ(hit(f.xOf(-9), v.yOf(1)), (LaneHit{LaneHit::OnCurve, Side::Outgoing, -1})) << "where it holds";
    EXPECT_EQ(hit(f.xOf(6), 12).what, LaneHit::Nowhere);
    const auto ring = leaveHandleAt(c.outgoing, 0, f, v);
    ASSERT_TRUE(ring);
    EXPECT_EQ(hit(ring->x, ring->y, {0}), (LaneHit{LaneHit::OnLeave, Side::Outgoing, 0}));
    EXPECT_NE(hit(ring->x, ring->y).what, LaneHit::OnLeave) << "only while its key is selected";
    EXPECT_FALSE(leaveHandleAt(c.outgoing, 1, f, v)) << "nothing leaves the last key";
    EXPECT_FALSE(arriveHandleAt(c.outgoing, 0, f, v));
}

TEST(LaneHit, FindsTheSpeedLine) {
    const Channel c = plunge();
    const LaneAxes axes = axesFor(c);
    const double t = -0.6, y = axes.speeds.yOf(speedAfter(c.outgoing, t));
    EXPECT_EQ(hitLane(c, axes, axes.frames[0].xOf(t), y, {}), (LaneHit{LaneHit::OnSpeed, Side::Outgoing, 0}));
    EXPECT_NEAR(axes.speeds.yOf(speedBefore(c.outgoing, 0)), 60, 1) << "the fastest place is as high as it may be";
    EXPECT_EQ(hitLane(c, axes, axes.frames[0].xOf(-20), 100, {}).what, LaneHit::Nowhere) << "nothing moves there";
}

TEST(LaneHit, ShowsTheHandlesOfFewKeysOnly) {
    Curve curve = plunge().outgoing;
    EXPECT_TRUE(shownHandles(curve, {}).empty());
    EXPECT_EQ(shownHandles(curve, {0}).size(), 3u) << "its own and those of its segment's other end";
    EXPECT_TRUE(shownHandles(curve, {0, 1, 2, 3, 4, 5, 6}).empty());
}

} // namespace
} // namespace virga::mapping_test
