// Each way of sampling against 512 samples in double precision, one pixel at a time: floors on the picture, never on
// the time. And that the way that is chosen is the one that was meant.
#include "core/base/parallel.h"
#include "core/render/exposure.h"

#include <atomic>
#include <cmath>
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/render_frame.h"
#include "tests/support/pictures.h"

namespace virga::exposure_test {
namespace {

using namespace test;

constexpr Size size{640, 360};
const Point middle(320, 180);

ScreenMap about(const Matrix& m) {
    return ScreenMap(then(then(translation(-middle.x, -middle.y), m), translation(middle.x, middle.y)));
}

struct Case {
    const char* name;
    std::function<ScreenMap(double)> at;
    double floor; // dB
    EdgeFill edges = EdgeFill::Mirror;
};

const std::vector<Case>& cases() {
    static const std::vector<Case> all = {
        {"spin 180 in 8 frames", [](double t) { return about(rotation(22.5 * t)); }, 60},
        {"spin, eased", [](double t) { return about(rotation(25 * t * t)); }, 47},
        {"zoom",
         [](double t) {
             const double k = std::pow(2.5, 0.8 + 0.2 * t);
             return about(scaling(k, k));
         },
         57},
        {"zoom out, empty", [](double t) { return about(scaling(1.1 - 0.4 * t, 1.1 - 0.4 * t)); }, 64, EdgeFill::Empty},
        {"zoom, spin and slide",
         [](double t) {
             const double k = std::exp2(0.3 * t);
             return about(then(then(scaling(k, k), rotation(15 * t)), translation(40 * t, -9 * t * t)));
         },
         62},
        {"slide", [](double t) { return ScreenMap(translation(size.width * t / 6, 0)); }, 80, EdgeFill::Repeat},
        {"slide, eased", [](double t) { return ScreenMap(translation(0.25, size.height * t * t / 3)); }, 56},
        {"slide of an enlarged picture",
         [](double t) { return about(then(scaling(1.8, 1.8), translation(-150 * t, 0.5))); }, 80},
        {"slide of small copies", [](double t) { return about(then(scaling(0.4, 0.4), translation(120 * t, 3))); }, 80},
        {"slide over the empty border", [](double t) { return ScreenMap(translation(330 + 80 * t, 10)); }, 90,
         EdgeFill::Empty},
        {"slide past a held border", [](double t) { return ScreenMap(translation(-200 - 90 * t, 0)); }, 90,
         EdgeFill::Hold},
        {"copies at 0.4, turning", [](double t) { return about(then(scaling(0.4, 0.4), rotation(10 * t))); }, 55},
        {"lens",
         [](double t) {
             return ScreenMap().seenThrough({middle, middle.length(), 0.3 + 0.3 * t});
         },
         60},
        {"perspective",
         [](double t) {
             Matrix m;
             m[0][2] = 0.0008 * t, m[1][2] = 0.0004 * t;
             return about(m);
         },
         56},
    };
    return all;
}

std::unique_ptr<Exposure> expose(const Case& c, const std::shared_ptr<const Pyramid>& source,
                                 const Quality& quality = exactQuality) {
    MovingLayer layer{c.at};
    layer.edges = c.edges;
    std::vector<SourcePool::Shown> sources{{source, 0, 1}};
    return std::make_unique<Exposure>(std::move(layer), std::move(sources), size, quality);
}

std::shared_ptr<const Pyramid> sourcePicture() {
    static const auto made = std::make_shared<const Pyramid>(pyramidOf(detailedPicture(size, 4)));
    return made;
}

class Ways : public testing::TestWithParam<std::size_t> {};

TEST_P(Ways, IsCloseToFiveHundredAndTwelveSamples) {
    const Case& c = cases()[GetParam()];
    const auto picture = renderDeepLayer(expose(c, sourcePicture()), size);
    std::vector<ScreenMap> many;
    for (int i = 0; i < 512; ++i) many.push_back(c.at((i + 0.5) / 512));
    std::atomic<long> count = 0, sum = 0; // of squares, in deep codes
    inParallel(std::size_t(size.height / 12), [&](std::size_t row) {
        const int j = int(row);
        for (int x = 3; x < size.width; x += 11) {
            const int y = 12 * j + 5;
            const auto want = sampleReference(*sourcePicture(), c.edges, many, {x + 0.5, y + 0.5});
            Deep16 code;
            encodeRow(&want, &code, 1);
            const Deep16 got = picture.at(x, y);
            for (const long d : {long(got.r) - code.r, long(got.g) - code.g, long(got.b) - code.b}) sum += d * d;
            count += 3;
        }
    });
    const double psnr =
        10 * std::log10(double(deepWhite - deepBlack) * (deepWhite - deepBlack) * double(count) / double(sum + 1));
    EXPECT_GE(psnr, c.floor) << c.name;
    RecordProperty("psnr", std::to_string(psnr));
}

TEST_P(Ways, IsTheSameOnAnyNumberOfThreads) {
    const Case& c = cases()[GetParam()];
    const auto many = renderLayer(expose(c, sourcePicture()), size);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    EXPECT_EQ(compare(renderLayer(expose(c, sourcePicture()), size).view(), many.view()).most, 0) << c.name;
}

// A constant field stays constant, to the last code value, whatever way its light is added up.
TEST_P(Ways, KeepsAConstantField) {
    Case c = cases()[GetParam()];
    if (c.edges == EdgeFill::Empty) c.edges = EdgeFill::Hold;
    const auto grey = std::make_shared<const Pyramid>(pyramidOf(solidPicture(size, {90, 200, 31, 255})));
    const auto picture = renderLayer(expose(c, grey), size);
    for (int y = 0; y < size.height; y += 3)
        for (int x = 0; x < size.width; ++x)
            ASSERT_EQ(picture.at(x, y), (Rgba8{90, 200, 31, 255})) << c.name << ' ' << x << ' ' << y;
}

INSTANTIATE_TEST_SUITE_P(Exposure, Ways, testing::Range(std::size_t(0), cases().size()));

const Case& named(const std::string& name) {
    for (const Case& c : cases())
        if (c.name == name) return c;
    throw std::logic_error(name);
}

TEST(SlideOf, TakesWhatRunningSumsCanDo) {
    EXPECT_EQ(slideOf(named("slide").at, 8)->stops.size(), 2u) << "constant speed is one stretch";
    const auto eased = slideOf(named("slide, eased").at, 8);
    ASSERT_TRUE(eased);
    EXPECT_TRUE(eased->vertical);
    EXPECT_GT(eased->stops.size(), 2u);
    EXPECT_NEAR(eased->stops.back(), -size.height / 3.0, 1e-9) << "in the source's direction";
    EXPECT_TRUE(slideOf(named("slide of an enlarged picture").at, 8));
    for (const char* name : {"spin 180 in 8 frames", "zoom", "zoom, spin and slide", "lens", "perspective"})
        EXPECT_FALSE(slideOf(named(name).at, 8)) << name;
    EXPECT_FALSE(slideOf([](double t) { return ScreenMap(translation(5 * t, 0)); }, 8)) << "too short to pay";
    EXPECT_FALSE(slideOf([](double t) { return ScreenMap(translation(50 * t, 20 * t)); }, 8)) << "aslant";
    EXPECT_FALSE(slideOf([](double t) { return ScreenMap(translation(200 * std::sin(40 * t), 0)); }, 8)) << "too wild";
}

// By plane geometry: a step edge under a slide of 100 pixels at constant speed is a ramp of 100 pixels.
TEST(SlideOf, AStepBecomesARamp) {
    Image<Rgba8> edge = solidPicture({512, 8}, {0, 0, 0, 255});
    for (int y = 0; y < 8; ++y) std::fill_n(edge.row(y), 256, Rgba8{255, 255, 255, 255});
    const auto slide = slideOf([](double t) { return ScreenMap(translation(100 * t, 0)); }, 8);
    ASSERT_TRUE(slide);
    std::vector<LinearF> row(256);
    sampleSlide(pyramidOf(edge), EdgeFill::Hold, *slide, {200, 4, 256, 1}, row.data());
    for (int x = 0; x < 256; ++x)
        EXPECT_NEAR(lightOf(row[std::size_t(x)]).g, std::clamp((356 - (200 + x + 0.5)) / 100, 0.0, 1.0), 1e-4) << x;
}

TEST(TwoPassOf, PlacesEverySampleWhereItBelongs) {
    for (const char* name : {"spin 180 in 8 frames", "spin, eased", "zoom"}) {
        const auto two = twoPassOf(named(name).at, size, 1.5, 256);
        ASSERT_TRUE(two) << name;
        EXPECT_GE(two->first.size() * two->second.size(), 20u) << name;
        EXPECT_EQ(two->weights.size(), two->second.size());
        EXPECT_EQ(*std::max_element(two->weights.begin(), two->weights.end()), 1) << name;
        for (const ScreenMap& second : two->second)
            for (const Point& corner : cornersOf(size)) { // all of the screen comes from inside the picture between
                const Point p = second.toSource(corner);
                EXPECT_TRUE(p.x > 0.5 && p.y > 0.5 && p.x < two->size.width - 0.5 && p.y < two->size.height - 0.5)
                    << name;
            }
    }
    const auto eased = twoPassOf(named("spin, eased").at, size, 1.5, 256);
    EXPECT_LT(eased->weights.back(), 0.3 * eased->weights.front()) << "equal lengths take less time when it is faster";
    EXPECT_FALSE(twoPassOf(named("lens").at, size, 1.5, 256));
    EXPECT_FALSE(twoPassOf(named("perspective").at, size, 1.5, 256));
    EXPECT_FALSE(twoPassOf([](double t) { return about(rotation(0.5 * t)); }, size, 1.5, 256)) << "too short to pay";
    const auto turnsBack = [](double t) { return about(then(rotation(30 * t), translation(400 * t * (1 - t), 0))); };
    EXPECT_FALSE(twoPassOf(turnsBack, size, 1.5, 256)) << "not one movement all along";
}

// The source's own movement: pictures are averaged in linear light by the time they are on screen.
TEST(SourceShutter, WeighsPicturesByTheirTime) {
    std::vector<SourcePool::Shown> sources;
    const std::uint8_t greys[] = {0, 255, 128};
    const double ends[] = {0, 0.2, 0.75, 1};
    double light = 0;
    for (int i = 0; i < 3; ++i) {
        const auto picture =
            std::make_shared<const Pyramid>(pyramidOf(solidPicture({64, 36}, {greys[i], greys[i], greys[i], 255})));
        sources.push_back({picture, ends[i], ends[i + 1]});
        light += linearFromCode(greys[i] / 255.0) * (ends[i + 1] - ends[i]);
    }
    for (const double speed : {0.0, 20.0, 200.0}) { // at rest, moving, and long enough for running sums
        MovingLayer layer{[speed](double t) { return ScreenMap(translation(speed * t, 0)); }};
        const auto picture = renderDeepLayer(
            std::make_unique<Exposure>(std::move(layer), sources, Size{64, 36}, exactQuality), {64, 36});
        EXPECT_NEAR(double(picture.at(30, 20).g - deepBlack) / (deepWhite - deepBlack), codeFromLinear(light), 2e-4)
            << speed;
    }
}

TEST(SourceShutter, EachPictureMovesOnlyWhileItIsOnScreen) {
    // Two pictures, the first half and the second half of the exposure, while the layer slides by 200.
    Image<Rgba8> dark = solidPicture({400, 16}, {0, 0, 0, 255}), line = copyOf(dark);
    for (int y = 0; y < 16; ++y) std::fill_n(line.row(y) + 100, 2, Rgba8{255, 255, 255, 255});
    std::vector<SourcePool::Shown> sources = {{std::make_shared<const Pyramid>(pyramidOf(line)), 0, 0.5},
                                              {std::make_shared<const Pyramid>(pyramidOf(dark)), 0.5, 1}};
    MovingLayer layer{[](double t) { return ScreenMap(translation(200 * t, 0)); }};
    const auto picture =
        renderDeepLayer(std::make_unique<Exposure>(std::move(layer), sources, Size{400, 16}, exactQuality), {400, 16});
    EXPECT_GT(picture.at(150, 8).g, deepBlack + 1000);
    EXPECT_GT(picture.at(190, 8).g, deepBlack + 1000);
    EXPECT_NEAR(picture.at(230, 8).g, deepBlack, 2) << "by then the second picture is on screen";
}

// Cancelling waits for no more than the tiles that are being sampled: of the picture between two passes, which is
// most of the work, nothing is made once it is asked for.
TEST(Cancelling, GivesUpThePictureBetweenThePasses) {
    const Case& c = named("spin 180 in 8 frames");
    const auto alphaInTheCorner = [&](const Cancel& cancel) {
        std::vector<SourcePool::Shown> sources{{sourcePicture(), 0, 1}};
        const Exposure exposure(MovingLayer{c.at}, std::move(sources), size, exactQuality, cancel);
        std::vector<LinearF> block(64 * 64);
        exposure.sample({0, 0, 64, 64}, block.data());
        return block[0].a;
    };
    Cancel cancel;
    EXPECT_NEAR(alphaInTheCorner(cancel), 1, 1e-3);
    cancel.request();
    EXPECT_EQ(alphaInTheCorner(cancel), 0);
}

} // namespace
} // namespace virga::exposure_test
