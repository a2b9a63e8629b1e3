// From file to file: what a clip's own pictures are is what an export has, in codes beyond white, at odd speeds and
// with lines of two moments.
#include <fstream>
#include <gtest/gtest.h>

#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/edit/move_edits.h"
#include "core/export/export_reel.h"
#include "core/raster/kept_light.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::faithful_test {
namespace {

using namespace test;

class Faithful : public testing::Test {
protected:
    Project projectOf(const fs::path& path, Size size) {
        const auto info = probe(path);
        EXPECT_TRUE(info);
        Project p;
        p.settings.size = size;
        std::string id;
        p = withMedia(p, mediaFrom(*info), &id);
        return withClip(p, 0, clipFor(p, *findMedia(p, id)));
    }
    // The luma codes of an export's frame, by ffmpeg.
    std::vector<int> lumaOf(const Project& p, std::int64_t frame) {
        ExportSettings settings;
        settings.path = m_folder / "out.mp4";
        settings.from = frame, settings.to = frame + 1;
        settings.quality = 0;
        SourcePool pool;
        const auto done = exportReel(p, settings, pool);
        EXPECT_TRUE(done) << (done ? "" : describe(done.error()));
        EXPECT_TRUE(
            ffmpeg("-i " + settings.path.string() + " -f rawvideo -pix_fmt yuv420p " + (m_folder / "raw").string()));
        std::ifstream in(m_folder / "raw", std::ios::binary);
        const std::string bytes(std::istreambuf_iterator<char>(in), {});
        std::vector<int> luma;
        for (int i = 0; i < p.settings.size.width * p.settings.size.height; ++i)
            luma.push_back(static_cast<unsigned char>(bytes[std::size_t(i)]));
        return luma;
    }
    TemporaryFolder m_folder;
};

TEST_F(Faithful, CodesBeyondBlackAndWhitePassThroughRestAndMoves) {
    // Columns of the codes 1 to 254 of limited range, of which 16 is black and 235 is white.
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=black:s=254x64:r=25:d=1,format=yuv420p,geq=lum='1+X':cb=128:cr=128,"
                       "setparams=range=tv:colorspace=bt709 -c:v libx264 -qp 0 " +
                       (m_folder / "ramp.mp4").string()));
    Project p = projectOf(m_folder / "ramp.mp4", {254, 64});
    const auto rest = lumaOf(p, 3);
    for (int x = 0; x < 254; ++x) EXPECT_NEAR(rest[std::size_t(254 * 30 + x)], x + 1, 1) << "at rest";
    // Sliding down: columns stay what they are, blurred or not.
    p.reel[0].placement.position = {0, 0.21};
    const auto moved = lumaOf(p, 3);
    for (int x = 2; x < 252; ++x) EXPECT_NEAR(moved[std::size_t(254 * 40 + x)], x + 1, 1) << "moved";
}

TEST_F(Faithful, HardlyFasterIsHardlyBlended) {
    writeNumberedClip(m_folder / "n.mp4", {320, 180}, 25, 100);
    Project p = projectOf(m_folder / "n.mp4", {320, 180});
    p.reel[0].speed = Rational(101, 100);
    p.reel[0].length = 90;
    p.settings.shutter.angle = 180;
    SourcePool pool;
    int mixed = 0;
    for (std::int64_t n = 0; n < 90; ++n) {
        const auto picture = renderFrame(p, n, {320, 180}, exactQuality, pool);
        ASSERT_TRUE(picture);
        for (int bit = 0; bit < 8; ++bit) { // a block that is neither black nor white shows two pictures
            const int v = picture->at(320 * (2 * bit + 1) / 16, 30).g;
            if (v > 40 && v < 210) {
                ++mixed;
                break;
            }
        }
    }
    EXPECT_LE(mixed, 2) << "of 90 frames";
    p.reel[0].speed = 4;
    p.reel[0].length = 20;
    p.settings.shutter.angle = 360;
    const auto fast = renderFrame(p, 3, {320, 180}, exactQuality, pool); // pictures 12 to 15: bits 0 and 1 change
    ASSERT_TRUE(fast);
    EXPECT_NEAR(fast->at(20, 30).g, 170, 40) << "all four of them are seen";
}

TEST_F(Faithful, AClipsSwitchLeavesInterlacedLines) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i testsrc2=s=192x96:r=50:d=1 -vf format=yuv420p,tinterlace=mode=interleave_top,"
                       "setfield=tff -c:v ffv1 -flags +ildct+ilme " +
                       (m_folder / "i.mkv").string()));
    Project p = projectOf(m_folder / "i.mkv", {192, 96});
    ASSERT_TRUE(p.media[0].interlaced);
    SourcePool pool;
    const auto whole = renderFrame(p, 8, {192, 96}, exactQuality, pool);
    p.reel[0].deinterlace = false;
    const auto combed = renderFrame(p, 8, {192, 96}, exactQuality, pool);
    ASSERT_TRUE(whole && combed);
    int different = 0;
    for (int y = 0; y < 96; ++y)
        for (int x = 0; x < 192; ++x) different += !(whole->at(x, y) == combed->at(x, y));
    EXPECT_GT(different, 300);
}

// A file that is really called so is that file, not a numbered sequence.
TEST_F(Faithful, BracketsInANameAreOnlyAName) {
    writeNumberedClip(m_folder / "Trip [2019-2021].mp4", {320, 180}, 25, 50);
    const auto info = probe(m_folder / "Trip [2019-2021].mp4");
    ASSERT_TRUE(info) << describe(info.error());
    EXPECT_EQ(info->video->frames, 50);
    const Project p = projectOf(m_folder / "Trip [2019-2021].mp4", {320, 180});
    EXPECT_EQ(p.reel[0].length, 50);
    EXPECT_EQ(p.reel[0].speed, Rational(1));
    EXPECT_EQ(p.reel[0].name, "Trip [2019-2021]");
}

} // namespace
} // namespace virga::faithful_test
