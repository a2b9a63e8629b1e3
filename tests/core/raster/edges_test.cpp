// What lies outside the frame: fringes, limits on copies, horizons, and places very far away.
#include <gtest/gtest.h>

#include "core/raster/compose.h"
#include "core/raster/kept_light.h"
#include "core/raster/sampler.h"
#include "core/raster/transfer.h"
#include "tests/support/pictures.h"

namespace virga::edges_test {
namespace {

using namespace test;

Matrix about(Point p, const Matrix& m) {
    return then(then(translation(-p.x, -p.y), m), translation(p.x, p.y));
}

// A white shape over white must not be seen, at any angle and size: a dark or light fringe would be colour and alpha
// that do not belong together.
TEST(EmptyEdges, WhiteOverWhiteLeavesNoFringe) {
    const Pyramid white = pyramidOf(solidPicture({80, 50}, {255, 255, 255, 255}));
    std::vector<LinearF> over(64 * 64), under(64 * 64);
    int partly = 0;
    for (double angle = 0; angle < 360; angle += 7.3) {
        std::vector<ScreenMap> maps = {
            ScreenMap(then(about({40, 25}, then(scaling(0.8, 0.8), rotation(angle))), translation(-5.3, 8.6)))};
        Matrix tilt;
        tilt[0][2] = 0.002;
        if (int(angle) % 3 == 1) maps[0] = maps[0].movedBy(tilt);
        if (int(angle) % 3 == 2) maps[0] = maps[0].seenThrough({{32, 32}, 45, 0.4});
        if (int(angle) % 2) maps.push_back(maps[0].movedBy(translation(3.7, 1.2)));
        std::fill(under.begin(), under.end(), keptOf(LinearF{1, 1, 1, 1}));
        sampleTile(white, EdgeFill::Empty, maps, {0, 0, 64, 64}, over.data());
        layOver(under.data(), over.data(), 64 * 64, 1);
        std::vector<Rgba8> codes(64 * 64);
        encodeRow(under.data(), codes.data(), 64 * 64);
        for (std::size_t i = 0; i < codes.size(); ++i) {
            ASSERT_GE(codes[i].g, 254) << angle << " at " << i % 64 << ' ' << i / 64;
            partly += over[i].a > 0.1 && over[i].a < 0.9;
        }
    }
    EXPECT_GT(partly, 1000) << "the edges are there, and smooth";
}

// A shot that is fitted and scaled down ends exactly where it should, whatever mip level it is sampled in.
TEST(EmptyEdges, AFittedShotEndsAtTheExactRow) {
    for (const Size from : {Size{1920, 1080}, Size{1280, 720}, Size{720, 405}, Size{3840, 2160}}) {
        const Pyramid white = pyramidOf(solidPicture(from, {255, 255, 255, 255}));
        // In 640 x 480, 640 x 360 are the shot's: rows 60 to 419.
        const double scale = 640.0 / from.width;
        const ScreenMap map(then(scaling(scale, scale), translation(0, 60)));
        std::vector<LinearF> column(64);
        for (const int top : {30, 400}) {
            sampleTile(white, EdgeFill::Empty, {&map, 1}, {320, top, 1, 64}, column.data());
            for (int y = 0; y < 64; ++y)
                ASSERT_NEAR(column[std::size_t(y)].a, top + y >= 60 && top + y < 420 ? 1 : 0, 1e-3)
                    << from.width << ", row " << top + y;
        }
    }
}

TEST(Copies, AreLimitedToAsManyAsWanted) {
    // A frame of 40 x 30 in the middle of a 400 x 300 screen: one copy on each side covers 120 x 90.
    const auto picture = texturedPicture({40, 30});
    const Pyramid source = pyramidOf(picture);
    const ScreenMap map(translation(180, 135));
    const Tile tile{130, 100, 64, 64};
    for (const EdgeFill fill : {EdgeFill::Mirror, EdgeFill::Repeat}) {
        std::vector<LinearF> free(64 * 64), one(64 * 64);
        sampleTile(source, {fill, 0}, {&map, 1}, tile, free.data());
        sampleTile(source, {fill, 1}, {&map, 1}, tile, one.data());
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x) {
                const auto i = std::size_t(64 * y + x);
                const bool inside = tile.x + x >= 140 && tile.y + y >= 105;
                ASSERT_NEAR(one[i].a, inside ? 1 : 0, 1e-6) << x << ' ' << y;
                ASSERT_NEAR(one[i].g, inside ? free[i].g : 0, 1e-6) << x << ' ' << y;
            }
    }
    // Between pixels the border is a ramp, also where the copies are many and turned.
    const ScreenMap turned(then(about({20, 15}, rotation(20)), translation(180.4, 135.3)));
    for (const Edges edges : {Edges{EdgeFill::Mirror, 2}, Edges{EdgeFill::Repeat, 1}})
        for (int y = 60; y < 180; y += 3)
            for (int x = 100; x < 260; x += 7) {
                LinearF got;
                sampleTile(source, edges, {&turned, 1}, {x, y, 1, 1}, &got);
                const LinearF want = sampleReference(source, edges, {&turned, 1}, {x + 0.5, y + 0.5});
                ASSERT_NEAR(got.g, want.g, 2e-3) << x << ' ' << y;
                ASSERT_NEAR(got.a, want.a, 2e-3) << x << ' ' << y;
            }
}

// A plane seen nearly edge on: up to its horizon each pixel is the plain reference's, beyond it there is nothing.
TEST(Horizon, NothingLiesBeyondIt) {
    const Pyramid source = pyramidOf(texturedPicture({200, 120}));
    Matrix m;
    m[1][2] = 0.012;
    const ScreenMap map(about({100, 100}, m)); // horizon at y = 100 + 1 / 0.012 = 183.3
    std::vector<LinearF> block(64 * 64);
    int seen = 0;
    double worst = 0;
    for (int top = 128; top < 192; top += 64) {
        sampleTile(source, EdgeFill::Mirror, {&map, 1}, {64, top, 64, 64}, block.data());
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; x += 5) {
                const LinearF got = block[std::size_t(64 * y + x)];
                if (top + y + 0.5 > 183.4) {
                    EXPECT_EQ(got.a, 0) << y;
                    continue;
                }
                const LinearF want =
                    sampleReference(source, EdgeFill::Mirror, {&map, 1}, {64 + x + 0.5, top + y + 0.5});
                worst = std::max(
                    worst, double(std::abs(codeFromLinear(lightOf(got).g) - codeFromLinear(lightOf(want).g))) * 255);
                EXPECT_NEAR(got.a, 1, 0.02);
                ++seen;
            }
    }
    EXPECT_GT(seen, 500);
    EXPECT_LT(worst, 12) << "the mip level is one for a block of a tile";
}

