// Colour matrices and ranges against the constants of the ITU-R recommendations.
#include <array>
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>

#include "core/decode/plane_graph.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"

namespace virga::colour_test {
namespace {

using namespace test;

// Y'CbCr of an R'G'B' colour by luma weights kr and kb, in 8-bit limited range: ITU-R BT.601-7 section 2.5.3, BT.709-6
// section 3, BT.2020-2 table 4.
std::array<int, 3> limited(double kr, double kb, double r, double g, double b) {
    const double y = kr * r + (1 - kr - kb) * g + kb * b, cb = (b - y) / (2 * (1 - kb)), cr = (r - y) / (2 * (1 - kr));
    return {int(std::lround(16 + 219 * y)), int(std::lround(128 + 224 * cb)), int(std::lround(128 + 224 * cr))};
}

void expectColour(const fs::path& path, double r, double g, double b, const std::string& what) {
    auto reader = VideoReader::open(path);
    ASSERT_TRUE(reader) << describe(reader.error());
    const auto picture = (*reader)->read(0);
    ASSERT_TRUE(picture);
    const Linear16 p = picture->at(picture->width() / 2, picture->height() / 2);
    EXPECT_NEAR(codeFromLinear(lightOf(p.r)) * 255, r * 255, 2) << what << " red";
    EXPECT_NEAR(codeFromLinear(lightOf(p.g)) * 255, g * 255, 2) << what << " green";
    EXPECT_NEAR(codeFromLinear(lightOf(p.b)) * 255, b * 255, 2) << what << " blue";
}

TEST(Colour, EachMatrixIsHonoured) {
    TemporaryFolder folder;
    struct Case {
        const char* mark;
        double kr, kb;
        int width, height;
    };
    for (const Case& c : {Case{"bt709", 0.2126, 0.0722, 320, 180}, Case{"smpte170m", 0.299, 0.114, 320, 180},
                          Case{"bt2020nc", 0.2627, 0.0593, 320, 180}, Case{"", 0.299, 0.114, 320, 180},
                          Case{"", 0.2126, 0.0722, 1280, 720}}) { // unmarked: by size
        const double r = 0.8, g = 0.3, b = 0.55;
        const auto yuv = limited(c.kr, c.kb, r, g, b);
        // The planes are written as they are; ffmpeg only packs them.
        const auto raw = folder / "raw.yuv";
        {
            std::ofstream out(raw, std::ios::binary);
            for (int plane = 0; plane < 3; ++plane)
                out << std::string(std::size_t(c.width * c.height), char(yuv[std::size_t(plane)]));
        }
        const auto path = folder / "c.mkv";
        const std::string mark = *c.mark ? std::string(" -colorspace ") + c.mark + " -color_range tv" : "";
        ASSERT_TRUE(ffmpeg("-f rawvideo -pix_fmt yuv444p -s " + std::to_string(c.width) + "x" +
                           std::to_string(c.height) + " -i " + raw.string() + " -c:v libx264 -qp 0" + mark + " " +
                           path.string()));
        expectColour(path, r, g, b, std::string(c.mark) + std::to_string(c.height));
    }
}

// MPEG-2's sequence display extension takes any number up to 255 (ISO/IEC 13818-2, 6.3.6); most have no meaning.
TEST(Colour, ANumberWithoutAMeaningSaysNothing) {
    TemporaryFolder folder;
    const auto film = [&folder](const char* name, const std::string& marks) {
        EXPECT_TRUE(ffmpeg("-f lavfi -i color=c=0xcc4d8c:s=320x180:d=0.2:r=25 -c:v mpeg2video -qscale:v 2 " + marks +
                           " " + (folder / name).string()));
        return folder / name;
    };
    const auto plain = film("plain.mpg", ""),
               odd = film("odd.mpg", "-bsf:v mpeg2_metadata=colour_primaries=77:transfer_characteristics=99:"
                                     "matrix_coefficients=48");
    const auto a = probe(plain), b = probe(odd);
    ASSERT_TRUE(a && b);
    EXPECT_EQ(b->video->matrix, a->video->matrix);
    EXPECT_EQ(b->video->transfer, a->video->transfer);
    EXPECT_EQ(b->video->primaries, a->video->primaries);
    auto one = VideoReader::open(plain), two = VideoReader::open(odd);
    ASSERT_TRUE(one && two);
    const auto is = (*one)->read(1), same = (*two)->read(1);
    ASSERT_TRUE(is && same);
    EXPECT_TRUE(is->at(160, 90) == same->at(160, 90));
}

TEST(Colour, WhiteIsWhiteAndBlackIsBlackInBothRanges) {
    TemporaryFolder folder;
    for (const char* range : {"tv", "pc"}) {
        for (const auto& [name, value] : {std::pair("black", 0.0), std::pair("white", 1.0)}) {
            const auto path = folder / (std::string(name) + range + ".mkv");
            ASSERT_TRUE(ffmpeg(std::string("-f lavfi -i color=c=") + name +
                               ":s=128x72:d=0.1 -vf scale=out_range=" + range + ",format=yuv420p -color_range " +
                               range + " -c:v libx264 -qp 0 " + path.string()));
            expectColour(path, value, value, value, std::string(name) + " " + range);
        }
    }
}

// Numerics: a full round trip decode -> encode without moves is at most 1 code value off. 4:2:0 keeps only a quarter of
// the colour, so it is grey that can be held to it; colour is held to it where it is even.
TEST(Colour, RoundTripThroughTheEncoder) {
    TemporaryFolder folder;
    const auto draw = [](int frame) {
        Image<Rgba8> p(512, 256);
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 512; ++x) {
                const std::uint8_t v = std::uint8_t(x / 2);
                p.at(x, y) = y < 128   ? Rgba8{v, v, v, 255}
                             : x < 256 ? Rgba8{200, 80, std::uint8_t(60 + frame), 255}
                                       : Rgba8{30, 160, 210, 255};
            }
        return p;
    };
    writeClip(folder / "a.mp4", {512, 256}, 25, 3, draw);
    auto reader = VideoReader::open(folder / "a.mp4");
    ASSERT_TRUE(reader);
    const auto picture = (*reader)->read(1);
    ASSERT_TRUE(picture);
    const auto want = draw(1);
    const auto code = [](std::uint16_t v) { return codeFromLinear(lightOf(v)) * 255; };
    for (int x = 4; x < 508; x += 3) {
        EXPECT_NEAR(code(picture->at(x, 60).g), want.at(x, 60).g, 2.2) << x; // the codec's own loss included
    }
    for (const int x : {100, 400}) {
        EXPECT_NEAR(code(picture->at(x, 200).r), want.at(x, 200).r, 2.5);
        EXPECT_NEAR(code(picture->at(x, 200).b), want.at(x, 200).b, 2.5);
    }
}

// Where 4:2:0 chroma samples lie: a chroma that rises evenly along the picture must come back as the same straight
// line, for each siting of ITU-T H.264 figure E-1. A reader that took one for another would be off by half a luma
// pixel.
TEST(Colour, ChromaLiesWhereTheStreamSays) {
    TemporaryFolder folder;
    const int w = 192, h = 96;
    struct Case {
        const char* mark;
        double x, y; // of the first chroma sample, from the first luma sample's centre, in luma pixels
    };
    for (const Case& c : {Case{"left", 0, 0.5}, Case{"center", 0.5, 0.5}, Case{"topleft", 0, 0}, Case{"", 0, 0.5}}) {
        const auto cr = [&](double x, double y) { return 60 + 0.7 * x + 0.3 * y; };
        const auto raw = folder / "raw.yuv", path = folder / (std::string("c") + c.mark + ".mp4");
        {
            std::ofstream out(raw, std::ios::binary);
            const auto put = [&](double v) { // ten bits, low byte first
                const int code = int(std::lround(v * 4));
                out.put(char(code & 255)).put(char(code >> 8));
            };
            for (int i = 0; i < w * h; ++i) put(126);
            for (int i = 0; i < w * h / 4; ++i) put(128);
            for (int y = 0; y < h / 2; ++y)
                for (int x = 0; x < w / 2; ++x) put(cr(2 * x + c.x, 2 * y + c.y));
        }
        const std::string mark = *c.mark ? std::string(" -chroma_sample_location ") + c.mark : "";
        ASSERT_TRUE(ffmpeg("-f rawvideo -pix_fmt yuv420p10le -s 192x96 -i " + raw.string() +
                           " -c:v libx264 -qp 0 -colorspace bt709 -color_range tv" + mark + " " + path.string()));
        auto reader = VideoReader::open(path);
        ASSERT_TRUE(reader) << describe(reader.error());
        const auto picture = (*reader)->read(0);
        ASSERT_TRUE(picture);
        double mean = 0;
        int count = 0;
        for (int y = 8; y < h - 8; y += 5)
            for (int x = 8; x < w - 8; ++x) {
                // BT.709-6: R' = Y' + 1.5748 Cr, in code values of 219 and 224 steps.
                const double want = (126 - 16) / 219.0 + 1.5748 * (cr(x, y) - 128) / 224;
                if (want < 0.1 || want > 0.95) continue;
                mean += (codeFromLinear(lightOf(picture->at(x, y).r)) - want) * 255;
                ++count;
            }
        ASSERT_GT(count, 500);
        EXPECT_NEAR(mean / count, 0, 0.12) << c.mark << "; half a pixel across is 0.63 code values of red";
    }
}

// The converter's vector instructions and its plain loops give the same to one step of 16 bits.
TEST(Colour, NoMachineGivesAnotherPicture) {
    const Size size{256, 64};
    auto from = av::makePlanes(AV_PIX_FMT_YUV420P, size), fast = av::makePlanes(AV_PIX_FMT_GBRP16LE, size),
         plain = av::makePlanes(AV_PIX_FMT_GBRP16LE, size);
    ASSERT_TRUE(from && fast && plain);
    for (int p = 0; p < 3; ++p)
        for (int y = 0; y < (p ? 32 : 64); ++y)
            for (int x = 0; x < (p ? 128 : 256); ++x)
                from->data[p][y * from->linesize[p] + x] = std::uint8_t((x * 7 + y * 13 * (p + 1)) % 220 + 16);
    for (const auto& [target, isPlain] : {std::pair(fast.get(), false), std::pair(plain.get(), true)}) {
        auto graph = av::PlaneGraph::make({AV_PIX_FMT_YUV420P, size, AVCOL_SPC_BT709},
                                          {AV_PIX_FMT_GBRP16LE, size, 0, true}, "test", isPlain);
        ASSERT_TRUE(graph) << describe(graph.error());
        ASSERT_TRUE(graph->run(*from, *target, "test"));
    }
    int worst = 0;
    for (int p = 0; p < 3; ++p)
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 256; ++x) {
                const auto at = [&](const AVFrame& f) {
                    return int(reinterpret_cast<const std::uint16_t*>(f.data[p] + y * f.linesize[p])[x]);
                };
                worst = std::max(worst, std::abs(at(*fast) - at(*plain)));
            }
    EXPECT_LE(worst, 1);
}

