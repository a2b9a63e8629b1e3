#include "core/base/rational.h"

#include <gtest/gtest.h>

namespace virga::rational_test {
namespace {

TEST(Rational, IsAlwaysInLowestTerms) {
    EXPECT_EQ(Rational(2, 4), Rational(1, 2));
    EXPECT_EQ(Rational(3, -6), Rational(-1, 2));
    EXPECT_EQ(Rational(1, 3) + Rational(1, 6), Rational(1, 2));
    EXPECT_EQ(Rational(1, 2) - Rational(1, 3), Rational(1, 6));
    EXPECT_EQ(Rational(2, 3) * Rational(3, 4), Rational(1, 2));
    EXPECT_EQ(Rational(1, 2) / Rational(1, 4), Rational(2));
}

TEST(Rational, RoundsAndFloorsTowardsTheRightSide) {
    EXPECT_EQ(floorToInteger(Rational(-1, 2)), -1);
    EXPECT_EQ(floorToInteger(Rational(7, 2)), 3);
    EXPECT_EQ(floorToInteger(Rational(-4)), -4);
    EXPECT_EQ(roundToInteger(Rational(1, 2)), 1);
    EXPECT_EQ(roundToInteger(Rational(-1, 2)), 0);
}

TEST(Rational, ComparesExactlyWhereDoublesCannot) {
    const Rational a(1'000'000'000'000'001, 1'000'000'000'000'000), b(1'000'000'000'000'002, 1'000'000'000'000'001);
    EXPECT_GT(a, b);
    EXPECT_LT(Rational(-1, 3), Rational(-1, 4));
}

TEST(Rational, SurvivesOverflow) {
    Rational sum(1, 1'000'003);
    for (int i = 2; i < 40; ++i) sum = sum + Rational(1, 1'000'003 + i * 2);
    EXPECT_NEAR(sum.toDouble(), 39 * 1e-6, 1e-8);
    EXPECT_GT(sum.den, 0);
}

TEST(Rational, ReadsRatesAsPeopleWriteThem) {
    EXPECT_EQ(rationalFromText("25").value(), Rational(25));
    EXPECT_EQ(rationalFromText("30000/1001").value(), Rational(30000, 1001));
    EXPECT_EQ(rationalFromText("29.97").value(), Rational(30000, 1001));
    EXPECT_EQ(rationalFromText("23.976").value(), Rational(24000, 1001));
    EXPECT_EQ(rationalFromText("59.94").value(), Rational(60000, 1001));
    EXPECT_EQ(rationalFromText("12.5").value(), Rational(25, 2));
    for (const char* bad : {"", "abc", "1/0", "25fps", "1/2/3", "inf", "nan", "1e300"})
        EXPECT_FALSE(rationalFromText(bad)) << bad;
    EXPECT_EQ(toText(Rational(30000, 1001)), "30000/1001");
    EXPECT_EQ(toText(Rational(-3)), "-3");
}

TEST(Rate, MapsFramesAndSecondsBothWays) {
    for (const FrameRate rate : {Rational(24000, 1001), Rational(25), Rational(30000, 1001), Rational(60)})
        for (const std::int64_t frame : {0, 1, 17, 1799, 1800, 107892})
            EXPECT_EQ(floorToInteger(secondsOfFrame(frame, rate) * rate), frame);
    EXPECT_TRUE(isUsableRate(25));
    EXPECT_FALSE(isUsableRate(0));
    EXPECT_FALSE(isUsableRate(-25));
    EXPECT_FALSE(isUsableRate(5000));
}

} // namespace
} // namespace virga::rational_test
