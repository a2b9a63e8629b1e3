#include "core/decode/frame_times.h"

#include <cmath>
#include <gtest/gtest.h>

namespace virga::frame_times_test {
namespace {

std::vector<std::int64_t> stampsOf(Rational rate, Rational tick, int count,
                                   const std::function<double(double)>& round) {
    std::vector<std::int64_t> stamps;
    for (int n = 0; n < count; ++n) stamps.push_back(std::int64_t(round(n / rate.toDouble() / tick.toDouble())));
    return stamps;
}

const Rational milliseconds(1, 1000);

TEST(FrameTimes, CoarseClocksGiveBackTheExactRate) {
    for (const Rational rate : {Rational(24000, 1001), Rational(24), Rational(25), Rational(30000, 1001), Rational(30),
                                Rational(50), Rational(60000, 1001), Rational(60)})
        for (const auto& round : {+[](double v) { return std::round(v); }, +[](double v) { return std::floor(v); },
                                  +[](double v) { return std::ceil(v); }}) {
            const auto times = frameTimesOf(stampsOf(rate, milliseconds, 300, round), milliseconds, 0, {});
            EXPECT_EQ(toText(times.rate), toText(rate));
            EXPECT_FALSE(times.variable);
            EXPECT_EQ(times.slack, Rational(0));
            for (int n = 0; n < 300; ++n) {
                ASSERT_EQ(times.starts[std::size_t(n)], Rational(n) / rate);
                ASSERT_EQ(times.indexAt(Rational(n) / rate), n);
            }
            EXPECT_EQ(times.end, Rational(300) / rate);
        }
}

TEST(FrameTimes, OfTwoRatesThatBothFitTheFilesOwnIsTaken) {
    const auto stamps = stampsOf(24, milliseconds, 8, [](double v) { return std::round(v); });
    const Rational film(24), video(24000, 1001);
    EXPECT_EQ(frameTimesOf(stamps, milliseconds, 0, std::span(&film, 1)).rate, film);
    EXPECT_EQ(frameTimesOf(stamps, milliseconds, 0, std::span(&video, 1)).rate, video);
}

TEST(FrameTimes, HolesStayHoles) {
    // 30 a second, every tenth picture missing.
    std::vector<std::int64_t> stamps;
    for (int n = 0; n < 100; ++n)
        if (n % 10 != 4) stamps.push_back(std::llround(n * 1000 / 30.0));
    const auto times = frameTimesOf(stamps, milliseconds, 0, {});
    EXPECT_TRUE(times.variable);
    EXPECT_EQ(times.rate, Rational(30));
    EXPECT_EQ(times.starts[4], Rational(5, 30));
    EXPECT_EQ(times.indexAt(Rational(4, 30)), 3) << "the one before stays";
}

TEST(FrameTimes, UnevenStampsStayAsTheyAreToHalfATick) {
    const std::vector<std::int64_t> stamps = {0, 40, 95, 120, 177, 200, 233, 290};
    const auto times = frameTimesOf(stamps, milliseconds, 0, {});
    EXPECT_TRUE(times.variable);
    for (std::size_t i = 0; i < stamps.size(); ++i) EXPECT_EQ(times.starts[i], Rational(stamps[i], 1000));
    EXPECT_EQ(times.indexAt(Rational(949, 10000)), 2) << "within half a tick";
    EXPECT_EQ(times.indexAt(Rational(940, 10000)), 1);
    EXPECT_EQ(times.indexAt(Rational(-1)), 0);
    EXPECT_EQ(times.indexAt(Rational(99)), 7);
}

TEST(FrameTimes, AClockOfWholePicturesIsExact) {
    std::vector<std::int64_t> stamps(50);
    for (int n = 0; n < 50; ++n) stamps[std::size_t(n)] = n + 2;
    const auto times = frameTimesOf(stamps, Rational(1, 60), 1, {});
    EXPECT_EQ(times.rate, Rational(60));
    EXPECT_EQ(times.indexAt(Rational(7, 120)), 3);
    EXPECT_EQ(times.end, Rational(50, 60));
}

TEST(FrameTimes, OnePictureHasATime) {
    const std::vector<std::int64_t> one = {1234};
    const auto times = frameTimesOf(one, milliseconds, 40, {});
    EXPECT_EQ(times.starts.size(), 1u);
    EXPECT_EQ(times.end, Rational(40, 1000));
    EXPECT_FALSE(times.variable);
}

} // namespace
} // namespace virga::frame_times_test
