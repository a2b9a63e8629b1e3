#include "core/motion/shutter.h"

#include <gtest/gtest.h>

namespace virga::shutter_test {
namespace {

// Exposure = angle / (360 * rate): common practice in cinematography, for example 180 degrees at 24 is 1/48 s.
TEST(Shutter, ExposureFollowsAngleAndRate) {
    EXPECT_NEAR(exposureSeconds({180, {}, 0}, 24), 1.0 / 48, 1e-12);
    EXPECT_NEAR(exposureSeconds({172.8, {}, 0}, 24), 1.0 / 50, 1e-12);
    EXPECT_NEAR(exposureSeconds({360, {}, 0}, 30), 1.0 / 30, 1e-12);
}

TEST(Shutter, IsCentredOnTheFramesOwnTimeUnlessSet) {
    EXPECT_EQ(openInterval({180, {}, 0}, 7), (OpenInterval{6.75, 7.25}));
    EXPECT_EQ(openInterval({360, {}, 0}, 0), (OpenInterval{-0.5, 0.5}));
    EXPECT_EQ(openInterval({180, 0.0, 0}, 7), (OpenInterval{7, 7.5}));
    EXPECT_EQ(openInterval({0, {}, 0}, 3), (OpenInterval{3, 3}));
    EXPECT_EQ(openInterval({9999, {}, 0}, 0), (OpenInterval{-1, 1})) << "720 degrees is the most";
}

} // namespace
} // namespace virga::shutter_test
