#include "core/curve/key_group.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"

namespace virga::key_group_test {
namespace {

Curve wild(std::mt19937& random, Space space = Space::Linear, bool holds = true) {
    std::uniform_real_distribution<double> d(-1, 1), part(0, 1);
    Curve curve;
    curve.space = space;
    double time = -20;
    const int count = 3 + int(random() % 5);
    for (int i = 0; i < count; ++i) {
        time += 0.5 + 6 * part(random);
        const auto next = holds ? Interpolation(random() % 3) : Interpolation(1 + random() % 2);
        curve.keys.push_back({time,
                              space == Space::Log2 ? std::exp2(2 * d(random)) : 3 * d(random),
                              next,
                              {part(random), d(random)},
                              {part(random), d(random)}});
    }
    return curve;
}

void expectNear(const Curve& a, const Curve& b, double tolerance) {
    ASSERT_EQ(a.keys.size(), b.keys.size());
    for (std::size_t i = 0; i < a.keys.size(); ++i) {
        const Key &p = a.keys[i], &q = b.keys[i];
        EXPECT_NEAR(p.time, q.time, tolerance);
        EXPECT_NEAR(p.value, q.value, tolerance);
        EXPECT_EQ(p.next, q.next);
        EXPECT_NEAR(p.leave.reach, q.leave.reach, tolerance);
        EXPECT_NEAR(p.leave.rise, q.leave.rise, tolerance);
        EXPECT_NEAR(p.arrive.rise, q.arrive.rise, tolerance);
    }
}

TEST(KeyGroups, KeepTheirDistanceFromEachNeighbour) {
    Curve curve;
    for (const double time : {0.0, 5.0, 10.0, 15.0}) curve.keys.push_back({time, time, {}, {}, {}});
    for (int key = 0; key < 4; ++key)
        for (const double by : {-100.0, 100.0}) {
            const double least = key > 0 ? curve.keys[std::size_t(key) - 1].time + smallestKeyGap : -1e9,
                         most = key < 3 ? curve.keys[std::size_t(key) + 1].time - smallestKeyGap : 1e9,
                         time = curve.keys[std::size_t(key)].time;
            for (const Curve& changed : {withGroupMoved(curve, {key}, by, 0), stretched(curve, {key}, time - by, 2)})
                for (int i = 0; i < 4; ++i)
                    EXPECT_NEAR(changed.keys[std::size_t(i)].time,
                                i == key ? std::clamp(time + by, least, most) : curve.keys[std::size_t(i)].time, 1e-12)
                        << "key " << key << " by " << by;
        }
}

TEST(KeyGroups, ReversedRunsBackwards) {
    std::mt19937 random(1);
    for (int round = 0; round < 60; ++round) {
        const Curve curve = wild(random, round % 2 ? Space::Log2 : Space::Linear, false);
        const Curve back = reversed(curve, allKeys(curve));
        const double sum = curve.keys.front().time + curve.keys.back().time;
        for (double part = 0.013; part < 1; part += 0.0371) {
            const double t = curve.keys.front().time + part * (curve.keys.back().time - curve.keys.front().time);
            EXPECT_NEAR(evaluate(back, sum - t), evaluate(curve, t), 1e-9) << round;
        }
        expectNear(reversed(back, allKeys(back)), curve, 1e-12);
    }
}

TEST(KeyGroups, ReversedPartOfACurveLeavesTheRest) {
    Curve curve = twoKeys(Space::Linear, -10, 1, -4, 3, *shapeNamed("ease-in"));
    curve = withKeyAdded(curve, -2, 0);
    curve = withKeyMoved(curve, 2, -2, 5);
    const Curve back = reversed(curve, {0, 1});
    EXPECT_EQ(back.keys[0].value, 3);
    EXPECT_EQ(back.keys[1].value, 1);
    EXPECT_EQ(back.keys[2].value, 5);
    EXPECT_NEAR(speedAfter(back, -10), -speedBefore(curve, -4), 1e-9);
}

TEST(KeyGroups, FlippingTwiceChangesNothing) {
    std::mt19937 random(2);
    for (int round = 0; round < 40; ++round) {
        const Curve curve = wild(random, round % 2 ? Space::Log2 : Space::Linear);
        const KeyGroup group = {0, 2};
        const double neutral = round % 2 ? 1 : 0.5;
        expectNear(flippedGroup(flippedGroup(curve, group, neutral), group, neutral), curve, 1e-9);
        const Curve all = flippedGroup(curve, allKeys(curve), neutral);
        expectNear(all, flipped(curve, neutral), 1e-12);
    }
    EXPECT_NEAR(flippedGroup(twoKeys(Space::Log2, 0, 1, 5, 2.5, {}), {1}, 1).keys[1].value, 0.4, 1e-12) << "1 / 2.5";
}

TEST(KeyGroups, MovingThereAndBackGivesTheIdenticalShape) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> d(-1, 1);
    for (int round = 0; round < 60; ++round) {
        const Curve curve = wild(random);
        const KeyGroup group = {0, 1};
        const double time = d(random) * 0.2, step = d(random);
        const Curve there = withGroupMoved(curve, group, -std::abs(time), step);
        EXPECT_EQ(there.keys[1].leave.reach, curve.keys[1].leave.reach) << "reach stays";
        EXPECT_EQ(there.keys[0].leave, curve.keys[0].leave) << "inside the group nothing changes";
        expectNear(withGroupMoved(there, group, std::abs(time), -step), curve, 1e-9);
    }
    const Curve curve = twoKeys(Space::Linear, 0, 0, 10, 1, {});
    EXPECT_NEAR(withGroupMoved(curve, {0}, 50, 0).keys[0].time, 10 - smallestKeyGap, 1e-12) << "stops at its neighbour";
}

TEST(KeyGroups, TimesAreStretchedSpreadAndEvenedOut) {
    Curve curve = twoKeys(Space::Linear, -8, 0, -2, 1, {});
    curve = withKeyAdded(curve, -7, 0);
    const Curve twice = stretched(curve, allKeys(curve), -2, 2);
    EXPECT_DOUBLE_EQ(twice.keys[0].time, -14);
    EXPECT_DOUBLE_EQ(twice.keys[1].time, -12);
    EXPECT_EQ(twice.keys[1].leave, curve.keys[1].leave) << "the shape is kept";
    const Curve whole = spread(curve, allKeys(curve), -30, 1);
    EXPECT_DOUBLE_EQ(whole.keys.front().time, -30);
    EXPECT_DOUBLE_EQ(whole.keys.back().time, 1);
    EXPECT_NEAR(whole.keys[1].time, -30 + 31.0 / 6, 1e-12);
    EXPECT_DOUBLE_EQ(evenedOut(curve, allKeys(curve)).keys[1].time, -5);
    EXPECT_DOUBLE_EQ(endingPastCut(curve).keys.back().time, 1);
    EXPECT_DOUBLE_EQ(endingPastCut(curve).keys.front().time, -5) << "as a whole";
    const Curve squeezed = stretched(curve, {0, 1}, 100, 0.001);
    EXPECT_TRUE(std::is_sorted(squeezed.keys.begin(), squeezed.keys.end(),
                               [](const Key& a, const Key& b) { return a.time < b.time; }));
    EXPECT_DOUBLE_EQ(squeezed.keys[2].time, -2) << "what is not in the group stays";
}

TEST(KeyGroups, MirroredAboutTheCut) {
    std::mt19937 random(4);
    for (int round = 0; round < 40; ++round) {
        const Curve curve = wild(random, Space::Linear, false);
        const Curve other = mirroredAboutCut(curve);
        for (double t = -25; t < 25; t += 0.77) EXPECT_NEAR(evaluate(other, -t), evaluate(curve, t), 1e-9) << t;
        expectNear(mirroredAboutCut(other), curve, 1e-9);
    }
    EXPECT_TRUE(mirroredAboutCut(Curve()).isEmpty());
}

// Fritsch and Carlson 1980: between two keys a monotone interpolant stays between their values, and it is smooth.
TEST(KeyGroups, SmoothNeverOvershoots) {
    std::mt19937 random(5);
    for (int round = 0; round < 300; ++round) {
        const Curve rough = wild(random, round % 3 == 0 ? Space::Log2 : Space::Linear);
        const Curve curve = smoothed(rough, allKeys(rough));
        for (std::size_t i = 0; i + 1 < curve.keys.size(); ++i) {
            const Key &a = curve.keys[i], &b = curve.keys[i + 1];
            const double low = std::min(a.value, b.value), high = std::max(a.value, b.value);
            double last = a.value;
            for (int k = 1; k <= 50; ++k) {
                const double v = evaluate(curve, a.time + (b.time - a.time) * k / 50);
                ASSERT_GE(v, low - 1e-9) << round;
                ASSERT_LE(v, high + 1e-9) << round;
                ASSERT_GE((v - last) * (b.value - a.value), -1e-12) << "monotone";
                last = v;
            }
            if (i > 0)
                EXPECT_NEAR(speedBefore(curve, a.time), speedAfter(curve, a.time), 1e-9) << "no step in its speed";
        }
    }
}

TEST(KeyGroups, SmoothingSomeLeavesTheOthersAsTheyAre) {
    std::mt19937 random(6);
    Curve rough = wild(random, Space::Linear);
    while (rough.keys.size() < 5) rough = wild(random, Space::Linear);
    const Curve curve = smoothed(rough, {1, 2});
    for (std::size_t i = 0; i + 1 < curve.keys.size(); ++i) {
        if (i == 1) continue; // between the two
        for (int k = 0; k <= 10; ++k) {
            const double t = rough.keys[i].time + (rough.keys[i + 1].time - rough.keys[i].time) * k / 10 * (1 - 1e-9);
            EXPECT_NEAR(evaluate(curve, t), evaluate(rough, t), 1e-9) << "segment " << i;
        }
    }
    EXPECT_EQ(curve.keys[1].next, Interpolation::Eased);
}

TEST(KeyGroups, WhatIsNotThereIsLeftOut) {
    const Curve curve = twoKeys(Space::Linear, 0, 0, 10, 1, {});
    EXPECT_EQ(reversed(curve, {-3, 7}), curve);
    EXPECT_EQ(withGroupMoved(curve, {9}, 1, 1), curve);
    EXPECT_EQ(withGroupMoved(curve, {0}, std::nan(""), 0), curve);
    EXPECT_EQ(stretched(curve, {0, 1}, 0, -1), curve);
    EXPECT_EQ(spread(curve, {0, 1}, 3, 3), curve);
    EXPECT_EQ(smoothed(Curve(), {0}), Curve());
}

} // namespace
} // namespace virga::key_group_test
