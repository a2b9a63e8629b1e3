// The demo footage through the sampling kernel against OpenCV's warpAffine, in the same light: PSNR >= 50 dB and at
// most 4 code values, as close as OpenCV's rounding of coordinates to 1/32 pixel allows. (./check draws the footage
// first.)
#include <filesystem>
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include "core/media/video_reader.h"
#include "core/raster/sampler.h"
#include "tests/support/pictures.h"

namespace virga {
namespace {

using namespace test;

constexpr Size hd{1280, 720};

Matrix aboutMiddle(const Matrix& m) {
    return then(then(translation(-640, -360), m), translation(640, 360));
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
        const auto picture = sampled(Pyramid(std::move(*frame)), int(EdgeFill::Hold), {ScreenMap()}, hd);
        const Pyramid source = pyramidOf(picture);
        const cv::Mat linear = linearMat(picture);
        for (const Case& c : cases) {
            const Matrix m =
                then(then(translation(0.5, 0.5), c.matrix), translation(-0.5, -0.5)); // OpenCV counts pixel centres
            const cv::Mat affine = (cv::Mat_<double>(2, 3) << m[0][0], m[1][0], m[2][0], m[0][1], m[1][1], m[2][1]);
            cv::Mat out;
            cv::warpAffine(linear, out, affine, {hd.width, hd.height}, cv::INTER_LINEAR, c.border);
            const auto d =
                compare(sampled(source, int(c.edges), {ScreenMap(c.matrix)}, hd).view(), encoded(out).view());
            EXPECT_GE(d.psnr, 50) << shot << ", " << c.name;
            EXPECT_LE(d.most, 4) << shot << ", " << c.name;
        }
    }
}

} // namespace
} // namespace virga
