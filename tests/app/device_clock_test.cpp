#include "app/playback/device_clock.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <utility>

namespace virga::test::device_clock_test {
namespace {

constexpr double step = 0.01; // how often the window asks

// What a sound server tells that takes `chunk` seconds at a time ahead of what it lets be heard.
double ahead(double heard, double chunk) {
    return std::ceil(heard / chunk) * chunk;
}

struct Read {
    double told, heard; // by the device; in truth
};

// How far the clock lies from what is heard, at its worst from second `from` on to second `to`.
double worst(double from, double to, const std::function<Read(double)>& device) {
    DeviceClock clock;
    double worst = 0, before = 0;
    for (double now = step; now < to; now += step) {
        const Read read = device(now);
        const double shown = clock.seconds(read.told, now);
        EXPECT_GE(shown, before) << "never back";
        before = shown;
        if (now >= from) worst = std::max(worst, std::abs(shown - read.heard));
    }
    return worst;
}

TEST(DeviceClock, GoesByWhatIsHeardOfADeviceThatTellsInSteps) {
    // What is told lies up to a step ahead: its lower edge, one reading long, is what is heard.
    EXPECT_LE(worst(2, 10, [](double now) { return Read{ahead(now, 0.02), now}; }), 0.015);
    EXPECT_LE(worst(4, 10, [](double now) { return Read{ahead(now, 0.25), now}; }), 0.015);
}

TEST(DeviceClock, ComesBackAfterADeviceThatBeginsSlowly) {
    // A server takes 0.2 s at once and begins one and a half seconds later.
    const auto slow = [](double now) {
        const double heard = std::max(0.0, now - 1.5);
        return Read{std::max(0.2, ahead(heard, 0.25)), heard};
    };
    EXPECT_LE(worst(1.7, 3, slow), 0.25) << "as long as it cannot be known, what was taken at once";
    EXPECT_LE(worst(6, 12, slow), 0.015);
}

TEST(DeviceClock, StandsStillWhereTheDeviceDoes) {
    // Nothing was there to play from second 4 to 4.5.
    const auto broken = [](double now) {
        const double heard = now < 4 ? now : std::max(4.0, now - 0.5);
        return Read{ahead(heard, 0.02), heard};
    };
    EXPECT_LE(worst(2, 12, broken), DeviceClock::standsStill + 0.025) << "a frame at 25 a second, and a reading";
    EXPECT_LE(worst(6, 12, broken), 0.015);
}

TEST(DeviceClock, FollowsADeviceOfAnotherRate) {
    // 0.1 percent, ten times what crystals differ by.
    for (const double rate : {0.999, 1.001})
        EXPECT_LE(worst(4, 120,
                        [rate](double now) {
                            return Read{ahead(now * rate, 0.1), now * rate};
                        }),
                  0.016)
            << rate;
}

TEST(DeviceClock, PassesEvenly) {
    DeviceClock clock;
    double before = 0;
    for (double now = step; now < 20; now += step) {
        const double shown = clock.seconds(std::max(0.2, ahead(now, 0.25)), now),
                     passed = shown - std::exchange(before, shown);
        ASSERT_LE(passed, step * (1 + DeviceClock::slew) + 1e-9)
            << now << ": no frame is left out, the first ones neither";
        if (now > 4) ASSERT_GE(passed, step * (1 - DeviceClock::slew) - 1e-9) << now << ": and none is shown twice";
    }
}

} // namespace
} // namespace virga::test::device_clock_test
