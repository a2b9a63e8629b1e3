// Every set of instructions that this machine has, against the plain loop: the same bits, and nothing written beside.
#include "core/raster/simd/deep_codes.h"

#include <cmath>
#include <limits>
#include <random>

#include "core/raster/image.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/core/raster/simd/every_target.h"

namespace virga::deep_codes_test {
namespace {

using DeepCodes = EveryTarget;

// A curve of its own, with kinks, so that a wrong place in the table shows.
struct Kinked {
    std::vector<float> table;
    DeepCurve curve;
    Kinked() {
        std::mt19937 random(1);
        for (int i = 0; i < (DeepCurve::octaves + 1) * 256 + 2; ++i) table.push_back(float(random() % 60000));
        curve = {table.data(), 1e5f, deepBlack, lightFloor, lightCeiling};
    }
};

std::vector<float> pixels(int count, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<float> d(-0.1f, 1.2f);
    const float odd[] = {0,
                         -0.0f,
                         1,
                         2,
                         -1,
                         1e30f,
                         -1e30f,
                         1e-30f,
                         std::ldexp(1.0f, -9),
                         std::nextafter(std::ldexp(1.0f, -9), 0.0f),
                         std::numeric_limits<float>::infinity(),
                         -std::numeric_limits<float>::infinity(),
                         std::numeric_limits<float>::quiet_NaN()};
    std::vector<float> values;
    for (int i = 0; i < 4 * count; ++i)
        values.push_back(random() % 6 == 0 ? odd[random() % std::size(odd)] : d(random));
    return values;
}

TEST_F(DeepCodes, AreThePlainLoopsBits) {
    const Kinked kinked;
    constexpr std::uint16_t guard = 0xabcd;
    for (int count = 0; count < 70; ++count) {
        const std::vector<float> from = pixels(count, unsigned(count));
        const auto run = [&](bool plain) {
            std::vector<std::uint16_t> to(std::size_t(4 * count) + 64, guard);
            (plain ? deepCodesPlainly : deepCodes)(from.data(), to.data() + 32, count, lightSpan, kinked.curve);
            return to;
        };
        const auto expected = run(true);
        for (int i = 0; i < 32; ++i) {
            ASSERT_EQ(expected[std::size_t(i)], guard);
            ASSERT_EQ(expected[expected.size() - 1 - std::size_t(i)], guard);
        }
        for (const std::int64_t target : m_targets) {
            use(target);
            ASSERT_EQ(run(false), expected) << hwy::TargetName(target) << ", " << count << " pixels";
        }
    }
}

// IEC 61966-2-1's curve itself, at every 15-bit light from black to white: within half a code and the table's error.
TEST_F(DeepCodes, AreTheStandardsCurve) {
    for (int kept = keptBlack; kept <= keptWhite; ++kept) {
        const float part = float(kept) / float(linearOne);
        const LinearF pixel{part, part, part, 1};
        Deep16 code;
        encodeRow(&pixel, &code, 1);
        const double light = double(kept - keptBlack) / (keptWhite - keptBlack);
        const double curve = light <= 0.0031308 ? 12.92 * light : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
        ASSERT_NEAR(code.r, deepBlack + curve * (deepWhite - deepBlack), 1.0) << kept;
    }
}

} // namespace
} // namespace virga::deep_codes_test
