#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <set>
#include <vector>

#include "tests/support/pictures.h"

namespace virga::transfer_test {
namespace {

// IEC 61966-2-1: the linear part below 0.04045, and the published middle value.
TEST(Transfer, FollowsSrgb) {
    EXPECT_NEAR(linearFromCode(0.04045), 0.04045 / 12.92, 1e-12);
    EXPECT_NEAR(linearFromCode(0.5), 0.21404114, 1e-7);
    EXPECT_NEAR(codeFromLinear(linearFromCode(0.7)), 0.7, 1e-12);
    EXPECT_DOUBLE_EQ(linearFromCode(1), 1);
}

TEST(Transfer, EveryCodeValueComesBack) {
    Image<Rgba8> ramp(256, 1);
    for (int i = 0; i < 256; ++i) ramp.at(i, 0) = {std::uint8_t(i), std::uint8_t(255 - i), std::uint8_t(i), 255};
    const auto linear = linearise(ramp.view());
    std::vector<LinearF> floats(256);
    for (int i = 0; i < 256; ++i) {
        const Linear16 p = linear.at(i, 0);
        floats[std::size_t(i)] = {p.r / float(linearOne), p.g / float(linearOne), p.b / float(linearOne),
                                  p.a / float(linearOne)};
    }
    Image<Rgba8> back(256, 1);
    encodeRow(floats.data(), back.row(0), 256);
    for (int i = 0; i < 256; ++i) EXPECT_EQ(back.at(i, 0), ramp.at(i, 0)) << i;
}

TEST(Transfer, PixelsThatWereNotSampledGetTheSameCodes) {
    std::vector<Linear16> all(linearOne + 1);
    std::vector<LinearF> floats(all.size());
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto v = std::uint16_t(i), w = std::uint16_t(linearOne - i);
        all[i] = {v, w, v, w};
        floats[i] = {float(v) / linearOne, float(w) / linearOne, float(v) / linearOne, float(w) / linearOne};
    }
    std::vector<Rgba8> direct(all.size()), byFloats(all.size());
    encodeRow(all.data(), direct.data(), int(all.size()));
    encodeRow(floats.data(), byFloats.data(), int(all.size()));
    EXPECT_EQ(direct, byFloats);
}

TEST(Transfer, TenBitSourcesKeepTheirSteps) {
    Image<Rgba16> ramp(1024, 1);
    for (int i = 0; i < 1024; ++i) {
        const auto v = std::uint16_t(i * 65535 / 1023);
        ramp.at(i, 0) = {v, v, v, 65535};
    }
    const auto linear = linearise(ramp.view());
    int equal = 0;
    for (int i = 1; i < 1024; ++i) {
        EXPECT_GE(linear.at(i, 0).g, linear.at(i - 1, 0).g);
        equal += linear.at(i, 0).g == linear.at(i - 1, 0).g;
    }
    EXPECT_EQ(equal, 0) << "no two of the 1024 steps fall together";
}

TEST(Transfer, PremultipliesStraightAlpha) {
    Image<Rgba8> half(1, 1);
    half.at(0, 0) = {255, 0, 0, 128};
    const Linear16 p = linearise(half.view()).at(0, 0);
    EXPECT_NEAR(p.a / double(linearOne), 128.0 / 255, 1e-4);
    const LinearF light = lightOf(LinearF{p.r / float(linearOne), p.g / float(linearOne), 0, p.a / float(linearOne)});
    EXPECT_NEAR(light.r, light.a, 1e-4);
    EXPECT_NEAR(light.g, 0, 1e-4);
}

// Bayer 1973: over the pattern's 8 x 8 pixels the mean is the value itself, and all its thresholds differ.
TEST(Dither, KeepsTheMeanAndEveryCode) {
    for (int i = 0; i <= 640; ++i) {
        const double code = 40 + i / 64.0 * 2; // code values with fractions
        const float v = float(linearFromCode(code / 255));
        const std::vector<LinearF> row(8, keptOf(LinearF{v, v, v, 1}));
        double sum = 0;
        std::vector<Rgba8> out(8);
        for (int y = 0; y < 8; ++y) {
            ditherRow(row.data(), out.data(), 8, 16, y + 8);
            for (const Rgba8& p : out) {
                EXPECT_LE(std::abs(p.g - code), 1) << code;
                if (std::abs(code - std::round(code)) < 0.04) EXPECT_EQ(p.g, std::lround(code)) << code;
                EXPECT_EQ(p.a, 255);
                sum += p.g / 64.0;
            }
        }
        EXPECT_NEAR(sum, code, 0.08) << "7/8 of a code value is spread";
    }
    std::set<int> ranks;
    for (int i = 0; i < 64 * 8; ++i) { // as many different patterns between two code values
        const float v = float(linearFromCode((100 + i / 512.0) / 255));
        const std::vector<LinearF> row(8, keptOf(LinearF{v, v, v, 1}));
        int ones = 0;
        std::vector<Rgba8> out(8);
        for (int y = 0; y < 8; ++y) {
            ditherRow(row.data(), out.data(), 8, 0, y);
            for (const Rgba8& p : out) ones += p.g == 101;
        }
        ranks.insert(ones);
    }
    EXPECT_GE(ranks.size(), 60u);
}

TEST(Dither, LiesStillOnTheScreen) {
    const std::vector<LinearF> row(32, LinearF{0.2f, 0.21f, 0.22f, 1});
    std::vector<Rgba8> whole(32), part(16);
    ditherRow(row.data(), whole.data(), 32, 0, 5);
    ditherRow(row.data(), part.data(), 16, 11, 5);
    for (std::size_t i = 0; i < 16; ++i) EXPECT_EQ(part[i], whole[i + 11]);
}

TEST(Transfer, SixteenBitsAreWithinAStep) {
    for (int i = 0; i <= 100000; ++i) {
        const float v = float(i) / 100000;
        const LinearF p = keptOf(LinearF{v, v, v, v});
        Deep16 out;
        encodeRow(&p, &out, 1);
        ASSERT_NEAR(out.g, deepBlack + codeFromLinear(v) * (deepWhite - deepBlack), 1) << v;
        ASSERT_NEAR(out.a, v * 65535, 0.6) << v;
    }
    // What was not sampled gets the same codes.
    for (int i = 0; i <= linearOne; i += 7) {
        const Linear16 p{std::uint16_t(i), std::uint16_t(i), std::uint16_t(i), std::uint16_t(i)};
        const LinearF f{float(i) * (1.0f / linearOne), 0, 0, float(i) * (1.0f / linearOne)};
        Deep16 a, b;
        encodeRow(&p, &a, 1);
        encodeRow(&f, &b, 1);
        ASSERT_EQ(a.r, b.r) << i;
    }
}

TEST(Transfer, ClampsWhatIsOutside) {
    const LinearF wild[3] = {keptOf(LinearF{-1, 2, 0.5f, 3}), keptOf(LinearF{1e9f, -1e9f, 0, -1}), {0, 0, 0, 0}};
    Rgba8 out[3];
    encodeRow(wild, out, 3);
    EXPECT_EQ(out[0], (Rgba8{0, 255, 188, 255}));
    EXPECT_EQ(out[1], (Rgba8{255, 0, 0, 0}));
    EXPECT_EQ(out[2], (Rgba8{0, 0, 0, 0}));
}

TEST(Transfer, WhatIsNoNumberIsACodeAllTheSame) {
    const float nan = std::numeric_limits<float>::quiet_NaN(), huge = std::numeric_limits<float>::infinity();
    const LinearF odd[3] = {{nan, nan, nan, nan}, {huge, -huge, nan, 1}, {0.5f, 0.5f, 0.5f, huge}};
    Rgba8 eight[3];
    Deep16 deep[3];
    encodeRow(odd, eight, 3);
    ditherRow(odd, eight, 3, 0, 0);
    encodeRow(odd, deep, 3);
    EXPECT_EQ(deep[0].a, 0);
    EXPECT_GT(deep[1].r, deepWhite) << "beyond white, held";
    EXPECT_LT(deep[1].g, deepBlack) << "beyond black, held";
    EXPECT_LE(deep[1].b, deepBlack) << "no number: no light";
    EXPECT_EQ(eight[1], (Rgba8{255, 0, 0, 255}));
    EXPECT_EQ(keptOf(std::nan("")), 0);
}

} // namespace
} // namespace virga::transfer_test
