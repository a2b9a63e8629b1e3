// The lens against OpenCV's fisheye model with zero distortion coefficients, which is the equidistant projection.
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <opencv2/calib3d.hpp>

#include "core/geom/cover.h"
#include "core/geom/coverage.h"
#include "core/geom/screen_map.h"

namespace virga::lens_test {
namespace {

constexpr Size hd{1280, 720};
const Point middle(640, 360);

Lens lensOf(double amount) {
    return {middle, middle.length(), amount};
}

// In OpenCV's words: rectilinear (undistorted) points have r = tan(theta), fisheye ones r = theta.
TEST(Lens, IsTheEquidistantModelOfOpenCv) {
    const cv::Mat identity = cv::Mat::eye(3, 3, CV_64F), none = cv::Mat::zeros(1, 4, CV_64F);
    for (const double amount : {0.1, 0.35, 0.7, 1.0}) {
        const double phi = amount * 80 * std::numbers::pi / 180, unit = middle.length();
        for (double x = -620; x <= 620; x += 155)
            for (double y = -350; y <= 350; y += 100) {
                // A pinch shows at r what was at atan(r tan phi) / phi: rectilinear to fisheye.
                const std::vector<cv::Point2d> rectilinear = {{x / unit * std::tan(phi), y / unit * std::tan(phi)}};
                std::vector<cv::Point2d> fisheye, back;
                cv::fisheye::distortPoints(rectilinear, fisheye, identity, none);
                const Point pinched = beneath(lensOf(-amount), middle + Point(x, y));
                EXPECT_NEAR(pinched.x, 640 + fisheye[0].x / phi * unit, 1e-6) << amount << ' ' << x << ' ' << y;
                EXPECT_NEAR(pinched.y, 360 + fisheye[0].y / phi * unit, 1e-6);
                // A bulge, the other way round.
                const std::vector<cv::Point2d> equidistant = {{x / unit * phi, y / unit * phi}};
                cv::fisheye::undistortPoints(equidistant, back, identity, none);
                const Point bulged = beneath(lensOf(amount), middle + Point(x, y));
                EXPECT_NEAR(bulged.x, 640 + back[0].x / std::tan(phi) * unit, 1e-4) << amount << ' ' << x << ' ' << y;
                EXPECT_NEAR(bulged.y, 360 + back[0].y / std::tan(phi) * unit, 1e-4);
            }
    }
}

TEST(Lens, KeepsTheCornerAndUndoesItsOpposite) {
    for (const double amount : {-1.0, -0.4, 1e-12, 0.4, 1.0}) {
        const Point corner = beneath(lensOf(amount), {1280, 0});
        EXPECT_NEAR(corner.x, 1280, 1e-6) << amount;
        EXPECT_NEAR(corner.y, 0, 1e-6) << amount;
        const Point p(333, 600), there = beneath(lensOf(-amount), beneath(lensOf(amount), p));
        EXPECT_NEAR(there.x, p.x, 1e-7) << amount;
        EXPECT_NEAR(there.y, p.y, 1e-7) << amount;
        EXPECT_EQ(beneath(lensOf(amount), middle), middle);
    }
    EXPECT_TRUE(std::isnan(beneath(lensOf(1), {640 + 1.2 * middle.length(), 360}).x)) << "90 degrees off the axis";
}

TEST(Lens, StacksWithMatricesAndOtherLenses) {
    const Matrix turn = then(then(translation(-640, -360), rotation(30)), translation(640, 360)),
                 tilt(1, 0, 0.0002, 0, 1, 0.0001, 0, 0, 1);
    const ScreenMap map =
        ScreenMap(tilt).seenThrough(lensOf(0.5)).movedBy(turn).seenThrough(lensOf(-0.3)).movedBy(scaling(1.1, 0.9));
    EXPECT_TRUE(map.isVisible());
    EXPECT_FALSE(map.isAffine());
    for (const Point& p : probePointsOf({800, 500})) {
        const Point back = map.toSource(map.toScreen(p));
        EXPECT_NEAR(back.x, p.x, 1e-6);
        EXPECT_NEAR(back.y, p.y, 1e-6);
    }
    EXPECT_FALSE(ScreenMap().seenThrough(lensOf(0.5)).movedBy(scaling(0, 1)).isVisible());
}

TEST(Lens, BehindTheEyeNothingIsSeen) {
    Matrix m;
    m[0][2] = 0.002; // the plane's horizon crosses the frame
    const ScreenMap map(m);
    EXPECT_TRUE(std::isfinite(map.toSource({400, 100}).x));
    EXPECT_TRUE(std::isnan(map.toSource({600, 100}).x)) << "the horizon is at 500";
    EXPECT_TRUE(std::isnan(map.toScreen({-600, 100}).x));
}

// A pinch draws the picture's sides in: by its own formula the middle of a side then lies at 1/r of where it was.
TEST(Lens, CoverageFollowsTheCurvedBorder) {
    EXPECT_EQ(uncoveredShare(ScreenMap(), hd, hd), 0);
    EXPECT_EQ(uncoveredShare(ScreenMap().seenThrough(lensOf(0.5)), hd, hd), 0) << "a bulge only looks inside";
    const ScreenMap pinch = ScreenMap().seenThrough(lensOf(-0.5));
    int outside = 0;
    for (int y = 0; y < 720; ++y)
        for (int x = 0; x < 1280; ++x) {
            const Point p = pinch.toSource({x + 0.5, y + 0.5});
            outside += p.x < 0 || p.y < 0 || p.x > 1280 || p.y > 720;
        }
    const double counted = outside / (1280.0 * 720);
    EXPECT_GT(counted, 0.05);
    EXPECT_NEAR(uncoveredShare(pinch, hd, hd), counted, 0.002);
    const SeenSource seen{pinch, hd, 0};
    const auto least = leastZoom({&seen, 1}, hd, middle);
    ASSERT_TRUE(least);
    const double k = least->factor;
    EXPECT_GT(k, 1.05);
    const Matrix larger = then(then(translation(-640, -360), scaling(k, k)), translation(640, 360));
    EXPECT_LT(uncoveredShare(pinch.movedBy(larger), hd, hd), 1e-3);
}

} // namespace
} // namespace virga::lens_test
