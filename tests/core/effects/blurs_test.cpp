// Blurs against OpenCV's own filters, in float.
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include "core/effects/defocus.h"
#include "core/effects/finish.h"
#include "core/effects/gaussian.h"
#include "core/effects/line_blur.h"
#include "tests/core/effects/canvases.h"

namespace virga::blurs_test {
namespace {

using namespace test;

constexpr Size size{320, 200};

TEST(GaussianBlur, IsOpenCVsWithinFiftyDecibels) {
    for (const double sigma : {0.3, 0.7, 1.5, 3.0, 4.6, 6.0, 10.0, 17.0, 30.0}) {
        Canvas canvas = drawn(size);
        cv::Mat expected;
        const int reach = int(std::ceil(4.5 * sigma)) | 1;
        // Mirrored at the border as ours is, however wide.
        cv::Mat wide;
        cv::copyMakeBorder(matOf(canvas), wide, reach, reach, reach, reach, cv::BORDER_REFLECT);
        cv::GaussianBlur(wide, expected, {2 * reach + 1, 2 * reach + 1}, sigma, sigma, cv::BORDER_REFLECT);
        expected = expected(cv::Rect(reach, reach, canvas.width(), canvas.height())).clone();
        gaussianBlur(canvas, sigma, sigma);
        EXPECT_GT(psnr(matOf(canvas), expected), 50) << sigma;
    }
}

// OpenCV takes long for wide ones: the sampled kernel itself, in double precision, along the rows.
TEST(GaussianBlur, IsTheKernelHoweverWide) {
    for (const double sigma : {60.0, 123.0, 200.0}) {
        Canvas canvas = drawn({200, 8});
        const cv::Mat from = matOf(canvas);
        cv::Mat expected(from.size(), from.type());
        std::vector<double> weights;
        double sum = 0;
        const int reach = int(5 * sigma);
        for (int k = -reach; k <= reach; ++k)
            weights.push_back(std::exp(-k * k / (2 * sigma * sigma))), sum += weights.back();
        for (int y = 0; y < from.rows; ++y)
            for (int x = 0; x < from.cols; ++x) {
                cv::Vec4d mean(0, 0, 0, 0);
                for (int k = -reach; k <= reach; ++k)
                    mean +=
                        cv::Vec4d(from.at<cv::Vec4f>(y, mirrored(x + k, from.cols))) * weights[std::size_t(k + reach)];
                expected.at<cv::Vec4f>(y, x) = mean * (1 / sum);
            }
        gaussianBlur(canvas, sigma, 0);
        EXPECT_GT(psnr(matOf(canvas), expected), 50) << sigma;
    }
}

TEST(GaussianBlur, AxesAreTheirOwn) {
    Canvas canvas = drawn(size);
    cv::Mat expected;
    cv::GaussianBlur(matOf(canvas), expected, {51, 1}, 6, 0.01, cv::BORDER_REFLECT);
    gaussianBlur(canvas, 6, 0);
    EXPECT_GT(psnr(matOf(canvas), expected), 50);
}

TEST(GaussianBlur, KeepsAConstantField) {
    for (const double sigma : {2.0, 30.0}) {
        Canvas canvas = filled({64, 48}, {0.25f, 0.5f, 0.75f, 1});
        gaussianBlur(canvas, sigma, sigma);
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 64; ++x) EXPECT_NEAR(canvas.row(y)[x].g, 0.5, 1e-5);
    }
}

// An anti-aliased line as a kernel: the share of each pixel's square that a line of no width, made one pixel wide by
// the bilinear tent, gives it.
cv::Mat lineKernel(double length, double angle) {
    const int reach = int(std::ceil(length / 2)) + 2;
    cv::Mat kernel = cv::Mat::zeros(2 * reach + 1, 2 * reach + 1, CV_32F);
    const int steps = 20000;
    for (int i = 0; i < steps; ++i) {
        const double t = ((i + 0.5) / steps - 0.5) * length;
        const double x = reach + t * std::cos(angle * CV_PI / 180), y = reach + t * std::sin(angle * CV_PI / 180);
        const int ix = int(std::floor(x)), iy = int(std::floor(y));
        const double fx = x - ix, fy = y - iy;
        kernel.at<float>(iy, ix) += float((1 - fx) * (1 - fy) / steps);
        kernel.at<float>(iy, ix + 1) += float(fx * (1 - fy) / steps);
        kernel.at<float>(iy + 1, ix) += float((1 - fx) * fy / steps);
        kernel.at<float>(iy + 1, ix + 1) += float(fx * fy / steps);
    }
    return kernel;
}

TEST(LineBlur, IsOpenCVsFilterWithAnAntiAliasedLine) {
    for (const double angle : {0.0, 30.0, 45.0, 77.0, 90.0, 135.0, -20.0})
        for (const double length : {6.0, 40.0, 151.0}) {
            Canvas canvas = drawn(size);
            cv::Mat expected;
            cv::filter2D(matOf(canvas), expected, -1, lineKernel(length, angle), {-1, -1}, 0, cv::BORDER_REFLECT);
            lineBlur(canvas, length, angle);
            EXPECT_GT(psnr(matOf(canvas), expected), length < 10 ? 38 : 44) << angle << ' ' << length;
        }
}

TEST(LineBlur, KeepsWhatRunsAlongIt) {
    Canvas canvas(size, {});
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) canvas.row(y)[x] = {float(y % 7) / 7, 0, 0, 1};
    lineBlur(canvas, 80, 0);
    for (int y = 0; y < size.height; ++y) EXPECT_NEAR(canvas.row(y)[100].r, float(y % 7) / 7, 1e-5);
}

