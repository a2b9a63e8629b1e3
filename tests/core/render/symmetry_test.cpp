// That copies stand out by their mirror axis, from outside: symmetric pairs of features are found in rendered frames as
// Loy and Eklundh do ("Detecting Symmetry and Symmetric Clusters of Features", ECCV 2006, sections 3 and 4), with
// OpenCV's SIFT, and held against what the check counts (core/plan/copies_seen.h).
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <opencv2/features2d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/plan/copies_seen.h"
#include "core/project/project_file.h"
#include "core/render/render_frame.h"
#include "tests/support/projects.h"

namespace virga::symmetry_test {
namespace {

using namespace test;

constexpr Size size{640, 360};

cv::Mat greyOf(const Image<Rgba8>& picture) {
    cv::Mat grey(picture.height(), picture.width(), CV_8U);
    for (int y = 0; y < grey.rows; ++y)
        for (int x = 0; x < grey.cols; ++x) {
            const Rgba8 p = picture.at(x, y);
            grey.at<std::uint8_t>(y, x) = std::uint8_t((54 * p.r + 183 * p.g + 19 * p.b) >> 8);
        }
    return grey;
}

struct Axis {
    double x = 0;        // where an upright one stands
    double strength = 0; // the sum of its pairs' magnitudes
};

// The strongest upright axis: each feature is paired with the one most like its mirror image; a pair votes for the
// upright line between its halves by how well their orientations (phase) and scales agree.
Axis uprightAxisOf(const cv::Mat& grey) {
    const auto sift = cv::SIFT::create(800);
    std::vector<cv::KeyPoint> points, mirrored;
    cv::Mat descriptors, mirroredDescriptors, flipped;
    sift->detectAndCompute(grey, {}, points, descriptors);
    cv::flip(grey, flipped, 1);
    sift->detectAndCompute(flipped, {}, mirrored, mirroredDescriptors);
    if (points.size() < 2 || mirrored.size() < 2) return {};
    std::vector<cv::DMatch> matches;
    cv::BFMatcher(cv::NORM_L2).match(descriptors, mirroredDescriptors, matches);
    std::vector<double> votes(std::size_t(grey.cols), 0);
    for (const cv::DMatch& m : matches) {
        const cv::KeyPoint &a = points[std::size_t(m.queryIdx)], &b = mirrored[std::size_t(m.trainIdx)];
        const cv::Point2f other(float(grey.cols) - 1 - b.pt.x, b.pt.y), way = other - a.pt;
        if (std::hypot(way.x, way.y) < 4) continue; // a feature that is its own mirror image
        // Upright: the pair lies on a level line, within three degrees.
        if (std::abs(std::atan2(std::abs(way.y), std::abs(way.x))) > 3 * std::numbers::pi / 180) continue;
        constexpr double radians = std::numbers::pi / 180;
        const double turnA = a.angle * radians, turnB = std::numbers::pi - b.angle * radians,
                     line = std::atan2(way.y, way.x);
        const double phase = (1 - std::cos(turnA + turnB - 2 * line)) / 2,
                     scale = std::exp(-std::pow(std::abs(a.size - b.size) / (a.size + b.size), 2));
        const double middle = (a.pt.x + other.x) / 2;
        if (middle >= 0 && middle < grey.cols) votes[std::size_t(middle)] += phase * scale;
    }
    Axis best;
    constexpr int reach = 3;
    for (int x = reach; x + reach < grey.cols; ++x) {
        double sum = 0;
        for (int k = -reach; k <= reach; ++k) sum += votes[std::size_t(x + k)];
        if (sum > best.strength) best = {double(x), sum};
    }
    return best;
}

TEST(Symmetry, TheAxisOfCopiesIsFoundWhereTheyAreCounted) {
    const auto demo = loadProject(std::filesystem::path(VIRGA_SOURCE_DIR) / "demo/lantern-regatta.virga");
    ASSERT_TRUE(demo);
    SourcePool pool;
    for (const std::size_t clip : {1u, 2u, 5u}) { // the lighthouse is nearly its own mirror image
        Project p = *demo;
        p.adjustments.clear(), p.overlays.clear();
        p.reel = {p.reel[clip]};
        Clip& c = p.reel[0];
        c.transition = {}, c.drift.clear();
        c.edges = EdgeFill::Mirror;
        SCOPED_TRACE(c.name);
        const auto at = [&](double position) {
            c.placement.position.x = position;
            const auto picture = renderFrame(p, 4, size, exactQuality, pool);
            EXPECT_TRUE(picture);
            return uprightAxisOf(greyOf(*picture));
        };
        const auto counted = [&] {
            return shareSeenTwice(planFrame(p, 4).layers.at(0), p.settings.flow.copyBlur, p.settings.size);
        };
        const double plain = at(0).strength;
        EXPECT_NEAR(counted(), 0, 0.01);
        const Axis half = at(0.25);
        EXPECT_NEAR(counted(), 0.5, 0.03);
        EXPECT_NEAR(half.x, 0.25 * size.width, 4) << "on the source's own edge";
        EXPECT_GT(half.strength, 3 * plain);
        const Axis alone = at(1);
        EXPECT_NEAR(counted(), 0, 0.04);
        EXPECT_LT(alone.strength, half.strength / 3) << "a copy alone has no axis";
    }
}

} // namespace
} // namespace virga::symmetry_test
