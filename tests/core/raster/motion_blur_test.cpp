// Motion blur against closed forms.
#include <cmath>
#include <gtest/gtest.h>

#include "core/raster/kept_light.h"
#include "core/raster/sampler.h"
#include "core/raster/samples_needed.h"
#include "core/raster/transfer.h"
#include "tests/support/pictures.h"

namespace virga::motion_blur_test {
namespace {

using namespace test;

// A step edge that moves v px a frame at 180 degrees is a ramp in linear light, v/2 px wide: the integral of the step
// over the exposure.
TEST(MotionBlur, AMovingEdgeIsALinearRamp) {
    const double v = 80;
    Image<Rgba8> edge = solidPicture({512, 16}, {0, 0, 0, 255});
    for (int y = 0; y < 16; ++y) std::fill_n(edge.row(y), 256, Rgba8{255, 255, 255, 255});
    std::vector<ScreenMap> maps;
    const int samples = 160;
    for (int i = 0; i < samples; ++i) maps.emplace_back(translation(-v / 4 + v / 2 * (i + 0.5) / samples, 0));
    std::vector<LinearF> row(64);
    for (int x = 192; x < 320; x += 64) {
        sampleTile(pyramidOf(edge), EdgeFill::Hold, maps, {x, 8, 64, 1}, row.data());
        for (int i = 0; i < 64; ++i) {
            const double at = x + i + 0.5, want = std::clamp((256 + v / 4 - at) / (v / 2), 0.0, 1.0);
            EXPECT_NEAR(lightOf(row[std::size_t(i)]).g, want, 0.015) << at;
        }
    }
}

TEST(MotionBlur, KeepsTheLight) {
    // A bright dot on black, spun inside the frame: the same light, only elsewhere.
    Image<Rgba8> dot = solidPicture({128, 128}, {0, 0, 0, 255});
    for (int y = 60; y < 68; ++y)
        for (int x = 90; x < 98; ++x) dot.at(x, y) = {255, 255, 255, 255};
    std::vector<ScreenMap> maps;
    for (int i = 0; i < 48; ++i)
        maps.emplace_back(then(then(translation(-64, -64), rotation(i * 1.5)), translation(64, 64)));
    double light = 0;
    std::vector<LinearF> block(64 * 64);
    for (int y = 0; y < 128; y += 64)
        for (int x = 0; x < 128; x += 64) {
            sampleTile(pyramidOf(dot), EdgeFill::Empty, maps, {x, y, 64, 64}, block.data());
            for (const LinearF& p : block) light += lightOf(p).g;
        }
    EXPECT_NEAR(light, 64, 0.2);
}

TEST(MotionBlur, TakesAsManySamplesAsThePathNeeds) {
    EXPECT_EQ(samplesNeeded(0, 1.5, 256), 1);
    EXPECT_EQ(samplesNeeded(0.01, 1.5, 256), 1);
    EXPECT_EQ(samplesNeeded(150, 1.5, 256), 101);
    EXPECT_EQ(samplesNeeded(1e9, 1.5, 256), 256);
    const Tile tile{0, 0, 64, 64};
    EXPECT_NEAR(pathLength([](double t) { return ScreenMap(translation(30 * t, 40 * t)); }, tile), 50, 1e-9);
    EXPECT_EQ(pathLength([](double) { return ScreenMap(scaling(0, 0)); }, tile), 0);
    // Half a turn about a far point: the arc, not the chord.
    const double arc = pathLength(
        [](double t) { return ScreenMap(then(then(translation(-1000, 0), rotation(180 * t)), translation(1000, 0))); },
        {0, -1, 1, 1});
    EXPECT_GT(arc, 0.95 * 1000 * 3.14159);
}

// Against a reference of 512 samples in double precision, with the samples that the movement asks for.
TEST(MotionBlur, IsCloseToFiveHundredAndTwelveSamples) {
    const auto picture = texturedPicture({320, 180});
    const Pyramid source = pyramidOf(picture);
    const auto zoomAt = [](double t) {
        return ScreenMap(then(then(translation(-160, -90), scaling(2 + 0.5 * t, 2 + 0.5 * t)), translation(160, 90)));
    };
    double worst = 0, sum = 0;
    int count = 0;
    for (const Tile tile : {Tile{0, 0, 64, 64}, Tile{128, 64, 64, 64}, Tile{256, 128, 64, 52}}) {
        const int n = samplesNeeded(pathLength(zoomAt, tile), 1.5, 256);
        std::vector<ScreenMap> maps, many;
        for (int i = 0; i < n; ++i) maps.push_back(zoomAt((i + 0.5) / n));
        for (int i = 0; i < 512; ++i) many.push_back(zoomAt((i + 0.5) / 512));
        std::vector<LinearF> block(64 * 64);
        sampleTile(source, EdgeFill::Mirror, maps, tile, block.data());
        for (int y = 0; y < tile.height; y += 5)
            for (int x = 0; x < tile.width; x += 5) {
                const auto want = sampleReference(source, EdgeFill::Mirror, many, {tile.x + x + 0.5, tile.y + y + 0.5});
                const double d = 255 * (codeFromLinear(lightOf(block[std::size_t(y * tile.width + x)]).g) -
                                        codeFromLinear(lightOf(want).g));
                worst = std::max(worst, std::abs(d));
                sum += d * d;
                ++count;
            }
    }
    EXPECT_GT(10 * std::log10(255.0 * 255.0 * count / sum), 50);
    EXPECT_LT(worst, 4);
}

} // namespace
} // namespace virga::motion_blur_test
