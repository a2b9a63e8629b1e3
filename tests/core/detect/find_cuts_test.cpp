#include "core/detect/find_cuts.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/clips.h"

namespace virga {
namespace {

using namespace test;

constexpr Size size{320, 180};

// A shot: soft blobs of its own colours that drift by, with a little noise as every camera has.
Image<Rgba8> shotPicture(int shot, double time, unsigned noise, double brighter = 0) {
    std::mt19937 chance(unsigned(shot) * 7919u + 5u);
    std::uniform_real_distribution<double> any(0, 1);
    struct Blob {
        double x, y, r, vx, vy, c[3];
    };
    std::vector<Blob> blobs(9);
    for (Blob& b : blobs) {
        b = {any(chance), any(chance), 0.1 + 0.25 * any(chance), (any(chance) - 0.5) * 0.02, (any(chance) - 0.5) * 0.02,
             {}};
        for (double& c : b.c) c = any(chance);
    }
    std::mt19937 grain(noise);
    Image<Rgba8> out(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            double c[3] = {0.2, 0.2, 0.2};
            for (const Blob& b : blobs) {
                const double dx = double(x) / size.width - b.x - b.vx * time,
                             dy = double(y) / size.width - b.y - b.vy * time;
                const double w = std::exp(-(dx * dx + dy * dy) / (b.r * b.r) * 4);
                for (int i = 0; i < 3; ++i) c[i] = c[i] * (1 - w) + b.c[i] * w;
            }
            const int n = int(grain() % 9) - 4;
            const auto code = [&](double v) { return std::uint8_t(std::clamp(int(v * 200 + brighter) + n, 0, 255)); };
            out.at(x, y) = {code(c[0]), code(c[1]), code(c[2]), 255};
        }
    return out;
}

Image<Linear16> linear(const Image<Rgba8>& picture) {
    Image<Linear16> out(picture.size());
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const Rgba8 p = picture.at(x, y);
            const auto light = [](std::uint8_t v) { return keptOf(std::pow(v / 255.0, 2.2)); };
            out.at(x, y) = {light(p.r), light(p.g), light(p.b), linearOne};
        }
    return out;
}

std::vector<std::int64_t> sureCuts(CutFinder& finder) {
    std::vector<std::int64_t> out;
    for (const FoundCut& cut : finder.finish())
        if (cut.confidence >= surely) out.push_back(cut.picture);
    return out;
}

TEST(FindCuts, FindsEveryHardCutToTheFrame) {
    CutFinder finder;
    std::vector<std::int64_t> wanted;
    std::int64_t n = 0;
    unsigned noise = 1;
    for (const int length : {20, 9, 31, 6, 14, 40, 12}) {
        if (n > 0) wanted.push_back(n);
        const int shot = int(wanted.size());
        for (int i = 0; i < length; ++i, ++n) finder.add(linear(shotPicture(shot, i, noise++)));
    }
    EXPECT_EQ(sureCuts(finder), wanted);
}

TEST(FindCuts, AWhipPanIsNoCut) {
    CutFinder finder;
    unsigned noise = 1;
    for (int i = 0; i < 50; ++i) {
        const double fast = i < 20 ? 0 : i < 30 ? (i - 20) * 6.0 : 60; // a frame width in ten frames
        finder.add(linear(shotPicture(4, fast, noise++)));
    }
    EXPECT_TRUE(sureCuts(finder).empty());
}

// A camera that repeats pictures before it shows how far a hand has gone meanwhile: a step, but a part of a bright
// picture, which stays where it is.
TEST(FindCuts, AHandInAStutteringPictureIsNoCut) {
    CutFinder finder;
    for (int n = 0; n < 48; ++n) {
        Image<Rgba8> picture = shotPicture(3, 0, unsigned(n), 50);
        const int left = (n / 6 * 45) % 240; // held for six pictures, then somewhere else
        for (int y = size.height / 3; y < size.height; ++y)
            for (int x = left; x < left + 70; ++x) picture.at(x, y) = {150, 110, 100, 255};
        finder.add(linear(picture));
    }
    EXPECT_TRUE(sureCuts(finder).empty());
}

TEST(FindCuts, AFlashIsNoCut) {
    CutFinder finder;
    unsigned noise = 1;
    for (int i = 0; i < 40; ++i) finder.add(linear(shotPicture(2, i, noise++, i == 20 || i == 21 ? 120 : 0)));
    EXPECT_TRUE(sureCuts(finder).empty());
}

TEST(FindCuts, ACutOutOfBlackIsOne) {
    CutFinder finder;
    for (int i = 0; i < 12; ++i) finder.add(Image<Linear16>(size));
    for (int i = 0; i < 12; ++i) finder.add(linear(shotPicture(1, i, unsigned(i))));
    EXPECT_EQ(sureCuts(finder), std::vector<std::int64_t>{12});
}

TEST(FindCuts, ReadsAVideo) {
    TemporaryFolder folder;
    writeClip(folder / "flat.mp4", size, 25, 36, [](int n) { return shotPicture(n / 12, n, unsigned(n)); });
    double last = -1;
    const auto found = findCuts(folder / "flat.mp4", [&](double part) { last = part; });
    ASSERT_TRUE(found) << describe(found.error());
    EXPECT_EQ(found->pictures, 36);
    ASSERT_EQ(found->cuts.size(), 2u);
    EXPECT_EQ(found->cuts[0].picture, 12);
    EXPECT_EQ(found->cuts[1].seconds, Rational(24, 25));
    EXPECT_GT(last, 0.5);
    Cancel cancel;
    cancel.request();
    EXPECT_EQ(findCuts(folder / "flat.mp4", {}, cancel).error().code, ErrorCode::Cancelled);
    EXPECT_EQ(findCuts(folder / "no.mp4").error().code, ErrorCode::NotFound);
}

} // namespace
} // namespace virga
