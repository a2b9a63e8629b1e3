#include "core/curve/speed_pull.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"

namespace virga::speed_pull_test {
namespace {

TEST(SpeedPull, MeetsTheSpeedWhereItIsPulled) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> unit(0, 1);
    for (int i = 0; i < 400; ++i) {
        const Shape shape{Interpolation::Eased, unit(random), 2 * unit(random) - 0.5, unit(random),
                          2 * unit(random) - 0.5};
        Curve curve = twoKeys(i % 2 ? Space::Log2 : Space::Linear, -20, 1, 0, 1 + unit(random), shape);
        curve = withKeyAdded(curve, -20 * unit(random), 1);
        const double t = -19.5 + 19 * unit(random), wanted = unit(random) - 0.3;
        if (segmentAt(curve, t) < 0 || std::abs(speedAfter(curve, t)) > 20) continue;
        for (const Kept kept : {Kept::First, Kept::Last}) {
            const Curve pulled = withSpeedPulled(curve, t, wanted, kept);
            EXPECT_NEAR(speedAfter(pulled, t), wanted, 1e-6 * (1 + std::abs(speedAfter(curve, t)))) << i;
            EXPECT_EQ(pulled.keys.size(), curve.keys.size());
            for (std::size_t k = 0; k < curve.keys.size(); ++k) EXPECT_EQ(pulled.keys[k].time, curve.keys[k].time);
            if (kept == Kept::First)
                EXPECT_EQ(pulled.keys.front().value, curve.keys.front().value);
            else
                EXPECT_EQ(pulled.keys.back().value, curve.keys.back().value);
            // Values are what the speed adds up to.
            double sum = 0;
            for (double at = -20; at < 0; at += 0.002) sum += speedAfter(pulled, at + 0.001) * 0.002;
            EXPECT_NEAR(
                sum, toSpace(pulled.keys.back().value, curve.space) - toSpace(pulled.keys.front().value, curve.space),
                2e-3 * (1 + std::abs(sum)));
            // And back again.
            const Curve back = withSpeedPulled(pulled, t, speedAfter(curve, t), kept);
            for (double at = -20; at <= 0; at += 0.5)
                EXPECT_NEAR(evaluate(back, at), evaluate(curve, at), 1e-6) << i << ' ' << at;
        }
    }
}

TEST(SpeedPull, IsFeltMostWhereItIsPulled) {
    const Curve even = twoKeys(Space::Linear, 0, 0, 30, 30, {Interpolation::Linear});
    const Curve pulled = withSpeedPulled(even, 25, 2, Kept::First);
    EXPECT_NEAR(speedAfter(pulled, 25), 2, 1e-9);
    EXPECT_LT(std::abs(speedAfter(pulled, 3) - 1), 0.2);
    EXPECT_GT(pulled.keys[1].value, 35) << "the values follow";
}

TEST(SpeedPull, AtTheCutTheSideTakesItsOwnSegment) {
    const Curve out = twoKeys(Space::Log2, -8, 1, 0, 2, departingShape()),
                in = twoKeys(Space::Log2, 0, 0.5, 8, 1, arrivingShape());
    EXPECT_NEAR(speedBefore(withSpeedPulled(out, 0, 0.5, Kept::First), 0), 0.5, 1e-9);
    EXPECT_NEAR(speedAfter(withSpeedPulled(in, 0, 0.5, Kept::Last), 0), 0.5, 1e-9);
    EXPECT_EQ(withSpeedPulled(out, 3, 0.5, Kept::First), out) << "it holds there";
    EXPECT_EQ(withSpeedPulled(withShape(out, 0, {Interpolation::Hold}), -3, 0.5, Kept::First).keys[0].next,
              Interpolation::Hold);
}

} // namespace
} // namespace virga::speed_pull_test
