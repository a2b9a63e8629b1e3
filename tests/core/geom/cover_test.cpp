// The coverage solver against brute force: the output's pixels, one by one.
#include "core/geom/cover.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/geom/coverage.h"
#include "tests/support/pictures.h"

namespace virga::cover_test {
namespace {

using test::coveringZoom;

constexpr Size frame{640, 360};
const Point middle{320, 180};

Matrix about(Point p, const Matrix& m) {
    return then(then(translation(-p.x, -p.y), m), translation(p.x, p.y));
}

struct RandomStack {
    ScreenMap map;
    Size source;
    bool lens = false, perspective = false;
};

// Zooms, spins and slides in any order; a third with a receding plane, a quarter with a lens.
RandomStack randomStack(std::mt19937& random) {
    const auto in = [&](double low, double high) { return low + (high - low) * double(random() % 10001) / 10000; };
    RandomStack s;
    s.source = random() % 2 ? frame : Size{500, 400};
    Matrix m = scaling(double(frame.width) / s.source.width, double(frame.height) / s.source.height);
    for (int i = 0; i < 3; ++i) switch (random() % 3) {
        case 0:
            m = then(m, about({in(0, 640), in(0, 360)}, scaling(in(0.6, 1.9), 1)));
            break;
        case 1:
            m = then(m, about({in(200, 440), in(100, 260)}, rotation(in(-60, 60))));
            break;
        default:
            m = then(m, translation(in(-120, 120), in(-80, 80)));
        }
    s.perspective = random() % 3 == 0;
    if (s.perspective) m = then(m, about(middle, Matrix(1, 0, in(-8e-4, 8e-4), 0, 1, in(-8e-4, 8e-4), 0, 0, 1)));
    s.map = ScreenMap(m);
    s.lens = random() % 4 == 0;
    if (s.lens) s.map = s.map.seenThrough({middle, std::hypot(320.0, 180.0), in(-0.6, 0.6)});
    return s;
}

// The share of points, one somewhere in each square of a grid, under which the source is not: edges along the grid
// would round a whole row of middles to one side.
double rasterShare(const ScreenMap& map, Size source, int across, int down) {
    int outside = 0;
    std::uint32_t dice = 12345;
    const auto somewhere = [&] { return double((dice = dice * 1664525U + 1013904223U) >> 8) / 16777216.0; };
    for (int y = 0; y < down; ++y)
        for (int x = 0; x < across; ++x) {
            const Point p =
                map.toSource({(x + somewhere()) * frame.width / across, (y + somewhere()) * frame.height / down});
            outside += !(p.x >= 0 && p.y >= 0 && p.x <= source.width && p.y <= source.height);
        }
    return double(outside) / across / down;
}

ScreenMap zoomedBy(const ScreenMap& map, double k) {
    return map.movedBy(about(middle, scaling(k, k)));
}

// Every stack on a coarse grid, which can be off by half a row of it all round; every fiftieth on one eight times as
// fine, to 0.05 % of the frame.
TEST(Cover, TenThousandRandomStacksAgreeWithTheRaster) {
    std::mt19937 random(14);
    int compared = 0, lenses = 0, perspectives = 0;
    for (int i = 0; i < 10000; ++i) {
        const RandomStack s = randomStack(random);
        if (!s.map.isVisible()) continue;
        const double exact = uncoveredShare(s.map, s.source, frame);
        ASSERT_NEAR(exact, rasterShare(s.map, s.source, 64, 36), 0.03) << "stack " << i;
        if (i % 50 == 0) {
            ASSERT_NEAR(exact, rasterShare(s.map, s.source, 1280, 720), 5e-4) << "stack " << i;
            ++compared, lenses += s.lens, perspectives += s.perspective;
        }
        ASSERT_EQ(covers(s.map, s.source, frame), exact < 1e-6) << "stack " << i << ", " << exact;
    }
    EXPECT_GT(compared, 150);
    EXPECT_GT(lenses, 30);
    EXPECT_GT(perspectives, 40);
}

TEST(Cover, TheLeastZoomCoversAndATenthOfAPercentLessDoesNot) {
    std::mt19937 random(15);
    int needed = 0;
    for (int i = 0; i < 2000; ++i) {
        // Three moments of a movement at once.
        std::vector<SeenSource> moments;
        for (int k = 0; k < 3; ++k) {
            const RandomStack s = randomStack(random);
            moments.push_back({s.map, s.source, k - 1});
        }
        const auto least = leastZoom(moments, frame, middle);
        if (!least) continue;
        double bare = 0, less = 0;
        for (const SeenSource& m : moments) {
            bare = std::max(bare, rasterShare(zoomedBy(m.map, least->factor), m.source, 96, 54));
            less = std::max(less, uncoveredShare(zoomedBy(m.map, least->factor * 0.999), m.source, frame));
        }
        ASSERT_EQ(bare, 0) << i;
        if (least->factor == 1) continue;
        ++needed;
        ASSERT_GT(less, 0) << i << ": " << least->factor;
        ASSERT_NE(least->edges, 0u);
        ASSERT_GE(least->frame, -1);
        ASSERT_LE(least->frame, 1);
    }
    EXPECT_GT(needed, 1000);
}

// The published rectangle formula (plane geometry; design/numerics.md): 16:9 needs 1.1511 for 5 degrees, 1.2935 for 10,
// 1.9642 for 45, 1.7778 for 90.
TEST(Cover, KnowsTheRectangleFormula) {
    for (const auto& [degrees, factor] : {std::pair(5.0, 1.1511), {10.0, 1.2935}, {45.0, 1.9642}, {90.0, 1.7778}}) {
        const SeenSource seen{ScreenMap(about(middle, rotation(degrees))), frame, 3};
        const auto least = leastZoom({&seen, 1}, frame, middle);
        ASSERT_TRUE(least);
        EXPECT_NEAR(least->factor, factor, 6e-5);
        EXPECT_NEAR(least->factor, coveringZoom(degrees, frame), 1e-9);
        EXPECT_EQ(least->frame, 3);
    }
    // Turned by 90 degrees, what is missing lies left and right: the source's own top and bottom.
    const SeenSource quarter{ScreenMap(about(middle, rotation(90))), frame, 0};
    EXPECT_EQ(leastZoom({&quarter, 1}, frame, middle)->edges, unsigned(TopEdge | BottomEdge));
}

TEST(Cover, TheLeastSlideIsTheShortestThatCovers) {
    // Enlarged by half and pushed aside: it has 160 pixels to give on each side, and is 200 off.
    const ScreenMap map(then(about(middle, scaling(1.5, 1.5)), translation(200, -120)));
    const SeenSource seen{map, frame, 5};
    const auto least = leastSlide({&seen, 1}, frame);
    ASSERT_TRUE(least);
    EXPECT_NEAR(least->by.x, -40, 1e-4);
    EXPECT_NEAR(least->by.y, 30, 1e-4);
    EXPECT_EQ(least->frame, 5);
    const SeenSource still{ScreenMap(), frame, 0};
    EXPECT_EQ(leastSlide({&still, 1}, frame)->by.length(), 0);
    const SeenSource small{ScreenMap(about(middle, scaling(0.9, 0.9))), frame, 0};
    EXPECT_FALSE(leastSlide({&small, 1}, frame)) << "no slide makes it larger";
}

TEST(Cover, RandomSlidesCoverAndNoShorterOneNearby) {
    std::mt19937 random(16);
    int found = 0;
    for (int i = 0; i < 400; ++i) {
        RandomStack s = randomStack(random);
        s.map = zoomedBy(s.map, 1.6);
        const SeenSource seen{s.map, s.source, 0};
        const auto least = leastSlide({&seen, 1}, frame);
        if (!least || least->by.length() < 1) continue;
        ++found;
        const auto slid = [&](Point by) { return s.map.movedBy(translation(by.x, by.y)); };
        ASSERT_LT(uncoveredShare(slid(least->by), s.source, frame), s.lens ? 1e-3 : 1e-6) << i;
        for (int k = 0; k < 16; ++k) { // nothing a hundredth shorter does
            const double a = k * 0.3927;
            const Point by = least->by * 0.98 + Point(std::cos(a), std::sin(a)) * 0.01 * least->by.length();
            if (by.length() < 0.99 * least->by.length())
                ASSERT_GT(uncoveredShare(slid(by), s.source, frame), 0) << i << " by " << by.x << ", " << by.y;
        }
    }
    EXPECT_GT(found, 80);
}

} // namespace
} // namespace virga::cover_test
