#include "core/analysis/find_cuts.h"

#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>
#include <random>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/clips.h"

namespace virga::find_cuts_test {
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
    EXPECT_EQ(sureCuts(finder), std::vector<std::int64_t>());
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
    EXPECT_EQ(sureCuts(finder), std::vector<std::int64_t>());
}

TEST(FindCuts, AFlashIsNoCut) {
    CutFinder finder;
    unsigned noise = 1;
    for (int i = 0; i < 40; ++i) finder.add(linear(shotPicture(2, i, noise++, i == 20 || i == 21 ? 120 : 0)));
    EXPECT_EQ(sureCuts(finder), std::vector<std::int64_t>());
}

TEST(FindCuts, AFlashOnACutIsOneCut) {
    CutFinder finder;
    unsigned noise = 1;
    for (int i = 0; i < 40; ++i)
        finder.add(linear(shotPicture(i < 20 ? 2 : 5, i, noise++, i >= 18 && i < 22 ? 140 : 0)));
    const auto cuts = sureCuts(finder);
    ASSERT_EQ(cuts.size(), 1u);
    EXPECT_NEAR(double(cuts[0]), 20, 2);
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

// Shots of the demo reel, joined by all ways of getting from one to the other that take 8 to 30 pictures. They are
// blended as they look, in code values, as editing programs do.
class GradualCuts : public testing::Test {
protected:
    static constexpr int least = 8, most = 30, around = 25;
    void SetUp() override {
        for (const char* name : {"dawn-crane", "lantern-rig", "first-heat", "lighthouse", "quay-stalls", "second-heat",
                                 "lamps-lit", "last-light"}) {
            const fs::path file = fs::path(VIRGA_SOURCE_DIR) / "demo/footage" / (std::string(name) + ".mp4");
            if (fs::exists(file)) m_shots.push_back(small(file));
        }
        addFootage();
        if (m_shots.size() < 4) GTEST_SKIP() << "the demo's footage was not drawn: ./check does that first";
    }
    // Real shots too, where there are some (tools/check_real_footage).
    void addFootage() {
        const char* folder = std::getenv("VIRGA_REAL_FOOTAGE");
        if (!folder) return;
        for (const char* name : {"cockatoo.mp4", "realshort.mp4", "birds.mp4", "tree.avi", "vtest.avi",
                                 "retroMars2018.avi", "newtonscradle.gif", "balle-jbart.mp4"})
            if (fs::exists(fs::path(folder) / name)) m_shots.push_back(small(fs::path(folder) / name));
    }
    static std::vector<SmallPicture> small(const fs::path& file) {
        std::vector<SmallPicture> out;
        const Ran ran = runProgram("ffmpeg -nostdin -v error -i '" + file.string() +
                                   "' -vf scale=64:36:flags=area -pix_fmt gbrp -frames:v 200 -f rawvideo -");
        constexpr std::size_t plane = std::size_t(SmallPicture::width) * SmallPicture::height;
        for (std::size_t at = 0; at + 3 * plane <= ran.out.size(); at += 3 * plane) {
            SmallPicture p;
            std::copy_n(ran.out.begin() + std::ptrdiff_t(at), plane, p.green.begin());
            std::copy_n(ran.out.begin() + std::ptrdiff_t(at + plane), plane, p.blue.begin());
            std::copy_n(ran.out.begin() + std::ptrdiff_t(at + 2 * plane), plane, p.red.begin());
            out.push_back(p);
        }
        return out;
    }
    enum Way { Dissolve, Eased, WipeRight, WipeDown, OverBlack, ways };
    // How much of the new shot is seen at a point, and how bright all is.
    static std::pair<double, double> shareAt(Way way, double part, int x, int y) {
        switch (way) {
        case Dissolve:
            return {part, 1};
        case Eased:
            return {part * part * (3 - 2 * part), 1};
        case WipeRight:
            return {(x + 0.5) / SmallPicture::width < part ? 1.0 : 0.0, 1};
        case WipeDown:
            return {(y + 0.5) / SmallPicture::height < part ? 1.0 : 0.0, 1};
        default:
            return {part < 0.5 ? 0 : 1, std::abs(1 - 2 * part)};
        }
    }
    static SmallPicture blended(const SmallPicture& a, const SmallPicture& b, Way way, double part) {
        SmallPicture out;
        for (int y = 0; y < SmallPicture::height; ++y)
            for (int x = 0; x < SmallPicture::width; ++x) {
                const auto [share, bright] = shareAt(way, part, x, y);
                const auto i = std::size_t(y * SmallPicture::width + x);
                const auto mix = [&](std::uint8_t u, std::uint8_t v) {
                    return std::uint8_t(std::lround((u * (1 - share) + v * share) * bright));
                };
                out.red[i] = mix(a.red[i], b.red[i]);
                out.green[i] = mix(a.green[i], b.green[i]);
                out.blue[i] = mix(a.blue[i], b.blue[i]);
            }
        return out;
    }
    std::vector<std::vector<SmallPicture>> m_shots;
};

TEST_F(GradualCuts, AreFoundWithTheirFirstAndLastPicture) {
    std::mt19937 chance(5);
    int made = 0, right = 0, wrong = 0;
    std::vector<double> off;
    for (int round = 0; round < 100; ++round) {
        const Way way = Way(round % ways);
        const int length = least + int(chance() % (most - least + 1));
        const auto one = chance() % m_shots.size(),
                   other = (one + 1 + chance() % (m_shots.size() - 1)) % m_shots.size();
        const auto &a = m_shots[one], &b = m_shots[other];
        const int fromA = std::min(int(a.size()), around + length), fromB = std::min(int(b.size()), around + length);
        if (fromA < length + 4 || fromB < length + 4) continue; // too short a shot
        const auto startA = chance() % (a.size() - std::size_t(fromA) + 1),
                   startB = chance() % (b.size() - std::size_t(fromB) + 1);
        GradualFinder finder;
        const int from = fromA - length - 1, to = fromA; // the last of the old shot, the first of the new one
        for (int n = 0; n < fromA + fromB - length; ++n) {
            const auto &old = a[startA + std::size_t(std::min(n, fromA - 1))],
                       &fresh = b[startB + std::size_t(std::max(0, n - (fromA - length)))];
            const double part = std::clamp(double(n - from) / (to - from), 0.0, 1.0);
            finder.add(n <= from ? old : n >= to ? fresh : blended(old, fresh, way, part));
        }
        ++made;
        bool hit = false;
        for (const FoundGradual& f : finder.finish()) {
            const bool good =
                double(std::min<std::int64_t>(f.to, to) - std::max<std::int64_t>(f.from, from)) >= 0.5 * (to - from);
            if (good && !hit)
                off.push_back(std::abs(double(f.from - from))), off.push_back(std::abs(double(f.to - to)));
            wrong += !good || hit;
            hit = hit || good;
        }
        right += hit;
    }
    ASSERT_GE(made, 60);
    EXPECT_GE(right * 10, made * 9) << right << " of " << made << " found";
    EXPECT_GE(right * 10, (right + wrong) * 9) << wrong << " that are none";
    std::sort(off.begin(), off.end());
    EXPECT_LE(off[off.size() / 2], 2) << "pictures, the middle one";
}

TEST_F(GradualCuts, AreNoneWithinAShot) {
    int found = 0;
    for (const auto& shot : m_shots) {
        GradualFinder finder;
        for (const SmallPicture& p : shot) finder.add(p);
        found += int(finder.finish().size());
    }
    EXPECT_EQ(found, 0);
}

} // namespace
} // namespace virga::find_cuts_test
