// Against ImageMagick 6, a general-purpose program: mirrored surroundings, and the sharper ways of enlarging. It works
// on the numbers it is given, so it is given linear light.
#include <cmath>
#include <cstdio>
#include <fstream>
#include <gtest/gtest.h>

#include "core/raster/sampler.h"
#include "core/raster/transfer.h"
#include "tests/support/folder.h"
#include "tests/support/pictures.h"

namespace virga::imagemagick_test {
namespace {

using namespace test;

// 16 bits, most significant byte first, as the netpbm format has it.
void writePpm(const fs::path& path, const Image<Linear16>& picture) {
    std::ofstream out(path, std::ios::binary);
    out << "P6\n" << picture.width() << ' ' << picture.height() << "\n65535\n";
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            for (const std::uint16_t v : {picture.at(x, y).r, picture.at(x, y).g, picture.at(x, y).b}) {
                const unsigned code = unsigned(v) * 2;
                out.put(char(code >> 8)).put(char(code & 255));
            }
}

Image<Linear16> readPpm(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::string magic;
    int width = 0, height = 0, most = 0;
    in >> magic >> width >> height >> most;
    in.get();
    EXPECT_EQ(magic, "P6");
    EXPECT_EQ(most, 65535);
    Image<Linear16> picture(width, height);
    const auto next = [&] {
        const int high = in.get(), low = in.get();
        return std::uint16_t((high * 256 + low + 1) / 2);
    };
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            picture.at(x, y).r = next();
            picture.at(x, y).g = next();
            picture.at(x, y).b = next();
        }
    return picture;
}

class AgainstImageMagick : public testing::Test {
protected:
    Image<Linear16> convert(const std::string& how) {
        const Ran ran = runProgram("convert " + (m_folder / "in.ppm").string() + " -depth 16 " + how + " " +
                                   (m_folder / "out.ppm").string());
        EXPECT_EQ(ran.code, 0) << ran.err;
        return readPpm(m_folder / "out.ppm");
    }
    TemporaryFolder m_folder;
};

TEST_F(AgainstImageMagick, MirroredSurroundings) {
    const Size size{240, 160};
    const Pyramid source = pyramidOf(texturedPicture(size));
    writePpm(m_folder / "in.ppm", source.level(0));
    struct Case {
        double scale, angle, x, y;
    };
    for (const Case& c : {Case{1, 25, 120, 80}, Case{1.3, -70, 310, -45}, Case{1.7, 200, 20, 400}}) {
        char how[200];
        std::snprintf(how, sizeof how,
                      "-virtual-pixel Mirror -filter Point -interpolate Bilinear -distort SRT '120,80 %g %g %g,%g'",
                      c.scale, c.angle, c.x, c.y);
        const auto want = convert(how);
        const ScreenMap map(then(then(translation(-120, -80), then(scaling(c.scale, c.scale), rotation(c.angle))),
                                 translation(c.x, c.y)));
        double sum = 0;
        int worst = 0, count = 0;
        std::vector<LinearF> row(64);
        for (int y = 0; y < size.height; y += 3)
            for (int x = 0; x + 64 <= size.width; x += 64) {
                sampleTile(source, EdgeFill::Mirror, {&map, 1}, {x, y, 64, 1}, row.data());
                for (int i = 0; i < 64; ++i) {
                    const int d = int(std::lround(row[std::size_t(i)].g * linearOne)) - want.at(x + i, y).g;
                    worst = std::max(worst, std::abs(d));
                    sum += double(d) * d;
                    ++count;
                }
            }
        EXPECT_GT(10 * std::log10(double(linearOne) * linearOne * count / sum), 60) << c.angle;
        EXPECT_LT(worst, 300) << c.angle << ", of 32767";
    }
}

TEST_F(AgainstImageMagick, SharperEnlarging) {
    const Pyramid source = pyramidOf(texturedPicture({96, 64}));
    writePpm(m_folder / "in.ppm", source.level(0));
    for (const auto& [how, name] :
         {std::pair(Enlarging::CatmullRom, "Catrom"), std::pair(Enlarging::Lanczos, "Lanczos")}) {
        const auto want = convert(std::string("-filter ") + name + " -resize 200%");
        const auto got = doubled(source.level(0), how);
        ASSERT_EQ(got.size(), want.size());
        int worst = 0;
        for (int y = 8; y < 120; ++y) // it leaves out what lies beyond the border, we let the border go on
            for (int x = 8; x < 184; ++x) worst = std::max(worst, std::abs(got.at(x, y).g - want.at(x, y).g));
        EXPECT_LE(worst, 8) << name << ", of 32767";
    }
}

// Enlarged twice a hard edge is steeper than the bilinear ramp, and at natural size nothing changes.
TEST(Enlarging, IsSharperAndMeetsNaturalSize) {
    Image<Rgba8> edge = solidPicture({64, 16}, {40, 40, 40, 255});
    for (int y = 0; y < 16; ++y) std::fill_n(edge.row(y), 32, Rgba8{200, 200, 200, 255});
    const auto steepness = [&](const Pyramid& source, double zoom) {
        const ScreenMap map(then(translation(-32, -8), then(scaling(zoom, zoom), translation(32, 8))));
        std::vector<LinearF> row(64);
        sampleTile(source, EdgeFill::Hold, {&map, 1}, {0, 8, 64, 1}, row.data());
        double most = 0;
        for (std::size_t x = 1; x < 64; ++x) most = std::max(most, double(std::abs(row[x].g - row[x - 1].g)));
        return most;
    };
    const Pyramid soft(linearise(edge.view())), sharp(linearise(edge.view()), Enlarging::CatmullRom),
        sharper(linearise(edge.view()), Enlarging::Lanczos);
    EXPECT_GT(steepness(sharp, 4), 1.1 * steepness(soft, 4));
    EXPECT_GT(steepness(sharper, 4), 1.1 * steepness(soft, 4));
    EXPECT_NEAR(steepness(sharp, 1), steepness(soft, 1), 1e-4);
    EXPECT_NEAR(steepness(sharp, 1.02), steepness(soft, 1.02), 0.02) << "no step where it begins";
    EXPECT_EQ(soft.finest(), 0);
    EXPECT_EQ(sharp.finest(), -1);
    EXPECT_GE(sharp.bytes(), soft.bytes() + 4 * 64 * 16 * sizeof(Linear16));
}

} // namespace
} // namespace virga::imagemagick_test