// Wide primaries against zimg's conversion, through FFmpeg's zscale filter. Both take the curve of the file's own
// transfer for the light; it is sRGB here, so that nothing but the primaries differs.
TEST(Colour, WidePrimariesAreConvertedAsZimgDoes) {
    TemporaryFolder folder;
    for (const char* primaries : {"bt2020", "smpte432"}) {
        const auto wide = folder / (std::string(primaries) + ".mkv"), narrow = folder / "narrow.png";
        const std::string marks =
            std::string("setparams=color_primaries=") + primaries + ":color_trc=iec61966-2-1:colorspace=bt709:range=tv";
        ASSERT_TRUE(ffmpeg("-f lavfi -i \"gradients=s=128x96:c0=0x405060:c1=0xa09080:n=2:d=0.1:speed=0.00001\" -vf "
                           "\"format=yuv444p10le," +
                           marks + "\" -c:v ffv1 " + wide.string()));
        ASSERT_TRUE(ffmpeg("-i " + wide.string() +
                           " -vf zscale=primaries=bt709:transfer=iec61966-2-1:matrix=gbr:range=full,format=gbrp16le "
                           "-frames:v 1 -pix_fmt rgb48be -color_trc iec61966-2-1 " +
                           narrow.string()));
        const auto a = VideoReader::open(wide), b = VideoReader::open(narrow);
        ASSERT_TRUE(a && b);
        EXPECT_NE((*a)->info().warnings.size(), 0u) << "told";
        const auto got = (*a)->read(0), want = (*b)->read(0);
        ASSERT_TRUE(got && want);
        for (int y = 2; y < 96; y += 9)
            for (int x = 2; x < 128; x += 9) {
                const auto near = [&](std::uint16_t p, std::uint16_t q) {
                    EXPECT_NEAR(codeFromLinear(lightOf(p)) * 255, codeFromLinear(lightOf(q)) * 255, 0.4)
                        << primaries << ' ' << x << ' ' << y;
                };
                near(got->at(x, y).r, want->at(x, y).r);
                near(got->at(x, y).g, want->at(x, y).g);
                near(got->at(x, y).b, want->at(x, y).b);
            }
    }
}