cv::Mat apertureKernel(double radius, int blades) {
    const int reach = int(std::ceil(radius)) + 2, over = 32;
    cv::Mat large = cv::Mat::zeros((2 * reach + 1) * over, (2 * reach + 1) * over, CV_8U), kernel;
    const double centre = (reach + 0.5) * over;
    if (blades == 0) {
        for (int y = 0; y < large.rows; ++y)
            for (int x = 0; x < large.cols; ++x)
                if (std::hypot(x + 0.5 - centre, y + 0.5 - centre) < radius * over) large.at<std::uint8_t>(y, x) = 255;
    } else {
        std::vector<cv::Point> corners;
        for (int k = 0; k < blades; ++k)
            corners.emplace_back(int(std::lround(centre + radius * over * std::sin(2 * CV_PI * k / blades))),
                                 int(std::lround(centre - radius * over * std::cos(2 * CV_PI * k / blades))));
        cv::fillConvexPoly(large, corners, 255);
    }
    cv::Mat floats;
    large.convertTo(floats, CV_32F);
    cv::resize(floats, kernel, {2 * reach + 1, 2 * reach + 1}, 0, 0, cv::INTER_AREA);
    return kernel / cv::sum(kernel)[0];
}

TEST(Defocus, IsOpenCVsFilterWithADrawnAperture) {
    for (const int blades : {0, 5, 6, 9})
        for (const double radius : {2.0, 7.5, 20.0, 45.0}) {
            Canvas canvas = drawn(size);
            cv::Mat expected;
            cv::filter2D(matOf(canvas), expected, -1, apertureKernel(radius, blades), {-1, -1}, 0, cv::BORDER_REFLECT);
            defocus(canvas, radius, blades, 0);
            EXPECT_GT(psnr(matOf(canvas), expected, 4), 45) << blades << ' ' << radius;
        }
}

// With highlights a bright point wins over its surroundings; a constant field stays what it was.
TEST(Defocus, HighlightsWeighBrightPoints) {
    Canvas plain = filled({80, 80}, {0.1f, 0.1f, 0.1f, 1}), weighed = filled({80, 80}, {0.1f, 0.1f, 0.1f, 1});
    plain.row(40)[40] = weighed.row(40)[40] = {1, 1, 1, 1};
    defocus(plain, 8, 0, 0);
    defocus(weighed, 8, 0, 1);
    EXPECT_GT(weighed.row(40)[44].g, 5 * plain.row(40)[44].g);
    EXPECT_NEAR(weighed.row(5)[5].g, 0.1, 1e-5);
    EXPECT_NEAR(weighed.row(40)[44].a, 1, 1e-5);
}

TEST(Needs, MarginsReachAsFarAsTheFilterSees) {
    EXPECT_GE(needsOf(GaussianBlur{0.05, 0}, {1280, 720}).margin.across, 3 * 36);
    EXPECT_EQ(needsOf(GaussianBlur{0.05, 0}, {1280, 720}).margin.down, 0);
    EXPECT_GE(needsOf(LineBlur{0.1, 90}, {1280, 720}).margin.down, 64);
    EXPECT_LT(needsOf(LineBlur{0.1, 90}, {1280, 720}).margin.across, 4);
    EXPECT_EQ(needsOf(Light{1}, {1280, 720}).margin, Margin());
    for (const Treatment& t :
         {Treatment(Defocus{0.02, 0, 0}), Treatment(Glow{1, 0.6, 0.2, 0.08}), Treatment(Sharpen{1, 0.0015, 0})})
        EXPECT_GT(needsOf(t, {1280, 720}).margin.across, 0);
}

} // namespace
} // namespace virga::blurs_test
