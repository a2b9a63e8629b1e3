#include "core/analysis/find_bars.h"
#include "core/raster/kept_light.h"

#include <gtest/gtest.h>

#include "tests/support/clips.h"

namespace virga::find_bars_test {
namespace {

using namespace test;

Image<Linear16> barred(Size size, int left, int top, int right, int bottom, std::uint16_t light = 9000) {
    Image<Linear16> out(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) out.at(x, y) = {keptOf(0.0), keptOf(0.0), keptOf(0.0), linearOne};
    for (int y = top; y < size.height - bottom; ++y)
        for (int x = left; x < size.width - right; ++x)
            out.at(x, y) = {std::uint16_t(light + (x * 37 + y * 91) % 5000), light, light, linearOne};
    return out;
}

Crop barsOf(Image<Linear16> picture) {
    std::vector<Image<Linear16>> pictures;
    pictures.push_back(std::move(picture));
    return barsIn(pictures);
}

TEST(FindBars, SidesAndTopAreMeasured) {
    // 1080 x 1920 shown upright in 1280 x 720: (1280 - 405) / 2 = 437.5 columns of black a side.
    const Crop sides = barsOf(barred({1280, 720}, 437, 0, 438, 0));
    EXPECT_NEAR(sides.left * 1280, 438, 0.01) << "and one more for the smear";
    EXPECT_NEAR(sides.right * 1280, 439, 0.01);
    EXPECT_EQ(sides.top, 0);
    EXPECT_EQ(sides.bottom, 0);
    // 2.39 : 1 in 1280 x 720 leaves 535.6 lines.
    const Crop letterbox = barsOf(barred({1280, 720}, 0, 92, 0, 92));
    EXPECT_NEAR(letterbox.top * 720, 93, 0.01);
    EXPECT_NEAR(letterbox.bottom * 720, 93, 0.01);
}

TEST(FindBars, NoneWhereThereAreNone) {
    EXPECT_TRUE(barsOf(barred({1280, 720}, 0, 0, 0, 0)).isEmpty());
    EXPECT_TRUE(barsOf(barred({640, 360}, 320, 0, 320, 0)).isEmpty()) << "a black picture has no bars";
    EXPECT_TRUE(barsOf(barred({1280, 720}, 600, 0, 600, 0)).isEmpty()) << "more than 45 % is a slit, not bars";
    EXPECT_TRUE(barsOf(barred({1280, 720}, 0, 3, 0, 3)).isEmpty()) << "three lines are a smudge";
    // A night sky that grows brighter line by line.
    Image<Linear16> sky(640, 360);
    for (int y = 0; y < 360; ++y)
        for (int x = 0; x < 640; ++x) {
            const auto v = keptOf(y * y / 8.0 / linearOne);
            sky.at(x, y) = {v, v, keptOf(0.0), linearOne};
        }
    EXPECT_TRUE(barsOf(std::move(sky)).isEmpty());
}

TEST(FindBars, WhatIsClearIsNoBar) {
    // A title on nothing at all: its edges are transparent, not black.
    Image<Linear16> title(640, 360);
    for (int y = 60; y < 300; ++y)
        for (int x = 100; x < 540; ++x) title.at(x, y) = {9000, 9000, 9000, linearOne};
    EXPECT_TRUE(barsOf(std::move(title)).isEmpty());
}

TEST(FindBars, OneBrightPictureIsEnoughToTell) {
    std::vector<Image<Linear16>> pictures;
    pictures.push_back(barred({640, 360}, 80, 0, 80, 0, 100)); // dark
    pictures.push_back(barred({640, 360}, 80, 0, 80, 0, 12000));
    EXPECT_NEAR(barsIn(pictures).left * 640, 81, 0.01);
    pictures.push_back(barred({640, 360}, 0, 0, 0, 0)); // and one without bars: then they are not burnt in
    EXPECT_TRUE(barsIn(pictures).isEmpty());
}

TEST(FindBars, SurviveTheCodec) {
    TemporaryFolder folder;
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i testsrc2=size=360x640:rate=25:duration=1 -vf pad=1138:640:389:0:black -c:v libx264 -crf 28 "
               "-pix_fmt yuv420p " +
               (folder / "upright.mp4").string()));
    const auto crop = findBars(folder / "upright.mp4", 0, 1);
    ASSERT_TRUE(crop) << describe(crop.error());
    EXPECT_NEAR(crop->left * 1138, 389, 4);
    EXPECT_NEAR(crop->right * 1138, 389, 4);
    EXPECT_EQ(crop->top, 0);
}

} // namespace
} // namespace virga::find_bars_test
