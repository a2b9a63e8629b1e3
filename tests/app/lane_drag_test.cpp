// What drags in lanes mean, without a window.
#include "app/lanes/lane_drag.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"
#include "tests/support/projects.h"

namespace virga::lane_drag_test {
namespace {

using namespace test;

const FrameScale axis{500, 36};
const ValueScale values{Space::Log2, -1, 2, 10, 90};
const CurveAddress out{0, 0, 0, Side::Outgoing};

// There and back by any way is the identical curve: values, handles and all.
TEST(LaneDrag, ThereAndBackIsTheSame) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> unit(-1, 1);
    for (int i = 0; i < 300; ++i) {
        Project p = plungeProject();
        Curve c = withKeyAdded(withKeyAdded(curveAt(p, out), -3, 1), -1.5, 1);
        c = withKeyMoved(c, 1, -3 + 0.3 * unit(random), 1.2 + unit(random) * 0.5);
        if (i % 3 == 0) c = withKeyMoved(c, 2, -1.5, c.keys[1].value); // equal values: a dip's handles
        p = withCurve(p, out, c);
        const int key = i % 4;
        const double time = c.keys[std::size_t(key)].time + unit(random), value = std::exp2(unit(random));
        Curve moved = withKeyMoved(c, key, time, value);
        moved = withKeyMoved(moved, key, c.keys[std::size_t(key)].time, c.keys[std::size_t(key)].value);
        for (std::size_t k = 0; k < c.keys.size(); ++k) {
            EXPECT_EQ(moved.keys[k].time, c.keys[k].time);
            EXPECT_EQ(moved.keys[k].value, c.keys[k].value);
            EXPECT_NEAR(moved.keys[k].leave.rise, c.keys[k].leave.rise, 1e-9 * (1 + std::abs(c.keys[k].leave.rise)));
            EXPECT_NEAR(moved.keys[k].arrive.rise, c.keys[k].arrive.rise, 1e-9 * (1 + std::abs(c.keys[k].arrive.rise)));
        }
        // And a drag of no pixels changes nothing at all.
        const auto still = dragKeys(p, {{out, key}, {{out, key}}}, 0, 0, axis, values, 3, {});
        EXPECT_EQ(still.project, p);
    }
}

TEST(LaneDrag, KeysNeverChangeTheirOrderNorComeCloserThanTheyMay) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> far(-800, 800);
    Project p = plungeProject();
    Curve c = curveAt(p, out);
    for (const double t : {-4.0, -3.0, -2.0, -1.0}) c = withKeyAdded(c, t, 1);
    p = withCurve(p, out, c);
    for (int i = 0; i < 500; ++i) {
        KeySet keys{{out, i % 6}};
        if (i % 2) keys.push_back({out, (i * 7 + 3) % 6});
        const bool free = i % 3 == 0;
        const auto result = dragKeys(p, {keys[0], keys}, far(random), far(random), axis, values, 0, {free, false});
        const Curve& moved = curveAt(result.project, out);
        ASSERT_EQ(moved.keys.size(), c.keys.size());
        for (std::size_t k = 0; k + 1 < moved.keys.size(); ++k)
            EXPECT_GE(moved.keys[k + 1].time - moved.keys[k].time, (free ? smallestKeyGap : 1) - 1e-9) << i;
    }
}

// For any handle that a drag can make time runs forward: the curve is a function of time, and reaches stay in [0, 1].
TEST(LaneDrag, NoHandleTurnsTimeBack) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> far(-2000, 2000);
    Channel channel = transitionAt(plungeProject(), 0).moves[0].channels[0];
    for (int i = 0; i < 500; ++i) {
        const bool leave = i % 2;
        channel.outgoing = dragHandle(channel, Side::Outgoing, {leave ? 0 : 1, leave}, far(random), far(random) / 20,
                                      axis, values, true, {i % 3 == 0, i % 5 == 0});
        const Key &a = channel.outgoing.keys[0], &b = channel.outgoing.keys[1];
        ASSERT_TRUE(a.leave.reach >= 0 && a.leave.reach <= 1);
        ASSERT_TRUE(b.arrive.reach >= 0 && b.arrive.reach <= 1);
        double last = -1;
        for (double s = 0; s <= 1; s += 0.02) {
            const double q = 1 - s,
                         x = 3 * q * q * s * a.leave.reach + 3 * q * s * s * (1 - b.arrive.reach) + s * s * s;
            EXPECT_GE(x, last - 1e-12) << i;
            last = x;
        }
    }
}

TEST(LaneDrag, HandlesClingToLevelAndToTheSlopeBeyondTheKey) {
    Channel channel = transitionAt(plungeProject(), 0).moves[0].channels[0];
    channel.outgoing = withKeyAdded(channel.outgoing, -2, 1);
    const Curve& c = channel.outgoing;
    const double here = toSpace(c.keys[1].value, Space::Log2);
    Curve bent = dragHandle(channel, Side::Outgoing, {1, true}, axis.xOf(-1.4), values.yOfSpace(here) + 3, axis, values,
                            true, {});
    EXPECT_EQ(bent.keys[1].leave.rise, 0) << "level";
    const double slope = speedBefore(c, -2);
    bent = dragHandle(channel, Side::Outgoing, {1, true}, axis.xOf(-1.4), values.yOfSpace(here + slope * 0.6) - 1, axis,
                      values, true, {});
    EXPECT_NEAR(speedAfter(bent, -2), slope, 1e-9) << "one line through the key";
    bent = dragHandle(channel, Side::Outgoing, {1, true}, axis.xOf(-1.4), values.yOfSpace(here) + 3, axis, values, true,
                      {true, false});
    EXPECT_LT(bent.keys[1].leave.rise, 0) << "free";
}

TEST(LaneDrag, SpeedsClingToRestAndToTheOtherSide) {
    const Channel channel = transitionAt(plungeProject(), 0).moves[0].channels[0];
    const ChannelInfo& info = moveInfo(MoveKind::Zoom).channels[0];
    const SpeedScale speeds = SpeedScale::fitting(channel, 100, 40);
    const Curve still = dragSpeed(channel, Side::Outgoing, -0.1, 98, speeds, info, Kept::First, true, {});
    EXPECT_NEAR(speedBefore(still, -0.1), 0, 1e-9);
    const double in = speedAfter(channel.incoming, 0);
    const Curve same = dragSpeed(channel, Side::Outgoing, 0, speeds.yOf(in) + 2, speeds, info, Kept::First, true, {});
    EXPECT_NEAR(speedBefore(same, 0), in, 1e-9);
    const Curve far = dragSpeed(channel, Side::Outgoing, -0.1, -1e7, speeds, info, Kept::First, true, {});
    EXPECT_EQ(far, channel.outgoing) << "no farther than a zoom goes";
}

TEST(LaneDrag, ABoxTakesTheDropsInIt) {
    const Curve c = transitionAt(plungeProject(), 0).moves[0].channels[0].outgoing;
    const double x = axis.xOf(-5), y = values.yOf(1);
    EXPECT_EQ(keysInBox(c, axis, values, x - 5, y - 5, x + 5, y + 5), (KeyGroup{0}));
    EXPECT_EQ(keysInBox(c, axis, values, x - 5, y - 14, x + 5, y - 8), (KeyGroup{0})) << "its body";
    EXPECT_TRUE(keysInBox(c, axis, values, x - 5, y - 40, x + 5, y - 20).empty());
    EXPECT_EQ(keysInBox(c, axis, values, 0, 0, 1000, 1000).size(), 2u);
}

} // namespace
} // namespace virga::lane_drag_test
