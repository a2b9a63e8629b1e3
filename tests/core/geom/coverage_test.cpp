#include "core/geom/coverage.h"

#include "core/geom/cover.h"
#include "tests/support/pictures.h"

#include <gtest/gtest.h>

namespace virga::coverage_test {
namespace {

using test::coveringZoom;

constexpr Size hd{1920, 1080};

Matrix aboutMiddle(const Matrix& m, Size size) {
    return then(then(translation(-size.width / 2.0, -size.height / 2.0), m),
                translation(size.width / 2.0, size.height / 2.0));
}

// Plane geometry, as numerics gives it: max((W|cos|+H|sin|)/W, (W|sin|+H|cos|)/H).
TEST(Coverage, KnowsTheZoomThatCoversATurn) {
    EXPECT_NEAR(coveringZoom(5, hd), 1.1511, 5e-5);
    EXPECT_NEAR(coveringZoom(10, hd), 1.2935, 5e-5);
    EXPECT_NEAR(coveringZoom(45, hd), 1.9642, 5e-5);
    EXPECT_NEAR(coveringZoom(90, hd), 1.7778, 5e-5);
    EXPECT_DOUBLE_EQ(coveringZoom(0, hd), 1);
}

TEST(Coverage, SolvesTheSameForAnyMap) {
    for (const double angle : {5.0, 10.0, 45.0, 90.0, 133.0}) {
        const SeenSource seen{ScreenMap(aboutMiddle(rotation(angle), hd)), hd, 7};
        const auto least = leastZoom({&seen, 1}, hd, {960, 540});
        ASSERT_TRUE(least);
        const double k = least->factor;
        EXPECT_EQ(least->frame, 7);
        EXPECT_NEAR(k, coveringZoom(angle, hd), 1e-6);
        EXPECT_EQ(uncoveredShare(ScreenMap(aboutMiddle(then(rotation(angle), scaling(k, k)), hd)), hd, hd), 0);
        EXPECT_GT(
            uncoveredShare(ScreenMap(aboutMiddle(then(rotation(angle), scaling(k * 0.99, k * 0.99)), hd)), hd, hd), 0);
    }
}

TEST(Coverage, MeasuresTheShareThatIsBare) {
    EXPECT_EQ(uncoveredShare(ScreenMap(), hd, hd), 0);
    EXPECT_NEAR(uncoveredShare(ScreenMap(aboutMiddle(scaling(0.5, 0.5), hd)), hd, hd), 0.75, 1e-9);
    EXPECT_NEAR(uncoveredShare(ScreenMap(translation(480, 0)), hd, hd), 0.25, 1e-9);
    EXPECT_NEAR(uncoveredShare(ScreenMap(translation(480, -270)), hd, hd), 1 - 0.75 * 0.75, 1e-9);
    EXPECT_EQ(uncoveredShare(ScreenMap(translation(5000, 0)), hd, hd), 1);
    EXPECT_EQ(uncoveredShare(ScreenMap(scaling(0, 0)), hd, hd), 1);
}

TEST(Coverage, FollowsPerspective) {
    // A plane that recedes to the right: its right edge is shorter than the frame's.
    const ScreenMap map(Matrix(1, 0, 1.0 / 1920, 0, 1, 0, 0, 0, 1));
    // The frame becomes the quadrilateral (0,0) (960,0) (960,540) (0,1080): area 960 * 810.
    EXPECT_NEAR(uncoveredShare(map, hd, hd), 1 - 960.0 * 810 / (1920 * 1080), 1e-9);
}

} // namespace
} // namespace virga::coverage_test
