// The demo footage through the sampling kernel against OpenCV's warpAffine, in the same light: PSNR >= 50 dB, and no
// pixel more than 4 code values outside what OpenCV's rounding of coordinates to 1/32 pixel can do to it. That rounding
// alone is worth up to 14 code values on the dark side of a hard edge: 1/64 of full light is 33 codes above black.
// (./check draws the footage first.)
#include <algorithm>
#include <filesystem>
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "core/decode/video_reader.h"
#include "core/raster/sampler.h"
#include "tests/support/pictures.h"

namespace virga::demo_opencv_test {
namespace {

using namespace test;

constexpr Size hd{1280, 720};

Matrix aboutMiddle(const Matrix& m) {
    return then(then(translation(-640, -360), m), translation(640, 360));
}

// How far, in code values, a picture lies outside the range that ours takes when its source coordinates move by 1/64
// pixel.
int farthestOutside(const Pyramid& source, EdgeFill edges, const Matrix& matrix, const Image<Rgba8>& picture) {
    constexpr double most = 1.0 / 64 + 3.0 / 1024;
    std::vector<Image<Rgba8>> shifted;
    for (const double dx : {-most, -most / 2, 0.0, most / 2, most})
        for (const double dy : {-most, -most / 2, 0.0, most / 2, most})
            shifted.push_back(sampled(source, edges, {ScreenMap(then(translation(dx, dy), matrix))}, hd));
    int worst = 0;
    for (int y = 0; y < hd.height; ++y)
        for (int x = 0; x < hd.width; ++x)
            for (const auto channel : {&Rgba8::r, &Rgba8::g, &Rgba8::b}) {
                int low = 255, high = 0;
                for (const auto& s : shifted) {
                    low = std::min<int>(low, s.at(x, y).*channel);
                    high = std::max<int>(high, s.at(x, y).*channel);
                }
                const int v = picture.at(x, y).*channel;
                worst = std::max({worst, low - v, v - high});
            }
    return worst;
}

TEST(DemoFootage, StillMovesAreThoseOfOpenCv) {
    const auto folder = std::filesystem::path(VIRGA_SOURCE_DIR) / "demo/footage";
    if (!std::filesystem::exists(folder / "last-light.mp4")) GTEST_SKIP() << "the demo footage is not drawn";
    struct Case {
        const char* name;
        Matrix matrix;
        EdgeFill edges;
        int border;
    };
    const Case cases[] = {
        {"zoom 1.7 mirror", aboutMiddle(scaling(1.7, 1.7)), EdgeFill::Mirror, cv::BORDER_REFLECT},
        {"spin 25 mirror", aboutMiddle(rotation(25)), EdgeFill::Mirror, cv::BORDER_REFLECT},
        {"slide repeat", translation(0.4 * 1280 + 0.25, 0.3 * 720 + 0.5), EdgeFill::Repeat, cv::BORDER_WRAP},
        {"spin -70 and slide, hold", then(aboutMiddle(rotation(-70)), translation(100.5, -60)), EdgeFill::Hold,
         cv::BORDER_REPLICATE},
        {"all, mirror", aboutMiddle(then(then(scaling(1.3, 1.3), rotation(140)), translation(-300, 90))),
         EdgeFill::Mirror, cv::BORDER_REFLECT},
    };
    for (const char* shot : {"dawn-crane", "quay-stalls", "second-heat"}) {
        auto reader = VideoReader::open(folder / (std::string(shot) + ".mp4"));
        ASSERT_TRUE(reader);
        auto frame = (*reader)->read(40);
        ASSERT_TRUE(frame);
        // Both start from the same 8-bit picture.
        const auto picture = sampled(Pyramid(std::move(*frame)), EdgeFill::Hold, {ScreenMap()}, hd);
        const Pyramid source = pyramidOf(picture);
        const cv::Mat linear = linearMat(picture);
        for (const Case& c : cases) {
            const Matrix m =
                then(then(translation(0.5, 0.5), c.matrix), translation(-0.5, -0.5)); // OpenCV counts pixel centres
            const cv::Mat affine = (cv::Mat_<double>(2, 3) << m[0][0], m[1][0], m[2][0], m[0][1], m[1][1], m[2][1]);
            cv::Mat out;
            cv::warpAffine(linear, out, affine, {hd.width, hd.height}, cv::INTER_LINEAR, c.border);
            const auto want = encoded(out);
            EXPECT_GE(compare(sampled(source, c.edges, {ScreenMap(c.matrix)}, hd).view(), want.view()).psnr, 50)
                << shot << ", " << c.name;
            EXPECT_LE(farthestOutside(source, c.edges, c.matrix, want), 4) << shot << ", " << c.name;
        }
    }
}

} // namespace
} // namespace virga::demo_opencv_test
