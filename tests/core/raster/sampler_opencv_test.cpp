// Still zooms, spins, slides, tilts and lenses against OpenCV's warpAffine, warpPerspective and remap with the matching
// border, in the same (linear) light.
// OpenCV rounds coordinates to 1/32 pixel, so neighbours that differ by d code values may come out d/64 apart: PSNR >=
// 50 dB and at most 4 code values on footage, which the picture here is made to be like.
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include "core/raster/sampler.h"
#include "tests/support/pictures.h"

namespace virga::sampler_opencv_test {
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

class AgainstOpenCv : public testing::TestWithParam<std::tuple<EdgeFill, int>> {
protected:
    // An empty border is as hard as an edge can be: 1/64 of white is 33 code values over black.
    int mostDifference(int inside) const { return std::get<0>(GetParam()) == EdgeFill::Empty ? 33 : inside; }
    // Any map, by remap.
    void expectAsRemap(const Image<Rgba8>& picture, const ScreenMap& map, const char* name) {
        const auto [edges, border] = GetParam();
        cv::Mat x(size.height, size.width, CV_32F), y(size.height, size.width, CV_32F), out;
        for (int j = 0; j < size.height; ++j)
            for (int i = 0; i < size.width; ++i) {
                const Point p = map.toSource({i + 0.5, j + 0.5});
                x.at<float>(j, i) = float(p.x - 0.5), y.at<float>(j, i) = float(p.y - 0.5);
            }
        cv::remap(linearMat(picture), out, x, y, cv::INTER_LINEAR, border);
        const auto d = compare(sampled(pyramidOf(picture), edges, {map}, size).view(), encoded(out).view());
        EXPECT_GE(d.psnr, 50) << name;
        EXPECT_LE(d.most, mostDifference(6)) << name;
    }
};

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
        EXPECT_LE(d.most, mostDifference(4)) << name;
    }
}

INSTANTIATE_TEST_SUITE_P(Edges, AgainstOpenCv,
                         testing::Values(std::tuple(EdgeFill::Mirror, int(cv::BORDER_REFLECT)),
                                         std::tuple(EdgeFill::Repeat, int(cv::BORDER_WRAP)),
                                         std::tuple(EdgeFill::Hold, int(cv::BORDER_REPLICATE)),
                                         std::tuple(EdgeFill::Empty, int(cv::BORDER_CONSTANT))));

// All slightly magnified everywhere, so that neither side filters.
TEST_P(AgainstOpenCv, Perspective) {
    const auto [edges, border] = GetParam();
    const auto picture = texturedPicture(size);
    const std::vector<cv::Point2f> from = {{0, 0}, {639, 0}, {639, 359}, {0, 359}},
                                   to = {{20, -30}, {720, 10}, {690, 380}, {30, 400}};
    const cv::Mat h = cv::getPerspectiveTransform(from, to);
    cv::Mat out;
    cv::warpPerspective(linearMat(picture), out, h, {size.width, size.height}, cv::INTER_LINEAR, border);
    const Matrix row(h.at<double>(0, 0), h.at<double>(1, 0), h.at<double>(2, 0), h.at<double>(0, 1), h.at<double>(1, 1),
                     h.at<double>(2, 1), h.at<double>(0, 2), h.at<double>(1, 2), h.at<double>(2, 2));
    const ScreenMap map(then(then(translation(-0.5, -0.5), row), translation(0.5, 0.5)));
    const auto d = compare(sampled(pyramidOf(picture), edges, {map}, size).view(), encoded(out).view());
    EXPECT_GE(d.psnr, 50);
    EXPECT_LE(d.most, mostDifference(5));
}

TEST_P(AgainstOpenCv, LensesAndTheirProducts) {
    const auto picture = texturedPicture(size);
    const Lens bulge{{320, 180}, 367, 0.5}, pinch{{250, 140}, 367, -0.4};
    const ScreenMap larger(aboutMiddle(scaling(1.9, 1.9)));
    expectAsRemap(picture, larger.seenThrough(bulge), "bulge");
    expectAsRemap(picture, larger.seenThrough(pinch), "pinch off the middle");
    expectAsRemap(picture, larger.seenThrough(pinch).movedBy(aboutMiddle(rotation(40))), "pinch, turned");
    expectAsRemap(picture, larger.seenThrough(bulge).movedBy(translation(-130, 60)).seenThrough(pinch),
                  "two lenses and a slide between them");
    Matrix tilt;
    tilt[0][2] = 0.0006, tilt[1][2] = -0.0004;
    expectAsRemap(picture, ScreenMap(then(aboutMiddle(scaling(3.2, 3.2)), aboutMiddle(tilt))).seenThrough(pinch),
                  "a tilted picture through a lens");
}

} // namespace
} // namespace virga::sampler_opencv_test
