#include "core/curve/curve.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"

namespace virga::curve_test {
namespace {

Curve plain(double t0, double v0, double t1, double v1, const Shape& shape = {Interpolation::Linear}) {
    return twoKeys(Space::Linear, t0, v0, t1, v1, shape);
}

TEST(Curve, HoldsBeforeAndAfterItsKeys) {
    const Curve c = plain(-5, 2, 0, 4);
    EXPECT_EQ(evaluate(c, -100), 2);
    EXPECT_EQ(evaluate(c, -5), 2);
    EXPECT_EQ(evaluate(c, 0), 4);
    EXPECT_EQ(evaluate(c, 100), 4);
    EXPECT_EQ(evaluate(Curve{}, 3, 7), 7) << "without keys it is at rest";
    EXPECT_EQ(speedAfter(c, 0), 0);
    EXPECT_EQ(speedBefore(c, -5), 0);
    EXPECT_NEAR(speedBefore(c, 0), 0.4, 1e-12);
    EXPECT_NEAR(speedAfter(c, -5), 0.4, 1e-12);
}

TEST(Curve, HoldKeepsTheValueUntilTheNextKey) {
    const Curve c = plain(0, 1, 10, 5, {Interpolation::Hold});
    EXPECT_EQ(evaluate(c, 9.999), 1);
    EXPECT_EQ(evaluate(c, 10), 5);
    EXPECT_EQ(speedAfter(c, 5), 0);
}

TEST(Curve, RunsOnToAKeyPastTheCut) {
    const Curve c = plain(-4, 0, 1, 10);
    EXPECT_NEAR(evaluate(c, -1), 6, 1e-12);
    EXPECT_NEAR(evaluate(c, 0), 8, 1e-12);
}

// Even zoom: half way in time is the geometric mean.
TEST(Curve, EvenZoomIsEvenToTheEye) {
    const Curve c = twoKeys(Space::Log2, 0, 1, 10, 4, {Interpolation::Linear});
    EXPECT_NEAR(evaluate(c, 5), 2, 1e-12);
    EXPECT_NEAR(evaluate(c, 2.5), std::sqrt(2.0), 1e-12);
    EXPECT_NEAR(speedAfter(c, 3), 0.2, 1e-12) << "in doublings per frame";
}

TEST(Curve, SolvesTimeToBetterThanOneBillionth) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> unit(0, 1);
    for (int i = 0; i < 20000; ++i) {
        // All corners of the square are tried too, where the slope vanishes.
        const double x1 = i % 5 == 0 ? std::round(unit(random)) : unit(random),
                     x2 = i % 7 == 0 ? std::round(unit(random)) : unit(random), x = unit(random);
        const double s = solveBezier(x1, x2, x), r = 1 - s;
        ASSERT_NEAR(3 * r * r * s * x1 + 3 * r * s * s * x2 + s * s * s, x, 1e-9) << x1 << ' ' << x2;
    }
    EXPECT_EQ(solveBezier(0.3, 0.6, 0), 0);
    EXPECT_EQ(solveBezier(0.3, 0.6, 1), 1);
}

TEST(Curve, TimeNeverRunsBackwards) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> unit(0, 1);
    for (int i = 0; i < 300; ++i) {
        // A steady rise in value is monotone in time whatever the reaches are.
        Curve c = plain(0, 0, 1, 1, {Interpolation::Eased, unit(random), 0, unit(random), 1});
        double last = 0;
        for (int k = 0; k <= 200; ++k) {
            const double v = evaluate(c, k / 200.0);
            ASSERT_GE(v, last - 1e-12);
            last = v;
        }
    }
}

TEST(Curve, SpeedIsTheDerivative) {
    for (const auto& named : namedShapes()) {
        if (named.shape.kind != Interpolation::Eased) continue;
        const Curve c = twoKeys(Space::Log2, -8, 1, 3, 2.5, named.shape);
        for (double t = -7.6; t < 2.8; t += 0.37) {
            const double h = 1e-5, slope = (std::log2(evaluate(c, t + h)) - std::log2(evaluate(c, t - h))) / (2 * h);
            EXPECT_NEAR(speedAfter(c, t), slope, 1e-6 * (1 + std::abs(slope)) * 50) << named.name << ' ' << t;
            EXPECT_NEAR(speedAfter(c, t), speedBefore(c, t), 1e-9);
        }
    }
}

TEST(Curve, FindsSegments) {
    Curve c = plain(0, 0, 10, 1);
    c = withKeyAdded(c, 4, 0);
    EXPECT_EQ(segmentAt(c, -1), -1);
    EXPECT_EQ(segmentAt(c, 0), 0);
    EXPECT_EQ(segmentAt(c, 4), 1);
    EXPECT_EQ(segmentAt(c, 10), -1);
}

TEST(Curve, ZoomOfNothingIsHarmless) {
    const Curve c = twoKeys(Space::Log2, 0, 0, 10, 1, {Interpolation::Linear});
    for (int t = -1; t < 12; ++t) EXPECT_TRUE(std::isfinite(evaluate(c, t)));
}

} // namespace
} // namespace virga::curve_test
