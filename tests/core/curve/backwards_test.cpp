#include "core/curve/backwards.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/curve/matching.h"

namespace virga::backwards_test {
namespace {

Curve plungeOut() {
    return twoKeys(Space::Log2, -5, 1, 0, 2.5, departingShape());
}

TEST(Backwards, HasTheSameValuesAtMirroredTimes) {
    const Curve curve = withKeyAdded(plungeOut(), -2, 1);
    const Curve back = backwards(curve, -0.5);
    for (double t = -5; t <= 0; t += 0.25) EXPECT_NEAR(evaluate(back, -1 - t), evaluate(curve, t), 1e-9) << t;
    EXPECT_NEAR(changeOver(back, 0), -changeOver(curve, -1), 1e-9);
    EXPECT_EQ(backwards(back, -0.5), curve);
}

TEST(Backwards, TheLastHandleGivesTheRateAndRisesEvenly) {
    for (const double rate : {0.35, 0.45, 0.55}) {
        const Curve slow = twoKeys(Space::Log2, -8, 1, 0, 3, departingShape());
        const auto matched = matchedByLastHandle(slow, rate);
        ASSERT_TRUE(matched) << describe(matched.error());
        EXPECT_NEAR(changeOver(*matched, -1), rate, 1e-8);
        EXPECT_EQ(matched->keys.front().value, 1);
        EXPECT_EQ(matched->keys.back().value, 3);
        for (int n = -1; n > -4; --n)
            EXPECT_LT(changeOver(*matched, n) / std::max(1e-9, changeOver(*matched, n - 1)), 2.5) << n;
    }
    EXPECT_FALSE(matchedByLastHandle(twoKeys(Space::Log2, -8, 1, 0, 1.1, departingShape()), 0.5)) << "no way to go";
}

// Frame n as fast as frame -1 - n: a definition, checked frame by frame.
TEST(MirroredProfile, HasTheSpeedsInReverseOrder) {
    const Curve out = plungeOut();
    const auto in = mirroredProfile(out, 5, 1);
    ASSERT_TRUE(in);
    EXPECT_NEAR(in->keys.back().value, 1, 1e-12) << "it arrives at rest";
    for (int n = 0; n < 4; ++n) EXPECT_NEAR(changeOver(*in, n), changeOver(out, -1 - n), 1e-6) << n;
    EXPECT_LT(in->keys.front().value, 1) << "it goes on growing";
}

TEST(MirroredProfile, StretchesToItsOwnLengthAndKeepsTheRateAtTheCut) {
    const Curve out = plungeOut();
    const auto in = mirroredProfile(out, 12, 1);
    ASSERT_TRUE(in);
    EXPECT_NEAR(changeOver(*in, 0), changeOver(out, -1), 1e-9);
    EXPECT_NEAR(in->keys.back().time, 12 * 4 / 5.0, 1e-9)
        << "frame -1 is frame 0, so four of five frames lie behind it";
    EXPECT_LE(unevenness(*in), unevenness(backwards(out, -0.5)) + 1e-6) << "longer is no less even";
    EXPECT_FALSE(mirroredProfile(twoKeys(Space::Linear, -9, 0, -4, 1, departingShape()), 8, 0))
        << "it stands at the cut";
}

} // namespace
} // namespace virga::backwards_test
