#include "core/curve/matching.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"

namespace virga::matching_test {
namespace {

TEST(Matching, FirstValueMeetsTheSpeedAndKeepsTheShape) {
    std::mt19937 random(9);
    std::uniform_real_distribution<double> speed(-2, 2);
    for (int i = 0; i < 300; ++i) {
        const double wanted = speed(random);
        const Curve in =
            twoKeys(Space::Linear, i % 3 == 0 ? -1.5 : 0, 5, 12, 0, i % 2 ? arrivingShape() : *shapeNamed("ease"));
        const auto matched = matchedByFirstValue(in, wanted, -1e6, 1e6);
        ASSERT_TRUE(matched) << describe(matched.error());
        EXPECT_NEAR(changeOver(*matched, 0), wanted, 1e-8);
        EXPECT_EQ(matched->keys[1].value, in.keys[1].value);
        EXPECT_EQ(matched->keys[1].time, in.keys[1].time);
        const auto before = shapeOf(in, 0), after = shapeOf(*matched, 0);
        ASSERT_TRUE(before && after);
        EXPECT_NEAR(before->y1, after->y1, 1e-9);
        EXPECT_NEAR(before->y2, after->y2, 1e-9);
    }
}

TEST(Matching, ZoomIsMatchedInDoublings) {
    const Curve out = twoKeys(Space::Log2, -5, 1, 0, 2.5, departingShape()),
                in = twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape());
    const auto matched = matchedByFirstValue(in, changeOver(out, -1), 0.01, 100);
    ASSERT_TRUE(matched);
    EXPECT_NEAR(changeOver(*matched, 0), changeOver(out, -1), 1e-8);
    EXPECT_NE(matched->keys[0].value, 0.62);
}

TEST(Matching, FirstHandleKeepsAllValuesAndNeverOvershoots) {
    const Curve out = twoKeys(Space::Log2, -5, 1, 0, 2.5, departingShape()),
                in = twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape());
    const auto matched = matchedByFirstHandle(in, changeOver(out, -1));
    ASSERT_TRUE(matched);
    EXPECT_NEAR(changeOver(*matched, 0), changeOver(out, -1), 1e-8);
    EXPECT_EQ(matched->keys[0].value, 0.62);
    EXPECT_EQ(matched->keys[1].value, 1);
    double last = 0;
    for (double t = 0; t <= 12; t += 0.05) {
        EXPECT_GE(evaluate(*matched, t), last - 1e-9) << "monotone";
        last = evaluate(*matched, t);
    }
}

TEST(Matching, HandleWorksForAKeyBeforeTheCut) {
    const Curve in = twoKeys(Space::Linear, -2, 90, 10, 0, arrivingShape());
    const auto matched = matchedByFirstHandle(in, -14);
    ASSERT_TRUE(matched);
    EXPECT_NEAR(changeOver(*matched, 0), -14, 1e-7);
}

TEST(Matching, SaysWhyItCannotBeMet) {
    const Curve in = twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape());
    EXPECT_FALSE(matchedByFirstValue(Curve{}, 1, 0, 10));
    EXPECT_NE(matchedByFirstValue(in, 30, 0.01, 100).error().message.find("would have to be"), std::string::npos);
    EXPECT_NE(matchedByFirstHandle(in, -1).error().message.find("other way"), std::string::npos);
    const Curve late = twoKeys(Space::Log2, 3, 0.62, 12, 1, arrivingShape());
    EXPECT_NE(matchedByFirstValue(late, 1, 0.01, 100).error().message.find("first segment"), std::string::npos);
    const Curve flat = twoKeys(Space::Linear, 0, 1, 12, 0, {Interpolation::Eased, 0.5, 0, 0.9, 1});
    EXPECT_NE(matchedByFirstValue(flat, 1, -100, 100).error().message.find("starts flat"), std::string::npos);
}

} // namespace
} // namespace virga::matching_test
