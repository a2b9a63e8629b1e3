// Still zooms, spins and slides against OpenCV's warpAffine with the matching border, in the same (linear) light.
// OpenCV rounds coordinates to 1/32 pixel, so neighbours that differ by d code values may come out d/64 apart: PSNR >=
// 50 dB and at most 4 code values on footage, which the picture here is made to be like.
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include "core/raster/sampler.h"
#include "tests/support/pictures.h"

namespace virga {
namespace {

using namespace test;

constexpr Size size{640, 360};

// OpenCV's coordinates are those of pixel centres: ours shifted by a half.
cv::Mat centreIndexed(const Matrix& m) {
    const Matrix c = then(then(translation(0.5, 0.5), m), translation(-0.5, -0.5));
    return (cv::Mat_<double>(2, 3) << c[0][0], c[1][0], c[2][0], c[0][1], c[1][1], c[2][1]);
}

Image<Rgba8> byOpenCv(const Image<Rgba8>& picture, const Matrix& m, int border) {
    cv::Mat out;
    cv::warpAffine(linearMat(picture), out, centreIndexed(m), {size.width, size.height}, cv::INTER_LINEAR, border);
    return encoded(out);
}

Matrix aboutMiddle(const Matrix& m) {
    return then(then(translation(-320, -180), m), translation(320, 180));
}

class AgainstOpenCv : public testing::TestWithParam<std::tuple<EdgeFill, int>> {};

TEST_P(AgainstOpenCv, ZoomsSpinsAndSlides) {
    const auto [edges, border] = GetParam();
    const auto picture = texturedPicture(size);
    const Pyramid source = pyramidOf(picture);
    const std::pair<const char*, Matrix> cases[] = {
        {"zoom 1.37", aboutMiddle(scaling(1.37, 1.37))},
        {"zoom 2.5", aboutMiddle(scaling(2.5, 2.5))},
        {"spin 33", aboutMiddle(rotation(33))},
        {"spin -90", aboutMiddle(rotation(-90))},
        {"spin 170", aboutMiddle(rotation(170))},
        {"slide", translation(0.3125 * size.width + 0.21875, -0.5 * size.height)},
        {"all", aboutMiddle(then(then(scaling(1.2, 1.2), rotation(-21)), translation(140, 60)))},
    };
    for (const auto& [name, m] : cases) {
        const auto d =
            compare(sampled(source, edges, {ScreenMap(m)}, size).view(), byOpenCv(picture, m, border).view());
        EXPECT_GE(d.psnr, 50) << name;
        EXPECT_LE(d.most, 4) << name;
    }
}

INSTANTIATE_TEST_SUITE_P(Edges, AgainstOpenCv,
                         testing::Values(std::tuple(EdgeFill::Mirror, int(cv::BORDER_REFLECT)),
                                         std::tuple(EdgeFill::Repeat, int(cv::BORDER_WRAP)),
                                         std::tuple(EdgeFill::Hold, int(cv::BORDER_REPLICATE))));

TEST(AgainstOpenCv, Perspective) {
    const auto picture = texturedPicture(size);
    // Slightly magnified everywhere, so that neither side filters.
    const std::vector<cv::Point2f> from = {{0, 0}, {639, 0}, {639, 359}, {0, 359}},
                                   to = {{-40, -30}, {700, 10}, {660, 380}, {-20, 400}};
    const cv::Mat h = cv::getPerspectiveTransform(from, to);
    cv::Mat out;
    cv::warpPerspective(linearMat(picture), out, h, {size.width, size.height}, cv::INTER_LINEAR, cv::BORDER_REFLECT);
    const Matrix row(h.at<double>(0, 0), h.at<double>(1, 0), h.at<double>(2, 0), h.at<double>(0, 1), h.at<double>(1, 1),
                     h.at<double>(2, 1), h.at<double>(0, 2), h.at<double>(1, 2), h.at<double>(2, 2));
    const ScreenMap map(then(then(translation(-0.5, -0.5), row), translation(0.5, 0.5)));
    const auto d = compare(sampled(pyramidOf(picture), EdgeFill::Mirror, {map}, size).view(), encoded(out).view());
    EXPECT_GE(d.psnr, 50);
    EXPECT_LE(d.most, 5);
}

} // namespace
} // namespace virga
