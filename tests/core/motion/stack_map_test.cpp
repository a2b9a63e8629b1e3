#include "core/motion/stack_map.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

constexpr Size hd{1280, 720};

Move moveOf(MoveKind kind, int channel, double t0, double v0, double t1, double v1,
            Interpolation kindOf = Interpolation::Linear) {
    Move m = makeMove(kind, "m");
    m.channels[std::size_t(channel)].outgoing = twoKeys(spaceOf(m, channel), t0, v0, t1, v1, {kindOf});
    m.channels[std::size_t(channel)].incoming = m.channels[std::size_t(channel)].outgoing;
    return m;
}

Point at(const Stack& stack, double time, Point p) {
    return ScreenMap(stackMatrix(stack, Side::Outgoing, time, hd)).toScreen(p);
}

TEST(StackMap, RestIsExactlyTheIdentity) {
    EXPECT_EQ(stackMatrix({}, Side::Outgoing, 0, hd), Matrix());
    EXPECT_EQ(stackMatrix({moveOf(MoveKind::Zoom, 0, -5, 1, 0, 2.5), moveOf(MoveKind::Spin, 0, -5, 0, 0, 90)},
                          Side::Outgoing, -9, hd),
              Matrix());
}

TEST(StackMap, ZoomsAboutTheAnchor) {
    Move zoom = moveOf(MoveKind::Zoom, 0, -1, 1, 0, 2);
    EXPECT_EQ(at({zoom}, 0, {640, 360}), Point(640, 360));
    EXPECT_EQ(at({zoom}, 0, {0, 0}), Point(-640, -360));
    zoom.anchor = Point(0, 0);
    EXPECT_EQ(at({zoom}, 0, {100, 50}), Point(200, 100));
}

TEST(StackMap, SpinsClockwiseAndSlidesInFrames) {
    const Point p = at({moveOf(MoveKind::Spin, 0, -1, 0, 0, 90)}, 0, {640 + 100, 360});
    EXPECT_NEAR(p.x, 640, 1e-9);
    EXPECT_NEAR(p.y, 460, 1e-9);
    EXPECT_EQ(at({moveOf(MoveKind::Slide, 0, -1, 0, 0, 0.5)}, 0, {0, 0}), Point(640, 0));
    EXPECT_EQ(at({moveOf(MoveKind::Slide, 1, -1, 0, 0, -0.5)}, 0, {0, 0}), Point(0, -360));
}

TEST(StackMap, TheFirstEntryIsInnermost) {
    const Stack zoomThenSlide = {moveOf(MoveKind::Zoom, 0, -1, 1, 0, 2), moveOf(MoveKind::Slide, 0, -1, 0, 0, 0.5)};
    EXPECT_EQ(at(zoomThenSlide, 0, {640, 360}), Point(1280, 360));
    const Stack slideThenZoom = {zoomThenSlide[1], zoomThenSlide[0]};
    EXPECT_EQ(at(slideThenZoom, 0, {640, 360}), Point(1920, 360)) << "the slide is magnified too";
}

TEST(StackMap, DisabledAndUnknownMovesDoNothing) {
    Move zoom = moveOf(MoveKind::Zoom, 0, -1, 1, 0, 2);
    zoom.enabled = false;
    Move unknown = makeMove(MoveKind::Unknown, "u");
    EXPECT_EQ(stackMatrix({zoom, unknown}, Side::Outgoing, 0, hd), Matrix());
}

TEST(StackMap, NothingDependsOnTheResolution) {
    const Stack stack = {moveOf(MoveKind::Zoom, 0, -5, 1, 0, 2.5), moveOf(MoveKind::Spin, 0, -5, 0, 0, 77),
                         moveOf(MoveKind::Slide, 0, -5, 0, 0, 0.3)};
    const ScreenMap small(stackMatrix(stack, Side::Outgoing, -1.3, {1280, 720})),
        large(stackMatrix(stack, Side::Outgoing, -1.3, {3840, 2160}));
    for (const Point& p : {Point(0, 0), Point(1000, 50), Point(400, 700)}) {
        const Point a = small.toScreen(p), b = large.toScreen(p * 3.0);
        EXPECT_NEAR(a.x * 3, b.x, 1e-8);
        EXPECT_NEAR(a.y * 3, b.y, 1e-8);
    }
}

TEST(OnScreenSpeed, OfASlideIsItsOwn) {
    const Stack slide = {moveOf(MoveKind::Slide, 0, -10, 0, 0, 1)};
    EXPECT_NEAR(frameSpeed(slide, Side::Outgoing, -5, hd), 10, 1e-9) << "a tenth of the width per frame";
    EXPECT_NEAR(instantSpeed(slide, Side::Outgoing, 0, hd), 10, 1e-6);
    EXPECT_EQ(frameSpeed(slide, Side::Outgoing, -30, hd), 0);
}

TEST(OnScreenSpeed, OfASpinIsTheCornersArc) {
    const Stack spin = {moveOf(MoveKind::Spin, 0, -10, 0, 0, 10)};
    const double corner = std::hypot(640, 360), chord = 2 * corner * std::sin(0.5 * 3.14159265358979 / 180);
    EXPECT_NEAR(frameSpeed(spin, Side::Outgoing, -5, hd), 100 * chord / 1280, 1e-6);
}

// An even zoom doubles in equal times and so looks equally fast at any size; the whole match rests on it.
TEST(OnScreenSpeed, OfAnEvenZoomIsTheSameAtEverySize) {
    const Stack zoom = {moveOf(MoveKind::Zoom, 0, -10, 0.5, 0, 4)};
    const double first = frameSpeed(zoom, Side::Outgoing, -9, hd);
    for (double n = -9; n <= -1; n += 0.5) EXPECT_NEAR(frameSpeed(zoom, Side::Outgoing, n, hd), first, 1e-9);
    EXPECT_NEAR(instantSpeed(zoom, Side::Outgoing, 0, hd), 100 * std::hypot(640, 360) * std::log(2.0) * 0.3 / 1280,
                1e-3);
}

TEST(OnScreenSpeed, StaysOnItsSideOfTheCut) {
    Stack zoom = {moveOf(MoveKind::Zoom, 0, -10, 1, 0, 2)};
    zoom[0].channels[0].incoming.keys.clear();
    EXPECT_GT(instantSpeed(zoom, Side::Outgoing, 0, hd), 1);
    EXPECT_EQ(instantSpeed(zoom, Side::Incoming, 0, hd), 0);
}

TEST(Move, TablesAreComplete) {
    for (const MoveInfo& info : allMoves()) {
        EXPECT_EQ(moveKindNamed(info.name), info.kind);
        EXPECT_EQ(&moveInfo(info.kind), &info);
        const Move m = makeMove(info.kind, "x");
        EXPECT_EQ(m.channels.size(), info.channels.size());
        EXPECT_FALSE(movesOn(m, Side::Outgoing));
        for (const ChannelInfo& c : info.channels) {
            EXPECT_LT(c.lowest, c.neutral);
            EXPECT_GE(c.highest, c.neutral);
        }
    }
    EXPECT_FALSE(moveKindNamed("teleport").has_value());
    EXPECT_TRUE(moveInfo(MoveKind::Unknown).channels.empty());
}

} // namespace
} // namespace virga
