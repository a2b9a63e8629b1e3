#include "core/raster/sampler.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/raster/transfer.h"
#include "tests/support/pictures.h"

namespace virga::sampler_test {
namespace {

using namespace test;

const EdgeFill allEdges[] = {EdgeFill::Empty, EdgeFill::Hold, EdgeFill::Repeat, EdgeFill::Mirror};

void expectLike(const Pyramid& source, EdgeFill edges, const std::vector<ScreenMap>& maps, Tile tile,
                double tolerance) {
    // Guard pixels around the block must stay untouched.
    std::vector<LinearF> block(std::size_t(tile.width * tile.height) + 32, LinearF{-7, -7, -7, -7});
    sampleTile(source, edges, maps, tile, block.data() + 16);
    for (int i = 0; i < 16; ++i) {
        ASSERT_EQ(block[std::size_t(i)].r, -7);
        ASSERT_EQ(block[block.size() - 1 - std::size_t(i)].r, -7);
    }
    for (int y = 0; y < tile.height; y += 3)
        for (int x = 0; x < tile.width; x += 3) {
            const LinearF want = sampleReference(source, edges, maps, {tile.x + x + 0.5, tile.y + y + 0.5});
            const LinearF& got = block[16 + std::size_t(y * tile.width + x)];
            ASSERT_NEAR(got.r, want.r, tolerance) << "at " << x << ' ' << y << " edges " << int(edges);
            ASSERT_NEAR(got.g, want.g, tolerance);
            ASSERT_NEAR(got.a, want.a, tolerance);
        }
}

TEST(Sampler, AgreesWithTheReferenceForAnyAffineMap) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> d(-1, 1);
    for (const Size size : {Size{160, 90}, Size{77, 53}}) {
        const Pyramid source = pyramidOf(texturedPicture(size));
        for (int i = 0; i < 60; ++i) {
            const double zoom = std::exp2(2 * d(random));
            const Matrix m = then(then(scaling(zoom, zoom), rotation(180 * d(random))),
                                  translation(300 * d(random), 300 * d(random)));
            std::vector<ScreenMap> maps;
            for (int k = 0; k <= i % 3; ++k) maps.emplace_back(then(m, translation(k * 3.3, k * 1.7)));
            expectLike(source, allEdges[i % 4], maps, {64 * (i % 3), 64 * (i % 2), 1 + (i * 7) % 64, 1 + (i * 13) % 64},
                       2e-3);
        }
    }
}

TEST(Sampler, AgreesForPerspective) {
    const Pyramid source = pyramidOf(texturedPicture({160, 90}));
    for (const EdgeFill edges : allEdges) {
        // Mild perspective at natural size: the level of detail is one number per tile, so strong minification is left
        // out.
        const ScreenMap map(Matrix(2.2, 0.1, 0.0002, -0.1, 2.1, 0.0003, -30, 10, 1));
        expectLike(source, edges, {map}, {0, 0, 64, 64}, 2e-3);
        expectLike(source, edges, {map, ScreenMap(then(map.matrix(), translation(5, 2)))}, {64, 0, 64, 64}, 2e-3);
    }
}

TEST(Sampler, RestIsAnExactCopy) {
    const auto picture = texturedPicture({200, 120});
    for (const EdgeFill edges : allEdges) {
        const auto out = sampled(pyramidOf(picture), edges, {ScreenMap()}, {200, 120});
        EXPECT_EQ(compare(out.view(), picture.view()).most, 0);
    }
}

TEST(Sampler, AConstantFieldStaysConstant) {
    const auto grey = solidPicture({96, 54}, {90, 120, 200, 255});
    const Matrix m = then(then(scaling(0.6, 0.6), rotation(31)), translation(13, 7));
    for (const EdgeFill edges : {EdgeFill::Hold, EdgeFill::Repeat, EdgeFill::Mirror}) {
        const auto out = sampled(pyramidOf(grey), edges, {ScreenMap(m), ScreenMap(then(m, rotation(9)))}, {128, 72});
        for (int y = 0; y < 72; ++y)
            for (int x = 0; x < 128; ++x) {
                EXPECT_NEAR(out.at(x, y).r, 90, 1);
                EXPECT_NEAR(out.at(x, y).b, 200, 1);
                EXPECT_EQ(out.at(x, y).a, 255);
            }
    }
}

// Half black, half white averages to 188 in 8 bit: mean light 0.5 through IEC 61966-2-1, not the mean code value 128.
TEST(Sampler, AveragesLightAndNotCodeValues) {
    Image<Rgba8> halves = solidPicture({64, 64}, {0, 0, 0, 255});
    for (int y = 0; y < 64; ++y) std::fill_n(halves.row(y), 32, Rgba8{255, 255, 255, 255});
    const auto out =
        sampled(pyramidOf(halves), EdgeFill::Repeat, {ScreenMap(), ScreenMap(translation(32, 0))}, {64, 64});
    for (int x = 1; x < 64; x += 7) EXPECT_EQ(out.at(x, 20).g, 188);
}

TEST(Sampler, EmptyIsTransparentBlackWithASoftBorder) {
    const auto white = solidPicture({40, 40}, {255, 255, 255, 255});
    const auto out = sampled(pyramidOf(white), EdgeFill::Empty, {ScreenMap(translation(10.25, 0))}, {64, 40});
    EXPECT_EQ(out.at(5, 20), (Rgba8{0, 0, 0, 0}));
    EXPECT_EQ(out.at(60, 20), (Rgba8{0, 0, 0, 0}));
    EXPECT_EQ(out.at(30, 20), (Rgba8{255, 255, 255, 255}));
    EXPECT_NEAR(out.at(10, 20).a / 255.0, 0.75, 0.01) << "covered by three quarters";
    EXPECT_NEAR(out.at(50, 20).a / 255.0, 0.25, 0.01);
}

TEST(Sampler, AFlattenedPictureShowsNothing) {
    const auto out = sampled(pyramidOf(solidPicture({8, 8}, {255, 0, 0, 255})), EdgeFill::Mirror,
                             {ScreenMap(scaling(0, 0))}, {16, 16});
    EXPECT_EQ(out.at(3, 3), (Rgba8{0, 0, 0, 0}));
}

// A slide by 5 frame widths under repeat and by 2 under mirror gives the same picture (common practice: 5 x 960 px).
TEST(Sampler, WholePeriodsChangeNothing) {
    const auto picture = texturedPicture({96, 54});
    const Pyramid source = pyramidOf(picture);
    for (const double frames : {5.0, -5.0, 100.0, -100.0})
        EXPECT_EQ(compare(sampled(source, EdgeFill::Repeat, {ScreenMap(translation(frames * 96, 0))}, {96, 54}).view(),
                          picture.view())
                      .most,
                  0)
            << frames;
    for (const double frames : {2.0, -2.0, 100.0, -100.0})
        EXPECT_EQ(
            compare(
                sampled(source, EdgeFill::Mirror, {ScreenMap(translation(frames * 96, frames * 54))}, {96, 54}).view(),
                picture.view())
                .most,
            0)
            << frames;
}

TEST(Sampler, IsPreciseAHundredFramesAway) {
    const Pyramid source = pyramidOf(texturedPicture({160, 90}));
    for (const EdgeFill edges : {EdgeFill::Repeat, EdgeFill::Mirror})
        for (const double away : {0.0, 100.0 * 160, -100.0 * 160})
            expectLike(source, edges, {ScreenMap(translation(away + 0.37, away * 90 / 160 + 0.61))}, {0, 0, 64, 64},
                       1e-3);
}

// 3 x 3 mirrored copies of 1920 x 1080 at one third: seams at 640, 1280 and 360, 720 (common practice names the last
// pixel).
TEST(Sampler, MirroredCopiesMeetWhereTheyShould) {
    const auto picture = texturedPicture({1920, 1080});
    const Matrix m = then(then(translation(-960, -540), scaling(1.0 / 3, 1.0 / 3)), translation(960, 540));
    const auto out = sampled(pyramidOf(picture), EdgeFill::Mirror, {ScreenMap(m)}, {1920, 1080});
    for (int i = 0; i < 40; ++i) {
        for (const int seam : {640, 1280})
            EXPECT_NEAR(out.at(seam - 1 - i, 500).g, out.at(seam + i, 500).g, 1) << "across x = " << seam;
        for (const int seam : {360, 720})
            EXPECT_NEAR(out.at(900, seam - 1 - i).g, out.at(900, seam + i).g, 1) << "across y = " << seam;
    }
}

TEST(Sampler, AFineChequerTurnsGreyWhenSmall) {
    Image<Rgba8> chequer(512, 512);
    for (int y = 0; y < 512; ++y)
        for (int x = 0; x < 512; ++x) {
            const std::uint8_t v = (x + y) % 2 ? 255 : 0;
            chequer.at(x, y) = {v, v, v, 255};
        }
    const auto out = sampled(pyramidOf(chequer), EdgeFill::Mirror, {ScreenMap(scaling(0.23, 0.23))}, {100, 100});
    for (int i = 0; i < 100; i += 9) EXPECT_NEAR(out.at(i, 37).g, 188, 2) << "no shimmer: the pattern is gone";
}

} // namespace
} // namespace virga::sampler_test
