#include "core/raster/source_light.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"

namespace virga::source_light_test {
namespace {

// Recommendation ITU-R BT.2087-0, annex 1, step 3 (M2): linear BT.2020 to linear BT.709, to four decimals. From memory.
TEST(Primaries, Bt2020ToBt709IsThatOfBt2087) {
    const double want[3][3] = {{1.6605, -0.5876, -0.0728}, {-0.1246, 1.1329, -0.0083}, {-0.0182, -0.1006, 1.1187}};
    const Matrix3 m = toBt709(Primaries::Bt2020);
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(m[r][c], want[r][c], 6e-5) << r << ' ' << c;
}

TEST(Primaries, WhiteStaysWhite) {
    for (const Primaries p : {Primaries::Bt709, Primaries::Bt2020, Primaries::P3})
        for (const auto& row : toBt709(p)) EXPECT_NEAR(row[0] + row[1] + row[2], 1, 1e-12);
}

// Recommendation ITU-R BT.2408, table 1: HDR reference white is 203 cd/m², 58 % of PQ and 75 % of HLG; BT.2100: PQ 1 is
// 10,000 cd/m². 100 cd/m² as PQ is 0.5081 (SMPTE ST 2084; both from memory).
TEST(HdrCurves, MeetTheStandardsNumbers) {
    EXPECT_NEAR(lightFromPq(1), 10000, 1e-6);
    EXPECT_NEAR(lightFromPq(0), 0, 1e-9);
    EXPECT_NEAR(pqFromLight(100), 0.5081, 5e-5);
    EXPECT_NEAR(pqFromLight(203), 0.58, 2e-3);
    for (const double v : {0.1, 0.35, 0.5, 0.75, 0.99}) EXPECT_NEAR(pqFromLight(lightFromPq(v)), v, 1e-12);
    EXPECT_NEAR(sceneFromHlg(0.5), 1.0 / 12, 1e-12);
    EXPECT_NEAR(sceneFromHlg(1), 1, 1e-6);
    EXPECT_NEAR(1000 * std::pow(sceneFromHlg(0.75), 1.2), 203, 0.6);
}

// BT.2390: nothing changes below the knee, the peak becomes white, and the curve and its slope have no break.
TEST(ToneMapping, IsSmoothAndEndsAtWhite) {
    EXPECT_NEAR(toneMapped(1000, 1000), referenceWhite, 1e-6);
    EXPECT_NEAR(toneMapped(4000, 4000), referenceWhite, 1e-6);
    EXPECT_NEAR(toneMapped(20, 1000), 20, 1e-9);
    EXPECT_EQ(toneMapped(150, 200), 150) << "no brighter than white: as it is";
    double before = 0, slope = 1;
    for (double light = 0.5; light <= 1000; light *= 1.02) {
        const double now = toneMapped(light, 1000);
        EXPECT_GT(now, before) << light;
        const double rise = std::log(now / std::max(before, 1e-9)) / std::log(1.02);
        if (before > 0) {
            EXPECT_LT(std::abs(rise - slope), 0.06) << light;
            slope = rise;
        }
        before = now;
    }
}

TEST(LightTable, GreyStaysGreyAndWhiteStaysBelowOne) {
    for (const Transfer t : {Transfer::Hlg, Transfer::Pq}) {
        const LightTable table({Primaries::Bt2020, t});
        float before = -1;
        for (int code = deepBlack; code <= deepWhite; code += 97) {
            const auto v = table(std::uint16_t(code), std::uint16_t(code), std::uint16_t(code));
            EXPECT_NEAR(v[0], v[1], 2e-3);
            EXPECT_NEAR(v[2], v[1], 2e-3);
            EXPECT_GE(v[1], before - 1e-4f);
            EXPECT_LE(v[1], 1.001f);
            before = v[1];
        }
    }
    // Diffuse white, 75 % HLG or 58 % PQ, is a bright grey: highlights need the rest.
    const LightTable hlg({Primaries::Bt2020, Transfer::Hlg});
    const auto code = std::uint16_t(deepBlack + 0.75 * (deepWhite - deepBlack));
    EXPECT_NEAR(hlg(code, code, code)[1], toneMapped(203, 1000) / referenceWhite, 5e-3);
}

// What limited range has beyond black and white is kept, and comes out again.
TEST(KeptLight, LimitedCodesBeyondWhiteComeBack) {
    std::vector<std::uint16_t> codes;
    for (int v = 1; v <= 254; ++v) codes.push_back(std::uint16_t(v * 256));
    const ImageView<const std::uint16_t> plane{codes.data(), int(codes.size()), 1, int(codes.size())};
    const auto picture = linearise(plane, plane, plane);
    std::vector<Deep16> back(codes.size());
    encodeRow(picture.row(0), back.data(), int(codes.size()));
    for (std::size_t i = 0; i < codes.size(); ++i) EXPECT_NEAR(back[i].g / 256.0, codes[i] / 256.0, 0.07) << codes[i];
    std::vector<Rgba8> shown(codes.size());
    encodeRow(picture.row(0), shown.data(), int(codes.size()));
    EXPECT_EQ(shown.front().g, 0);
    EXPECT_EQ(shown.back().g, 255);
}

} // namespace
} // namespace virga::source_light_test