// Phones' footage: HLG and PQ of 10 bits, BT.2020. Reference white (75 % and 58 %, ITU-R BT.2408) comes out bright but
// below white, black stays black, the brightest is white; and it is told.
TEST(Colour, HdrFootageIsToneMappedAndTold) {
    TemporaryFolder folder;
    for (const auto& [trc, white] : {std::pair("arib-std-b67", 0.75), std::pair("smpte2084", 0.58)}) {
        const auto path = folder / (std::string(trc) + ".mkv");
        // Columns of black, reference white, and 1000 cd/m2 (100 % and 75 %), as limited 10-bit luma.
        const int levels[] = {64, int(64 + 876 * white), int(64 + 876 * (white == 0.75 ? 1 : 0.7518))};
        ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=black:s=96x32:d=0.1,format=yuv420p10le,geq=lum='if(lt(X\\,32)\\," +
                           std::to_string(levels[0]) + "\\,if(lt(X\\,64)\\," + std::to_string(levels[1]) + "\\," +
                           std::to_string(levels[2]) +
                           "))':cb=512:cr=512 -vf setparams=color_primaries=bt2020:color_trc=" + trc +
                           ":colorspace=bt2020nc:range=tv -c:v ffv1 " + path.string()));
        const auto reader = VideoReader::open(path);
        ASSERT_TRUE(reader) << describe(reader.error());
        ASSERT_EQ((*reader)->info().warnings.size(), 1u);
        EXPECT_NE((*reader)->info().warnings[0].find("HDR"), std::string::npos);
        const auto picture = (*reader)->read(0);
        ASSERT_TRUE(picture);
        const auto code = [&](int x) { return codeFromLinear(lightOf(picture->at(x, 16).g)) * 255; };
        EXPECT_NEAR(code(16), 0, 0.5) << trc;
        EXPECT_GT(code(48), 215) << trc;
        EXPECT_LT(code(48), 235) << trc;
        EXPECT_NEAR(code(80), 255, 1.5) << trc;
    }
}