// Numerics: precision at 100 frame widths must still be better than 1/100 pixel. Moving a picture that many whole
// periods must not change it, through a tilt and a lens as well.
TEST(FarAway, OneHundredWidthsChangeNothing) {
    const auto picture = texturedPicture({96, 54});
    const Pyramid source = pyramidOf(picture);
    Matrix tilt;
    tilt[0][2] = 0.0008;
    const auto seen = [&](double x, double y) {
        return ScreenMap(translation(x, y))
            .movedBy(about({48, 27}, rotation(17)))
            .movedBy(tilt)
            .seenThrough({{48, 27}, 55, -0.3});
    };
    for (const EdgeFill fill : {EdgeFill::Mirror, EdgeFill::Repeat})
        for (const double widths : {100.0, -100.0}) {
            const auto near = sampled(source, fill, {seen(0.3, 0.4)}, {96, 54}),
                       far = sampled(source, fill, {seen(0.3 + widths * 96, 0.4 - widths * 54)}, {96, 54});
            EXPECT_LE(compare(near.view(), far.view()).most, 1) << widths;
        }
}

// A slow zoom out over a zone plate, whose rings are finer than the pixels soon. What flickers is the second difference
// in time; it must stay small by itself, and a fraction of what sampling without mip levels shows. Both bounds are this
// test's own.
TEST(Shimmer, ASlowZoomOutOnAZonePlateIsCalm) {
    const int n = 256;
    Image<Rgba8> plate(n, n);
    for (int y = 0; y < n; ++y)
        for (int x = 0; x < n; ++x) {
            const double r2 = (x - 127.5) * (x - 127.5) + (y - 127.5) * (y - 127.5);
            const double light = 0.5 + 0.5 * std::cos(r2 * 3.14159265 / (n * 1.1)); // up to 0.45 cycles a pixel
            const auto code = std::uint8_t(std::lround(codeFromLinear(light) * 255));
            plate.at(x, y) = {code, code, code, 255};
        }
    const Pyramid source = pyramidOf(plate);
    Pyramid plain = Pyramid::flat(linearise(plate.view()));
    const auto energy = [&](const Pyramid& picture) {
        std::vector<std::vector<LinearF>> frames;
        for (int i = 0; i < 300; ++i) {
            const double zoom = std::exp2(-2.0 * i / 300);
            const ScreenMap map(then(then(translation(-128, -128), scaling(zoom, zoom)), translation(32, 32)));
            frames.emplace_back(64 * 64);
            sampleTile(picture, EdgeFill::Mirror, {&map, 1}, {0, 0, 64, 64}, frames.back().data());
        }
        double sum = 0;
        for (std::size_t i = 150; i + 1 < frames.size(); ++i) // from half size on
            for (std::size_t p = 0; p < 64 * 64; ++p) {
                const double d = frames[i + 1][p].g - 2 * frames[i][p].g + frames[i - 1][p].g;
                sum += d * d;
            }
        return sum / (149.0 * 64 * 64);
    };
    const double ours = energy(source), without = energy(plain);
    EXPECT_LT(ours, 6e-4) << "of a light between 0 and 1, squared";
    EXPECT_LT(ours, without / 8) << "without mip levels: " << without;
}

} // namespace
} // namespace virga::edges_test
