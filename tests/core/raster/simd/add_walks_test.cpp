// Every set of instructions that this machine has, against the plain loop: the same bits, and nothing written beside.
#include "core/raster/simd/add_walks.h"

#include <cmath>
#include <random>
#include <vector>

#include "tests/core/raster/simd/every_target.h"

namespace virga::add_walks_test {
namespace {

constexpr std::int32_t guard = 0x5a5a5a5a;

struct Scene {
    int width, height;
    std::vector<std::uint16_t> pixels;
};

Scene noise(int width, int height, unsigned seed) {
    std::mt19937 random(seed);
    Scene scene{width, height, std::vector<std::uint16_t>(std::size_t(width * height + 1) * 4)};
    for (auto& v : scene.pixels) v = random() % 5 == 0 ? 32767 : std::uint16_t(random() % 32768);
    return scene;
}

std::vector<std::int32_t> run(bool plain, const std::vector<Walk>& walks, Edges edges, int width, int height) {
    std::vector<std::int32_t> block(std::size_t(width * height) * 4 + 128, guard);
    std::fill(block.begin() + 64, block.end() - 64, 0);
    (plain ? addWalksPlainly : addWalks)(walks, edges, width, height, shiftFor(walks.size()), block.data() + 64);
    return block;
}

using AddWalks = EveryTarget;

TEST_F(AddWalks, GivesThePlainLoopsBits) {
    std::mt19937 random(3);
    std::uniform_real_distribution<float> d(-1, 1);
    const Edges all[] = {EdgeFill::Empty,  EdgeFill::Hold,        EdgeFill::Repeat,
                         EdgeFill::Mirror, {EdgeFill::Repeat, 2}, {EdgeFill::Mirror, 1}};
    for (int i = 0; i < 120; ++i) {
        const Scene big = noise(1 + int(random() % 90), 1 + int(random() % 70), unsigned(i)), small = noise(9, 5, 7);
        const int width = 1 + int(random() % 64), height = 1 + int(random() % 9);
        std::vector<Walk> walks;
        std::vector<Bend> bends(21);
        for (Bend& bend : bends) {
            bend.scaleX = 2.0f / float(width), bend.scaleY = 2.0f / float(height);
            for (int j = 0; j < 16; ++j) {
                bend.u[j / 4][j % 4] = 60 * d(random) / float(1 + j),
                                  bend.v[j / 4][j % 4] = 60 * d(random) / float(1 + j);
            }
        }
        const Edges edges = all[i % 6];
        for (int k = 0; k < 1 + i % 21; ++k) {
            const Scene& scene = k % 4 == 3 ? small : big;
            const float zoom = std::exp2(2 * d(random)), angle = 3.2f * d(random);
            walks.push_back({scene.pixels.data(), scene.width, scene.height, 200 * d(random), 200 * d(random),
                             zoom * std::cos(angle), zoom * std::sin(angle), -zoom * std::sin(angle),
                             zoom * std::cos(angle), k % 3 == 1 ? int(random() % (wholeWeight + 1)) : wholeWeight});
            Walk& walk = walks.back();
            walk.lowU = -float(edges.copies * scene.width), walk.highU = float((edges.copies + 1) * scene.width);
            walk.lowV = -float(edges.copies * scene.height), walk.highV = float((edges.copies + 1) * scene.height);
            if (i % 4 >= 2 && k % 2) walk.bend = &bends[std::size_t(k)];
        }
        if (i % 5 == 0) walks[0].ux = 1, walks[0].vx = 0, walks[0].u = 0.5f; // on the pixels exactly
        use(0);
        const auto want = run(true, walks, edges, width, height);
        for (const std::int64_t target : m_targets) {
            use(target);
            ASSERT_EQ(run(false, walks, edges, width, height), want)
                << hwy::TargetName(target) << ", edges " << int(edges.fill) << ", round " << i;
        }
    }
}

TEST_F(AddWalks, KeepsWhiteWhiteAndBlackBlack) {
    for (const std::uint16_t value : {std::uint16_t(0), std::uint16_t(32767)}) {
        Scene scene{33, 17, std::vector<std::uint16_t>(std::size_t(33 * 17 + 1) * 4, value)};
        std::vector<Walk> walks;
        for (int k = 0; k < 37; ++k)
            walks.push_back({scene.pixels.data(), 33, 17, 3.1f * float(k), 1.7f * float(k), 0.83f, 0.21f, -0.4f, 0.77f,
                             wholeWeight});
        const int shift = shiftFor(walks.size());
        // 18 pairs and a single one, each exact and then shifted down with rounding.
        const auto down = [&](std::int64_t v) { return (v + (std::int64_t(1) << shift) / 2) >> shift; };
        const std::int64_t one = std::int64_t(value) * wholeWeight, want = 18 * down(2 * one) + down(one);
        for (const std::int64_t target : m_targets) {
            use(target);
            const auto block = run(false, walks, EdgeFill::Mirror, 20, 3);
            for (std::size_t i = 64; i < block.size() - 64; ++i) ASSERT_EQ(block[i], want) << hwy::TargetName(target);
            EXPECT_EQ(block[63], guard);
            EXPECT_EQ(block[block.size() - 64], guard);
        }
    }
}

TEST(Shift, KeepsSumsBelowTwoToTheThirty) {
    for (const std::size_t count : {1u, 2u, 3u, 8u, 9u, 64u, 255u, 256u, 257u, 1024u}) {
        const double most = double(count) * wholeWeight * 32767 / double(1 << shiftFor(count));
        EXPECT_LE(most, double(1 << 30)) << count;
    }
}

} // namespace
} // namespace virga::add_walks_test