// PNG Specification, gAMA: light is code ^ (1 / gamma). A linear file (1.0) of code 128 is 188 by sRGB.
TEST(Colour, APngsGammaCounts) {
    TemporaryFolder folder;
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=0x808080:s=32x32,format=rgb24 -frames:v 1 " + (folder / "a.png").string()));
    const auto codeAt = [&](const std::string& gamma) {
        const auto path = folder / ("g" + gamma + ".png");
        const Ran ran = runProgram("convert " + (folder / "a.png").string() +
                                   " -strip -define png:exclude-chunk=all -define png:include-chunk=gAMA -set gamma " +
                                   gamma + " " + path.string());
        EXPECT_EQ(ran.code, 0) << ran.err;
        const auto reader = VideoReader::open(path);
        EXPECT_TRUE(reader);
        const auto picture = (*reader)->read(0);
        EXPECT_TRUE(picture);
        return codeFromLinear(lightOf(picture->at(9, 9).g)) * 255;
    };
    EXPECT_NEAR(codeAt("1.0"), codeFromLinear(128 / 255.0) * 255, 0.5);
    EXPECT_NEAR(codeAt("0.7"), codeFromLinear(std::pow(128 / 255.0, 1 / 0.7)) * 255, 0.6);
    EXPECT_NEAR(codeAt("0.45455"), 128, 0.3) << "sRGB's own approximation";
}

// Ten bits with transparency are as exact as without.
TEST(Colour, TenBitsWithAlphaAreLikeTenBitsWithout) {
    TemporaryFolder folder;
    const std::string ramp = "color=c=black:s=256x32:d=0.1,format=yuv444p10le,geq=lum='64+X*3':cb=512:cr=512,"
                             "setparams=colorspace=bt709:range=tv";
    ASSERT_TRUE(ffmpeg("-f lavfi -i " + ramp + " -c:v ffv1 " + (folder / "opaque.mkv").string()));
    ASSERT_TRUE(ffmpeg("-f lavfi -i " + ramp + ",format=yuva444p10le -c:v ffv1 " + (folder / "alpha.mkv").string()));
    const auto a = VideoReader::open(folder / "opaque.mkv"), b = VideoReader::open(folder / "alpha.mkv");
    ASSERT_TRUE(a && b);
    EXPECT_EQ((*b)->info().video->pixelFormat, "yuva444p10le");
    const auto without = (*a)->read(0), with = (*b)->read(0);
    ASSERT_TRUE(without && with);
    for (int x = 0; x < 256; ++x) EXPECT_EQ(with->at(x, 9), without->at(x, 9)) << x;
}

TEST(Colour, OddSidesLoseNothing) {
    TemporaryFolder folder;
    ASSERT_TRUE(ffmpeg("-f lavfi -i testsrc=s=101x57:d=0.1,format=yuv420p -c:v ffv1 " + (folder / "odd.mkv").string()));
    const auto reader = VideoReader::open(folder / "odd.mkv");
    ASSERT_TRUE(reader);
    const auto picture = (*reader)->read(0);
    ASSERT_TRUE(picture);
    EXPECT_EQ(picture->size(), (Size{101, 57}));
    EXPECT_GT(lightOf(picture->at(100, 10).r) + lightOf(picture->at(100, 10).g) + lightOf(picture->at(100, 10).b),
              0.05);
}

} // namespace
} // namespace virga::colour_test
