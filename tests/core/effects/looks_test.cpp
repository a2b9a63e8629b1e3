// Colour split, glow, vignette, sharpen, light and bars: closed forms, constant fields, and OpenCV where it has the
// same.
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include "core/effects/colour_split.h"
#include "core/effects/finish.h"
#include "core/effects/glow.h"
#include "core/raster/transfer.h"
#include "tests/core/effects/canvases.h"

namespace virga::looks_test {
namespace {

using namespace test;

constexpr Size size{320, 200};

TEST(ColourSplit, WeightsOfEveryChannelSumToOne) {
    for (int count = 3; count <= 16; ++count) {
        double sums[3] = {};
        for (const SplitSample& s : splitSamples(count))
            for (int c = 0; c < 3; ++c) sums[c] += s.weights[std::size_t(c)];
        for (const double sum : sums) EXPECT_NEAR(sum, 1, 1e-6) << count;
    }
}

TEST(ColourSplit, OfThreeIsThreeRemapsOfOpenCV) {
    const ColourSplit split{0.02, true, 0, {0.5, 0.5}, 3};
    Canvas canvas = drawn(size);
    const cv::Mat from = matOf(canvas);
    cv::Mat channels[4], expected[4];
    cv::split(from, channels);
    for (int c = 0; c < 4; ++c) {
        const double scale = 1 + 2 * 0.02 * (c == 0 ? 1 : c == 2 ? -1 : 0);
        cv::Mat x(from.size(), CV_32F), y(from.size(), CV_32F);
        for (int j = 0; j < from.rows; ++j)
            for (int i = 0; i < from.cols; ++i) {
                x.at<float>(j, i) = float((i + 0.5 - 160) / scale + 160 - 0.5);
                y.at<float>(j, i) = float((j + 0.5 - 100) / scale + 100 - 0.5);
            }
        cv::remap(channels[c], expected[c], x, y, cv::INTER_LINEAR, cv::BORDER_REFLECT);
    }
    cv::Mat merged;
    cv::merge(expected, 4, merged);
    colourSplit(canvas, split);
    EXPECT_GT(psnr(matOf(canvas), merged), 48); // remap has 32 steps between pixels
}

TEST(ColourSplit, MovesRedOutAndBlueInByTheAmount) {
    Canvas canvas = filled(size, {0, 0, 0, 1});
    for (int y = 0; y < size.height; ++y) canvas.row(y)[240] = {1, 1, 1, 1}; // half way from the centre to the edge
    colourSplit(canvas, {0.05, true, 0, {0.5, 0.5}, 3});
    const auto peak = [&](float LinearF::*channel) {
        int best = 0;
        for (int x = 0; x < size.width; ++x)
            if (canvas.row(100)[x].*channel > canvas.row(100)[best].*channel) best = x;
        return best;
    };
    EXPECT_NEAR(peak(&LinearF::r), 240 + 8, 1) << "5 % of the width at the edge, half of it here";
    EXPECT_EQ(peak(&LinearF::g), 240);
    EXPECT_NEAR(peak(&LinearF::b), 240 - 8, 1);
}

TEST(Glow, IsItsOwnDefinitionInDoublePrecision) {
    const Glow glowing{0.8, 0.6, 0.2, 0.06};
    Canvas canvas = drawn(size);
    cv::Mat expected, from = matOf(canvas);
    from.convertTo(expected, CV_64FC4);
    cv::Mat bright(from.size(), CV_64FC4);
    for (int y = 0; y < from.rows; ++y)
        for (int x = 0; x < from.cols; ++x) {
            const auto p = from.at<cv::Vec4f>(y, x);
            const double m = std::max({p[0], p[1], p[2]}), d = std::clamp(m - 0.6 + 0.2, 0.0, 0.4);
            const double share = m > 1e-6 ? std::max({d * d / 0.8, m - 0.6, 0.0}) / m : 0;
            bright.at<cv::Vec4d>(y, x) = {p[0] * share, p[1] * share, p[2] * share, 0};
        }
    for (int octave = 0; octave < 5; ++octave) {
        const double sigma = 0.06 * 200 / (1 << octave);
        cv::Mat blurred;
        cv::GaussianBlur(bright, blurred, {101, 101}, sigma, sigma, cv::BORDER_REFLECT);
        expected += blurred * (0.8 / 5);
    }
    cv::Mat floats;
    expected.convertTo(floats, CV_32FC4);
    glow(canvas, glowing);
    EXPECT_GT(psnr(matOf(canvas), floats), 50);
}

TEST(Glow, LeavesWhatIsDarkAlone) {
    Canvas canvas = filled(size, {0.3f, 0.2f, 0.1f, 1});
    glow(canvas, {1, 0.6, 0.2, 0.08});
    EXPECT_NEAR(canvas.row(50)[50].r, 0.3f, 1e-6);
    EXPECT_EQ(glowingShare(0.39f, 0.6f, 0.2f), 0);
    EXPECT_NEAR(glowingShare(2, 0.6f, 0.2f), 0.7, 1e-6);
}

TEST(Vignette, FollowsItsSmoothStep) {
    const Vignette v{0.8, 0.9, 1, 0.5, {0.5, 0.5}, {0, 0, 0}};
    Canvas canvas = filled(size, {0.5f, 0.5f, 0.5f, 1});
    ASSERT_TRUE(finish(v, canvas));
    for (const auto& [x, y] : {std::pair(160, 100), std::pair(300, 100), std::pair(319, 199), std::pair(160, 10)}) {
        const double r = std::hypot((x + 0.5 - 160) / 160, (y + 0.5 - 100) / 100);
        const double t = std::clamp((r - 0.65) / 0.5, 0.0, 1.0), f = t * t * (3 - 2 * t);
        EXPECT_NEAR(canvas.row(y)[x].g, 0.5 * (1 - 0.8 * f), 1e-4) << x << ' ' << y;
    }
    // Towards a colour, and lighter.
    Canvas red = filled(size, {0.5f, 0.5f, 0.5f, 1}), light = filled(size, {0.5f, 0.5f, 0.5f, 1});
    finish(Vignette{1, 0.5, 1, 0.2, {0.5, 0.5}, {1, 0, 0}}, red);
    EXPECT_NEAR(red.row(0)[0].r, 1, 1e-4);
    EXPECT_NEAR(red.row(0)[0].g, 0, 1e-4);
    EXPECT_EQ(red.row(0)[0].a, 1);
    finish(Vignette{-1, 0.5, 1, 0.2, {0.5, 0.5}, {0, 0, 0}}, light);
    EXPECT_NEAR(light.row(0)[0].g, 1, 1e-4);
}

// The same formula by OpenCV on one channel: on greys every channel is the luminance.
TEST(Sharpen, IsAnUnsharpMaskOnCodeValues) {
    Canvas canvas(size, {});
    cv::Mat code(size.height, size.width, CV_32F);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const float c = 0.25f + 0.5f * float((x / 20 + y / 20) % 2);
            code.at<float>(y, x) = c;
            const auto l = float(linearFromCode(c));
            canvas.row(y)[x] = {l, l, l, 1};
        }
    const double sigma = 1.5;
    cv::Mat soft, expected;
    cv::GaussianBlur(code, soft, {15, 15}, sigma, sigma, cv::BORDER_REFLECT);
    expected = code + 0.8 * (code - soft);
    ASSERT_TRUE(finish(Sharpen{0.8, sigma / size.height, 0}, canvas));
    for (int y = 5; y < size.height - 5; ++y)
        for (int x = 5; x < size.width - 5; ++x)
            ASSERT_NEAR(codeFromLinear(canvas.row(y)[x].g), std::max(0.0f, expected.at<float>(y, x)), 2e-3)
                << x << ' ' << y;
}

TEST(Sharpen, KeepsHueAndRespectsItsThreshold) {
    Canvas canvas(size, {});
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            canvas.row(y)[x] = x < 160 ? LinearF{0.6f, 0.3f, 0.1f, 1} : LinearF{0.06f, 0.03f, 0.01f, 1};
    Canvas gentle = copyOf(canvas);
    finish(Sharpen{2, 0.01, 0}, canvas);
    for (int x = 150; x < 160; ++x)
        EXPECT_NEAR(canvas.row(100)[x].r / canvas.row(100)[x].b, 6, 1e-3) << "no coloured rim";
    EXPECT_GT(canvas.row(100)[158].r, 0.61f);
    finish(Sharpen{2, 0.01, 1}, gentle);
    EXPECT_EQ(gentle.row(100)[158].r, 0.6f) << "no difference is larger than that threshold";
}

TEST(Light, DoublesByTheStop) {
    Canvas canvas = filled({8, 8}, {0.1f, 0.2f, 0.3f, 0.5f});
    finish(Light{2}, canvas);
    EXPECT_NEAR(canvas.row(3)[3].g, 0.8, 1e-6);
    EXPECT_EQ(canvas.row(3)[3].a, 0.5f);
}

TEST(Bars, LeaveTheirRatioFree) {
    Canvas canvas = filled({320, 180}, {1, 1, 1, 1});
    finish(Bars{320.0 / 90, 1}, canvas);
    EXPECT_EQ(canvas.row(44)[10].g, 0) << "45 rows above";
    EXPECT_EQ(canvas.row(45)[10].g, 1);
    EXPECT_EQ(canvas.row(44)[10].a, 1);
    Canvas half = filled({320, 180}, {1, 1, 1, 1});
    finish(Bars{320.0 / 90, 0.5}, half);
    EXPECT_NEAR(half.row(22)[10].g, 0.5, 1e-5) << "half way in: 22.5 rows";
}

} // namespace
} // namespace virga::looks_test
