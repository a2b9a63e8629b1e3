// The newer moves against arithmetic and libraries of others.
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/motion/shake.h"
#include "core/motion/stack_map.h"
#include "tests/support/projects.h"
#include "tests/support/told.h"

namespace virga::moves_test {
namespace {

TEST(Moves, AChannelThatIsNotThereIsLinear) {
    for (const MoveInfo& info : allMoves()) {
        const Move move = makeMove(info.kind, "move-1");
        EXPECT_EQ(spaceOf(move, -1), Space::Linear);
        EXPECT_EQ(spaceOf(move, int(move.channels.size())), Space::Linear) << info.label;
    }
}

using namespace test;

constexpr Size hd{1280, 720};

Move heldAt(MoveKind kind, std::vector<double> values) {
    Move m = makeMove(kind, "m");
    for (std::size_t c = 0; c < values.size(); ++c) m.channels[c].incoming.keys = {Key{0, values[c]}};
    return m;
}

// The pinhole camera: a picture that fills the view at distance 1 is 1 / (1 - d) large when the camera has gone d of
// it.
TEST(Push, IsAPinholeCamera) {
    for (const double d : {-3.0, -0.5, 0.25, 0.5, 0.9}) {
        const ScreenMap map = movementOf({heldAt(MoveKind::Push, {d})}, Side::Incoming, 0, hd);
        EXPECT_NEAR(map.toScreen({640 + 64, 360}).x, 640 + 64 / (1 - d), 1e-9) << d;
    }
    for (const double past : {1.0, 1.5})
        EXPECT_FALSE(movementOf({heldAt(MoveKind::Push, {past})}, Side::Incoming, 0, hd).isVisible()) << "past the eye";
}

// Evenly driven, it rushes at the end; by "even size" it grows by one factor a frame.
TEST(Push, HasTwoWaysOfBeingEven) {
    Move push = makeMove(MoveKind::Push, "p");
    EXPECT_EQ(spaceOf(push, 0), Space::Linear) << "a camera at even speed";
    for (const bool even : {false, true}) {
        push.even = even;
        push.channels[0].incoming = {spaceOf(push, 0), {{0, 0, Interpolation::Linear, {}, {}}, {8, 0.875}}};
        const double half = evaluate(push.channels[0].incoming, 4);
        EXPECT_NEAR(half, even ? 1 - 1 / std::sqrt(8.0) : 0.4375, 1e-12);
    }
}

// A plane turned by rotation matrices and seen through OpenCV's pinhole camera: the map is the homography that
// getPerspectiveTransform finds from the four corners, and maps other points as projectPoints does.
TEST(Tilt, IsTheHomographyOfATurnedPlane) {
    struct Case {
        double tilt, swivel, view;
        Point anchor;
    };
    for (const Case& c : {Case{35, 0, 40, {0.5, 0.5}}, Case{0, -50, 40, {0.5, 0.5}}, Case{-20, 40, 60, {0.5, 0.5}},
                          Case{25, 15, 30, {0.2, 0.9}}}) {
        Move tilt = heldAt(MoveKind::Tilt, {c.tilt, c.swivel});
        tilt.parameters[0] = c.view;
        tilt.anchor = c.anchor;
        const ScreenMap map = movementOf({tilt}, Side::Incoming, 0, hd);
        const double f = 360 / std::tan(c.view / 2 * CV_PI / 180);
        // OpenCV's camera: x right, y down, z away. The top leans back under a positive tilt, the right side turns away
        // under a positive swivel.
        cv::Mat about, up;
        cv::Rodrigues(cv::Vec3d(-c.tilt * CV_PI / 180, 0, 0), about);
        cv::Rodrigues(cv::Vec3d(0, -c.swivel * CV_PI / 180, 0), up);
        const cv::Mat turn = up * about;
        const cv::Vec3d anchor(c.anchor.x * 1280 - 640, c.anchor.y * 720 - 360, 0);
        const auto seen = [&](double x, double y) {
            const cv::Mat p = turn * cv::Mat(cv::Vec3d(x - 640, y - 360, 0) - anchor);
            const double px = p.at<double>(0) + anchor[0], py = p.at<double>(1) + anchor[1], pz = p.at<double>(2) + f;
            return cv::Point2f(float(640 + f * px / pz), float(360 + f * py / pz));
        };
        const cv::Point2f from[4] = {{0, 0}, {1280, 0}, {1280, 720}, {0, 720}};
        cv::Point2f to[4];
        for (int i = 0; i < 4; ++i) to[i] = seen(from[i].x, from[i].y);
        const cv::Mat h = cv::getPerspectiveTransform(from, to);
        std::vector<cv::Point2f> points{{100, 200}, {640, 360}, {1111, 55}, {800, 700}}, mapped;
        cv::perspectiveTransform(points, mapped, h);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const Point ours = map.toScreen({points[i].x, points[i].y});
            EXPECT_NEAR(ours.x, mapped[i].x, 0.02) << c.tilt << ' ' << c.swivel;
            EXPECT_NEAR(ours.y, mapped[i].y, 0.02) << c.tilt << ' ' << c.swivel;
        }
    }
}

TEST(Tilt, ShowsNothingBehindTheEye) {
    const ScreenMap map = movementOf({heldAt(MoveKind::Tilt, {80, 0})}, Side::Incoming, 0, hd);
    EXPECT_FALSE(std::isfinite(map.toScreen({640, 5000}).x)) << "the near side of the plane passes the eye";
}

TEST(Warp, StandsAnywhereInAStack) {
    const Move warp = heldAt(MoveKind::Warp, {0.6}), zoom = heldAt(MoveKind::Zoom, {2});
    const ScreenMap inner = movementOf({warp, zoom}, Side::Incoming, 0, hd),
                    outer = movementOf({zoom, warp}, Side::Incoming, 0, hd);
    EXPECT_TRUE(inner.hasLens());
    const Point p(800, 400);
    const Lens lens{{640, 360}, std::hypot(640, 360), 0.6};
    Lens back = lens;
    back.amount = -0.6;
    const Point bulged = beneath(back, p);
    EXPECT_NEAR(inner.toScreen(p).x, 640 + 2 * (bulged.x - 640), 1e-9);
    EXPECT_NEAR(outer.toScreen(p).x, beneath(back, {640 + 2 * 160, 360 + 2 * 40}).x, 1e-9);
    EXPECT_NEAR(outer.toSource(outer.toScreen(p)).y, p.y, 1e-9);
}

// Perlin, "Improving noise" (2002): nothing at lattice points, slopes there from -1 to 1, and a second derivative that
// is continuous, which the older cubic fade has not.
TEST(Shake, ItsNoiseHasThePublishedProperties) {
    double most = 0;
    for (int i = -50; i < 50; ++i) {
        EXPECT_EQ(gradientNoise(i, 7), 0);
        const double h = 1e-4;
        const auto second = [&](double x) {
            return (gradientNoise(x + h, 7) - 2 * gradientNoise(x, 7) + gradientNoise(x - h, 7)) / (h * h);
        };
        EXPECT_NEAR(second(i - 2 * h), second(i + 2 * h), 0.05) << i;
        for (double f = 0; f < 1; f += 0.05) most = std::max(most, std::abs(gradientNoise(i + f, 7)));
    }
    EXPECT_LE(most, 0.5);
    EXPECT_GT(most, 0.25);
    EXPECT_NE(gradientNoise(0.3, 1), gradientNoise(0.3, 2)) << "every stream its own";
}

TEST(Shake, PatternsStayWithinOneAndAreContinuous) {
    for (const ShakePattern pattern : {ShakePattern::Sway, ShakePattern::Wander, ShakePattern::Jolt}) {
        double most = 0, step = 0;
        for (double x = -20; x < 20; x += 1e-3) {
            const double v = shakeAt(pattern, x, 1, 5);
            most = std::max(most, std::abs(v));
            step = std::max(step, std::abs(v - shakeAt(pattern, x + 1e-3, 1, 5)));
        }
        EXPECT_LE(most, 1) << int(pattern);
        EXPECT_GT(most, 0.5) << int(pattern);
        EXPECT_LT(step, 0.01) << int(pattern);
    }
    // From side to side every half cycle.
    EXPECT_NEAR(shakeAt(ShakePattern::Jolt, 0.1, 0, 0), -shakeAt(ShakePattern::Jolt, 0.6, 0, 0), 1e-9);
}

// A piece that is opened again, by a later version too, shakes as it did.
TEST(Shake, IsTheSameForEver) {
    std::string text;
    for (const ShakePattern pattern : {ShakePattern::Sway, ShakePattern::Wander, ShakePattern::Jolt})
        for (const std::uint32_t seed : {1U, 7U}) {
            text += fmt::format("== pattern {}, seed {}\n", int(pattern), seed);
            for (const std::uint32_t axis : {0U, 1U, 2U, 3U})
                for (const double cycles : {-1.3, 0.0, 0.45, 6.8})
                    text += fmt::format("axis {} at {}: {:.6f}\n", axis, cycles, shakeAt(pattern, cycles, axis, seed));
        }
    expectAsRead("core/motion/shake.txt", text);
}

TEST(Shake, GoesBySecondsNotFrames) {
    Move shake = heldAt(MoveKind::Shake, {1});
    const ScreenMap slow = stackMap(ScreenMap(), {shake}, Side::Incoming, {25, 25, 25}, hd),
                    fast = stackMap(ScreenMap(), {shake}, Side::Incoming, {50, 50, 50}, hd);
    EXPECT_EQ(slow, fast) << "a second in";
    EXPECT_NE(slow, ScreenMap());
}

// A key on a frame gives it its whole exposure: the curve runs on by its tangent, and holds where the move says so.
TEST(RunOn, AFrameOnAKeyIsExposedWhole) {
    const Curve curve{Space::Linear, {{0, 1, Interpolation::Linear, {}, {}}, {10, 2}}};
    EXPECT_NEAR(evaluateExposed(curve, 0, -0.5, Ends::RunOn), 0.95, 1e-12);
    EXPECT_NEAR(evaluateExposed(curve, 10, 10.5, Ends::RunOn), 2.05, 1e-12);
    EXPECT_EQ(evaluateExposed(curve, 0, -0.5, Ends::Hold), 1);
    EXPECT_EQ(evaluateExposed(curve, 11, 10.5, Ends::RunOn), 2) << "a frame beyond the keys holds";
    EXPECT_NEAR(changeOver(curve, 0), 0.1, 1e-12);
    EXPECT_NEAR(changeOver(curve, 0, Ends::Hold), 0.05, 1e-12);
}

TEST(RunOn, ASteepHandleThrowsNothingFar) {
    const Curve steep{Space::Linear,
                      {{0, 0, Interpolation::Eased, {0.0, 0.9}, {}}, {10, 1, Interpolation::Eased, {}, {0.3, 0}}}};
    const double within = evaluate(steep, 0.5);
    EXPECT_GE(evaluateExposed(steep, 0, -0.5, Ends::RunOn), -2 * within);
    EXPECT_LT(evaluateExposed(steep, 0, -0.5, Ends::RunOn), 0);
}

} // namespace
} // namespace virga::moves_test
