#include "core/raster/pyramid.h"

#include <cmath>
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/pictures.h"

namespace virga::pyramid_test {
namespace {

using namespace test;

double meanGreen(const Image<Linear16>& picture) {
    double sum = 0;
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) sum += picture.at(x, y).g;
    return sum / (double(picture.width()) * picture.height());
}

TEST(Pyramid, HalvesDownToOnePixel) {
    const Pyramid p = pyramidOf(solidPicture({37, 20}, {10, 200, 30, 255}));
    EXPECT_EQ(p.level(1).size(), (Size{19, 10}));
    EXPECT_EQ(p.level(p.levels() - 1).size(), (Size{1, 1}));
    for (int k = 0; k < p.levels(); ++k)
        for (int y = 0; y < p.level(k).height(); ++y)
            for (int x = 0; x < p.level(k).width(); ++x) {
                EXPECT_NEAR(p.level(k).at(x, y).g, p.level(0).at(0, 0).g, 1) << "a constant field stays constant";
                EXPECT_NEAR(p.level(k).at(x, y).a, linearOne, 1);
            }
}

TEST(Pyramid, KeepsTheLightOfThePicture) {
    for (const Size size : {Size{256, 128}, Size{255, 127}, Size{101, 64}}) {
        const Pyramid p = pyramidOf(texturedPicture(size));
        for (int k = 1; k < p.levels(); ++k)
            EXPECT_NEAR(meanGreen(p.level(k)) / meanGreen(p.level(0)), 1, 0.004) << size.width << " level " << k;
    }
}

// OpenCV's INTER_AREA is the same area mean.
TEST(Pyramid, LevelOneIsOpenCvsAreaMean) {
    const auto picture = texturedPicture({128, 96});
    cv::Mat half;
    cv::resize(linearMat(picture), half, {64, 48}, 0, 0, cv::INTER_AREA);
    const Pyramid p = pyramidOf(picture);
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 64; ++x) EXPECT_NEAR(lightOf(p.level(1).at(x, y).g), half.at<cv::Vec3f>(y, x)[1], 1e-4);
}

TEST(Pyramid, IsSymmetricForOddSizes) {
    auto picture = texturedPicture({33, 17});
    for (int y = 0; y < 17; ++y)
        for (int x = 0; x < 16; ++x) picture.at(32 - x, y) = picture.at(x, y);
    const Pyramid p = pyramidOf(picture);
    for (int k = 1; k < 4; ++k)
        for (int y = 0; y < p.level(k).height(); ++y)
            for (int x = 0; x < p.level(k).width(); ++x)
                EXPECT_NEAR(p.level(k).at(x, y).r, p.level(k).at(p.level(k).width() - 1 - x, y).r, 8) << k;
}

} // namespace
} // namespace virga::pyramid_test
