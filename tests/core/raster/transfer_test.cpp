#include "core/raster/transfer.h"

#include <gtest/gtest.h>
#include <vector>

#include "tests/support/pictures.h"

namespace virga {
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
    EXPECT_EQ(p.r, p.a);
    EXPECT_EQ(p.g, 0);
}

TEST(Transfer, ClampsWhatIsOutside) {
    const LinearF wild[3] = {{-1, 2, 0.5f, 3}, {1e9f, -1e9f, 0, -1}, {0, 0, 0, 0}};
    Rgba8 out[3];
    encodeRow(wild, out, 3);
    EXPECT_EQ(out[0], (Rgba8{0, 255, 188, 255}));
    EXPECT_EQ(out[1], (Rgba8{255, 0, 0, 0}));
    EXPECT_EQ(out[2], (Rgba8{0, 0, 0, 0}));
}

} // namespace
} // namespace virga
