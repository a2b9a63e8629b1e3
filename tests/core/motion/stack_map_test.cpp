#include "core/motion/stack_map.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/curve/matching.h"
#include "tests/support/projects.h"

namespace virga::stack_map_test {
namespace {

using namespace test;

constexpr Size hd{1280, 720};

Move moveOf(MoveKind kind, int channel, double t0, double v0, double t1, double v1,
            Interpolation kindOf = Interpolation::Linear) {
    Move m = makeMove(kind, "m");
    m.channels[std::size_t(channel)].outgoing = twoKeys(spaceOf(m, channel), t0, v0, t1, v1, {kindOf});
    m.channels[std::size_t(channel)].incoming = m.channels[std::size_t(channel)].outgoing;
    return m;
}

Point at(const Stack& stack, double time, Point p) {
    return movementOf(stack, Side::Outgoing, time, hd).toScreen(p);
}

TEST(StackMap, RestIsExactlyTheIdentity) {
    EXPECT_EQ(movementOf({}, Side::Outgoing, 0, hd), ScreenMap());
    EXPECT_EQ(movementOf({moveOf(MoveKind::Zoom, 0, -5, 1, 0, 2.5), moveOf(MoveKind::Spin, 0, -5, 0, 0, 90)},
                         Side::Outgoing, -9, hd),
              ScreenMap());
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
    EXPECT_EQ(movementOf({zoom, unknown}, Side::Outgoing, 0, hd), ScreenMap());
}

TEST(StackMap, NothingDependsOnTheResolution) {
    const Stack stack = {moveOf(MoveKind::Zoom, 0, -5, 1, 0, 2.5), moveOf(MoveKind::Spin, 0, -5, 0, 0, 77),
                         moveOf(MoveKind::Slide, 0, -5, 0, 0, 0.3)};
    const ScreenMap small = movementOf(stack, Side::Outgoing, -1.3, {1280, 720}),
                    large = movementOf(stack, Side::Outgoing, -1.3, {3840, 2160});
    for (const Point& p : {Point(0, 0), Point(1000, 50), Point(400, 700)}) {
        const Point a = small.toScreen(p), b = large.toScreen(p * 3.0);
        EXPECT_NEAR(a.x * 3, b.x, 1e-8);
        EXPECT_NEAR(a.y * 3, b.y, 1e-8);
    }
}

TEST(SeenSpeed, OfASlideIsItsOwn) {
    const Stack slide = {moveOf(MoveKind::Slide, 0, -10, 0, 0, 1)};
    EXPECT_NEAR(seenSpeedOf(slide, Side::Outgoing, -5, hd), 10, 1e-9) << "a tenth of the width per frame";
    EXPECT_NEAR(seenSpeedOf(slide, Side::Outgoing, 0, hd), 10, 1e-6) << "a key on a frame costs it nothing";
    EXPECT_NEAR(seenSpeedOf(slide, Side::Outgoing, -10, hd), 10, 1e-6);
    EXPECT_EQ(seenSpeedOf(slide, Side::Outgoing, -30, hd), 0);
    EXPECT_NEAR(seenSpeedOf(slide, Side::Outgoing, 0.4, hd), 1, 1e-6)
        << "beyond its last key a frame holds: what is left";
}

TEST(SeenSpeed, OfASpinIsTheCornersArc) {
    const Stack spin = {moveOf(MoveKind::Spin, 0, -10, 0, 0, 10)};
    const double corner = std::hypot(640, 360), chord = 2 * corner * std::sin(0.5 * 3.14159265358979 / 180);
    EXPECT_NEAR(seenSpeedOf(spin, Side::Outgoing, -5, hd), 100 * chord / 1280, 1e-6);
}

// An even zoom doubles in equal times and so looks equally fast at any size; the whole match rests on it.
TEST(SeenSpeed, OfAnEvenZoomIsTheSameAtEverySize) {
    const Stack zoom = {moveOf(MoveKind::Zoom, 0, -10, 0.5, 0, 4)};
    const double first = seenSpeedOf(zoom, Side::Outgoing, -9, hd);
    for (double n = -9; n <= 0; n += 0.5) EXPECT_NEAR(seenSpeedOf(zoom, Side::Outgoing, n, hd), first, 1e-9);
    // A point under the corner is at 2^0.15 of its place half a frame later, at 2^-0.15 half a frame before.
    EXPECT_NEAR(first, 100 * std::hypot(640, 360) * (std::exp2(0.15) - std::exp2(-0.15)) / 1280, 1e-6);
}

TEST(SeenSpeed, StaysOnItsSideOfTheCut) {
    Stack zoom = {moveOf(MoveKind::Zoom, 0, -10, 1, 0, 2)};
    zoom[0].channels[0].incoming.keys.clear();
    EXPECT_GT(seenSpeedOf(zoom, Side::Outgoing, 0, hd), 1);
    EXPECT_EQ(seenSpeedOf(zoom, Side::Incoming, 0, hd), 0);
}

// The example that numerics.md works by hand.
TEST(SeenSpeed, OfTheWorkedExample) {
    Move zoom = makeMove(MoveKind::Zoom, "z");
    const double whole = std::log2(2.5);
    zoom.channels[0].outgoing = {
        Space::Log2,
        {{-5, 1, Interpolation::Eased, {0.6, 0}, {}}, {0, 2.5, Interpolation::Eased, {}, {0.12, whole / 2}}}};
    const auto matched = matchedByFirstHandle(twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape()),
                                              changeOver(zoom.channels[0].outgoing, -1));
    ASSERT_TRUE(matched);
    zoom.channels[0].incoming = *matched;
    const double out[] = {0.3, 2.3, 5.3, 10.0, 18.9};
    for (int i = 0; i < 5; ++i) EXPECT_NEAR(seenSpeedOf({zoom}, Side::Outgoing, i - 5, hd), out[i], 0.06) << i - 5;
    const double incoming[] = {18, 9, 5, 3, 2};
    for (int i = 0; i < 5; ++i) EXPECT_NEAR(seenSpeedOf({zoom}, Side::Incoming, i, hd), incoming[i], 1.1) << i;
    EXPECT_LT(unevenness(*matched), 2.3) << "no frame trips over the one before";
}

TEST(Move, TablesAreComplete) {
    for (const MoveInfo& info : allMoves()) {
        EXPECT_EQ(moveKindNamed(info.name), info.kind);
        EXPECT_EQ(&moveInfo(info.kind), &info);
        const Move m = makeMove(info.kind, "x");
        EXPECT_EQ(m.channels.size(), info.channels.size());
        EXPECT_FALSE(movesOn(m, Side::Outgoing));
        EXPECT_LE(info.channels.size(), mostChannels);
        EXPECT_LE(info.parameters.size(), mostParameters);
        EXPECT_EQ(m.parameters.size(), info.parameters.size());
        for (const ParameterInfo& p : info.parameters) {
            EXPECT_LE(p.lowest, p.initial) << info.name;
            EXPECT_GE(p.highest, p.initial) << info.name;
        }
        EXPECT_EQ(info.part != nullptr, info.role == MoveRole::Movement) << info.name;
        EXPECT_EQ(info.treatment != nullptr, info.role == MoveRole::Finishing) << info.name;
        EXPECT_FALSE(info.purpose.empty() || info.icon.empty()) << info.name;
        for (const ChannelInfo& c : info.channels) {
            EXPECT_LE(c.lowest, c.neutral);
            EXPECT_LT(c.lowest, c.highest);
            EXPECT_NE(c.usual, c.neutral) << info.name;
            EXPECT_FALSE(c.rising.empty() || c.falling.empty()) << info.name;
            EXPECT_GE(c.highest, c.neutral);
        }
    }
    EXPECT_FALSE(moveKindNamed("teleport").has_value());
    EXPECT_TRUE(moveInfo(MoveKind::Unknown).channels.empty());
}

} // namespace
} // namespace virga::stack_map_test
