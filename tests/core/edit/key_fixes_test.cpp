// What the fixes do to keys, beside what their formulas say.
#include <cmath>
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/curve/curve_edit.h"
#include "core/edit/key_edits.h"
#include "core/edit/key_fixes.h"
#include "tests/support/projects.h"

namespace virga::key_fixes_test {
namespace {

using namespace test;

constexpr Shape straight{Interpolation::Linear};

const Curve& curveOf(const Project& p, Side side, int cut = 0) {
    return transitionAt(p, cut).moves[0].channels[0].side(side);
}

// Steffen, "A simple method for monotonic interpolation in one dimension", Astronomy and Astrophysics 239 (1990),
// equations 8 and 11, put down here once more.
double steffen(double s0, double s1, double h0, double h1) {
    const double p = (s0 * h1 + s1 * h0) / (h0 + h1);
    const auto sign = [](double v) { return v > 0 ? 1.0 : v < 0 ? -1.0 : 0.0; };
    return (sign(s0) + sign(s1)) * std::min({std::abs(s0), std::abs(s1), 0.5 * std::abs(p)});
}

TEST(KeyFixes, InnerKeysGetSteffensSlopes) {
    const double values[][4] = {{0, 1, 2, 6}, {3, 2.5, -1, -1.2}, {0, 0.1, 4, 3}};
    for (const auto& v : values) {
        Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, v[0], v[3], 20, 0, 0, 0, straight);
        Curve& curve = p.reel[1].transition.moves[0].channels[0].outgoing;
        curve = withKeyAdded(withKeyAdded(curve, -16, 0), -6, 0);
        ASSERT_EQ(curve.keys.size(), 4u);
        for (std::size_t i = 0; i < 4; ++i) curve.keys[i].value = v[i];
        const Project done = withKeysRunThrough(p, 0, Side::Outgoing).value();
        const Curve& after = curveOf(done, Side::Outgoing);
        for (std::size_t i = 1; i < 3; ++i) {
            const Key &a = curve.keys[i - 1], &k = curve.keys[i], &b = curve.keys[i + 1], &is = after.keys[i];
            const double h0 = k.time - a.time, h1 = b.time - k.time, s0 = (k.value - a.value) / h0,
                         s1 = (b.value - k.value) / h1;
            if (s0 * s1 < 0) {
                EXPECT_EQ(is.arrive, k.arrive) << "it turns there";
                continue;
            }
            const double slope = steffen(s0, s1, h0, h1);
            EXPECT_NEAR(is.arrive.rise / (is.arrive.reach * h0), slope, 1e-12);
            EXPECT_NEAR(is.leave.rise / (is.leave.reach * h1), slope, 1e-12);
            EXPECT_NEAR(speedBefore(after, k.time), slope, 1e-9);
            EXPECT_NEAR(speedAfter(after, k.time), slope, 1e-9);
        }
        for (std::size_t i = 0; i < 4; ++i) {
            EXPECT_EQ(after.keys[i].value, v[i]);
            EXPECT_EQ(after.keys[i].time, curve.keys[i].time);
        }
        // Monotonic between the keys, which is what the formula is for.
        for (std::size_t i = 0; i < 3; ++i)
            for (double part = 0; part < 1; part += 0.05) {
                const double span = after.keys[i + 1].time - after.keys[i].time,
                             at = evaluate(after, after.keys[i].time + part * span),
                             next = evaluate(after, after.keys[i].time + (part + 0.05) * span);
                EXPECT_GE((next - at) * (v[i + 1] - v[i]), -1e-9);
            }
    }
    EXPECT_FALSE(withKeysRunThrough(plungeProject(), 0, Side::Outgoing)) << "no key lies in the middle";
}

TEST(KeyFixes, WhatGoesBeyondItsValues) {
    const auto beyond = [](double y1, double y2, double way = 2) {
        Curve c = twoKeys(Space::Linear, 0, 1, 10, 1 + way, {Interpolation::Eased, 0.3, 0, 0.6, 1});
        c.keys[0].leave.rise = y1 * way, c.keys[1].arrive.rise = (1 - y2) * way;
        return c;
    };
    EXPECT_EQ(overshootOf(beyond(0, 1)), 0);
    EXPECT_EQ(overshootOf(beyond(1, 0)), 0);
    // A cubic from 0 to 1 with the control values 0 and 2: 6 q s s + s s s, which has its most at s = 4/5 with 1.28.
    for (const double way : {2.0, -0.5}) EXPECT_NEAR(overshootOf(beyond(0, 2, way)), 0.28, 1e-12);
    // With -1 and 1 the same the other way round: it first goes back.
    EXPECT_NEAR(overshootOf(beyond(-1, 1)), 0.28, 1e-12);
    Curve straightOne = beyond(-1, 2);
    straightOne.keys[0].next = Interpolation::Linear;
    EXPECT_EQ(overshootOf(straightOne), 0) << "handles that nothing asks for";
    Curve level = beyond(0, 1);
    level.keys[1].value = level.keys[0].value;
    level.keys[0].leave.rise = 1;
    EXPECT_EQ(overshootOf(level), 0) << "no way to go beyond";
    // The worst of several counts, and the fix takes all of it.
    Curve both = beyond(-0.3, 1);
    both.keys.push_back({20, 5});
    both.keys[1].leave = {0.3, 0}, both.keys[2].arrive = {0.4, -2};
    Project p = twoClips();
    p = withMove(p, 0, MoveKind::Spin, 0, 0, 1, 10, 0, 0, 0);
    p.reel[1].transition.moves[0].channels[0].outgoing = both;
    EXPECT_NEAR(overshootOf(both), 0.28, 1e-12);
    const Curve calm = curveOf(withoutOvershoot(p, 0, 0, 0, Side::Outgoing), Side::Outgoing);
    EXPECT_EQ(overshootOf(calm), 0);
    for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(calm.keys[i].value, both.keys[i].value);
    EXPECT_EQ(calm.keys[0].arrive, both.keys[0].arrive);
    EXPECT_EQ(withoutOvershoot(p, 0, 5, 0, Side::Outgoing), p);
}

TEST(KeyFixes, ADriftEndsWithItsClip) {
    Project p = twoClips();
    p.reel[0].drift = {makeMove(MoveKind::Spin, "move-9")};
    Curve& curve = p.reel[0].drift[0].channels[0].incoming;
    for (const double last : {20.0, 25.0}) {
        curve = twoKeys(Space::Linear, 0, 0, last, 5, straight);
        EXPECT_EQ(withDriftFitted(p, 0, 0, 0), p) << last;
    }
    curve = twoKeys(Space::Linear, 0, 0, 40, 5, straight);
    curve = withKeyAdded(curve, 8, 0);
    const Curve fitted = withDriftFitted(p, 0, 0, 0).reel[0].drift[0].channels[0].incoming;
    ASSERT_EQ(fitted.keys.size(), 3u);
    EXPECT_NEAR(fitted.keys[1].time, 5, 1e-9);
    EXPECT_NEAR(fitted.keys[2].time, 25, 1e-9);
    EXPECT_EQ(fitted.keys[2].value, 5);
    EXPECT_EQ(withDriftFitted(p, 0, 1, 0), p) << "no such move";
    EXPECT_EQ(withDriftFitted(p, 1, 0, 0), p) << "no drift there";
}

// It goes on creeping the way that the last zoom before it went, never below the frame's size.
TEST(KeyFixes, ACreepingDriftGoesOnAsTheZoomDid) {
    const auto drift = [](const Project& p, int clip) {
        const Project done = withCreepingDrift(p, clip);
        return done.reel[std::size_t(clip)].drift.back().channels[0].incoming;
    };
    const auto zoomed = [](const Project& p, int cut, double to) {
        return withMove(p, cut, MoveKind::Zoom, 0, 1, to, 10, 1, 1, 0);
    };
    const double most = std::exp2(std::clamp(0.0008 * 25, 0.045, 0.4));
    for (const double to : {1.8, 0.6}) {
        const Curve c = drift(zoomed(twoClips(), 0, to), 1);
        ASSERT_EQ(c.keys.size(), 2u);
        EXPECT_EQ(c.keys[0].time, 0);
        EXPECT_EQ(c.keys[1].time, 25);
        EXPECT_NEAR(c.keys[0].value, to > 1 ? 1 : most, 1e-12);
        EXPECT_NEAR(c.keys[1].value, to > 1 ? most : 1, 1e-12);
    }
    EXPECT_GT(drift(twoClips(), 1).keys[1].value, 1) << "in, where nothing zoomed before";
    EXPECT_GT(drift(zoomed(twoClips(), 0, 0.6), 0).keys[1].value, 1) << "what comes later does not count";
    // A cut that only turns is passed over, the nearest zoom counts.
    Project three = twoClips();
    three.reel.push_back(three.reel[0]);
    three.reel[2].id = "clip-third";
    three = zoomed(three, 0, 0.6);
    three = withMove(three, 1, MoveKind::Spin, 0, 0, 90, 10, 0, 0, 0);
    EXPECT_LT(drift(three, 2).keys[1].value, drift(three, 2).keys[0].value);
    EXPECT_GT(drift(zoomed(three, 1, 1.5), 2).keys[1].value, 1);
    // Long shots creep farther, to a limit.
    Project longer = twoClips();
    longer.reel[1].length = 250;
    EXPECT_NEAR(drift(longer, 1).keys[1].value, std::exp2(0.2), 1e-12);
    longer.reel[1].length = 5000;
    EXPECT_NEAR(drift(longer, 1).keys[1].value, std::exp2(0.4), 1e-12);
}

} // namespace
} // namespace virga::key_fixes_test
