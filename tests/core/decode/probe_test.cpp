#include "core/decode/import_media.h"
#include "core/decode/probe.h"

#include <fstream>
#include <gtest/gtest.h>

#include "tests/support/clips.h"

namespace virga::probe_test {
namespace {

using namespace test;

class Probe : public testing::Test {
protected:
    TemporaryFolder m_folder;
    fs::path at(const std::string& name) { return m_folder / name; }
    MediaInfo good(const fs::path& path) {
        const auto info = probe(path);
        EXPECT_TRUE(info) << (info ? "" : describe(info.error()));
        return info.value_or(MediaInfo{});
    }
    Error bad(const fs::path& path) {
        const auto info = probe(path);
        EXPECT_FALSE(info) << path;
        if (info) return {};
        EXPECT_EQ(describe(info.error()).find('\n'), std::string::npos) << "one line";
        EXPECT_NE(info.error().place.find(path.filename().string()), std::string::npos) << "names the file";
        return info.error();
    }
};

TEST_F(Probe, DescribesAnOrdinaryClip) {
    writeNumberedClip(at("a.mp4"), {320, 180}, Rational(30000, 1001), 45, 12, true);
    const MediaInfo info = good(at("a.mp4"));
    ASSERT_TRUE(info.video && info.audio);
    EXPECT_EQ(info.video->size, (Size{320, 180}));
    EXPECT_EQ(info.video->rate, Rational(30000, 1001));
    EXPECT_EQ(info.video->frames, 45);
    EXPECT_EQ(info.video->duration, Rational(45 * 1001, 30000));
    EXPECT_EQ(info.video->codec, "h264");
    EXPECT_EQ(info.video->matrix, "BT.709");
    EXPECT_EQ(info.video->range, "limited");
    EXPECT_FALSE(info.video->variableRate);
    EXPECT_FALSE(info.video->interlaced);
    EXPECT_FALSE(info.video->still);
    EXPECT_EQ(info.audio->sampleRate, 48000);
    EXPECT_TRUE(info.warnings.empty());
}

// Phone footage: a variable rate, and a portrait clip stored lying down with a note to turn it.
TEST_F(Probe, KnowsVariableRates) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i testsrc2=s=320x240:r=30:d=3 -vf \"select='not(mod(n,3))+not(mod(n,5))'\" -vsync "
                       "vfr -c:v libx264 -pix_fmt yuv420p " +
                       at("vfr.mp4").string()));
    const MediaInfo info = good(at("vfr.mp4"));
    EXPECT_TRUE(info.video->variableRate);
    EXPECT_EQ(info.video->rate, Rational(30)) << "what it would be without the frames that were left out";
}

TEST_F(Probe, TurnsPortraitClips) {
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i testsrc2=s=320x180:r=25:d=1 -c:v libx264 -pix_fmt yuv420p " + at("flat.mp4").string()));
    ASSERT_TRUE(
        ffmpeg("-i " + at("flat.mp4").string() + " -c copy -metadata:s:v:0 rotate=270 " + at("portrait.mp4").string()));
    const MediaInfo info = good(at("portrait.mp4"));
    EXPECT_EQ(info.video->orientation.rotation, 90);
    EXPECT_EQ(info.video->coded, (Size{320, 180}));
    EXPECT_EQ(info.video->size, (Size{180, 320}));
}

TEST_F(Probe, TellsStillsOddSizesPixelShapesAndInterlacing) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=blue:s=333x127,format=rgb24 -frames:v 1 " + at("still.png").string()));
    const MediaInfo still = good(at("still.png"));
    EXPECT_TRUE(still.video->still);
    EXPECT_EQ(still.video->size, (Size{333, 127}));
    EXPECT_FALSE(still.audio);
    ASSERT_TRUE(ffmpeg("-f lavfi -i testsrc2=s=720x576:r=25:d=1 -vf setsar=64/45 -flags +ilme+ildct -c:v mpeg2video " +
                       at("dv.mpg").string()));
    const MediaInfo dv = good(at("dv.mpg"));
    EXPECT_EQ(dv.video->pixelAspect, Rational(64, 45));
    EXPECT_EQ(dv.video->matrix, "BT.601") << "unmarked and small";
    ASSERT_TRUE(ffmpeg(
        "-f lavfi -i testsrc2=s=640x480:r=50:d=1 -vf interlace -c:v libx264 -flags +ilme+ildct -pix_fmt yuv420p " +
        at("inter.mp4").string()));
    const MediaInfo interlaced = good(at("inter.mp4"));
    EXPECT_TRUE(interlaced.video->interlaced);
    ASSERT_EQ(interlaced.warnings.size(), 1u);
    EXPECT_NE(interlaced.warnings[0].find("interlaced"), std::string::npos);
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i testsrc2=s=64x64:r=25:d=1 -c:v libx264 -pix_fmt yuv420p10le " + at("ten.mkv").string()));
    EXPECT_EQ(good(at("ten.mkv")).video->bitDepth, 10);
}

TEST_F(Probe, SoundAloneIsFine) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=440:d=2 " + at("a.wav").string()));
    const MediaInfo info = good(at("a.wav"));
    EXPECT_FALSE(info.video);
    ASSERT_TRUE(info.audio);
    EXPECT_EQ(info.audio->duration, Rational(2));
}

TEST_F(Probe, BadFilesGetAClearLine) {
    std::ofstream(at("empty.mp4")).close();
    EXPECT_NE(bad(at("empty.mp4")).message.find("empty"), std::string::npos);
    std::ofstream(at("text.mp4")) << "Dear editor, this is no film at all.\n" << std::string(5000, 'x');
    EXPECT_EQ(bad(at("text.mp4")).code, ErrorCode::Unreadable);
    EXPECT_EQ(bad(at("nothing.mp4")).code, ErrorCode::NotFound);
    fs::create_directory(at("folder.mp4"));
    EXPECT_NE(bad(at("folder.mp4")).message.find("folder"), std::string::npos);
    std::ofstream(at("words.srt")) << "1\n00:00:00,000 --> 00:00:01,000\nHello\n";
    EXPECT_NE(bad(at("words.srt")).message.find("no video, picture or sound"), std::string::npos);
}

TEST_F(Probe, TruncatedFilesAreToldApart) {
    // The index at the end, as cameras write it, is cut off: nothing can be read.
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i testsrc2=s=320x240:r=25:d=4 -c:v libx264 -pix_fmt yuv420p " + at("whole.mp4").string()));
    fs::copy(at("whole.mp4"), at("cut.mp4"));
    fs::resize_file(at("cut.mp4"), fs::file_size(at("cut.mp4")) / 2);
    EXPECT_NE(bad(at("cut.mp4")).message.find("cut short"), std::string::npos);
    // The index in front: the first part can be used, and a warning says how much that is.
    ASSERT_TRUE(ffmpeg("-i " + at("whole.mp4").string() + " -c copy -movflags +faststart " + at("fast.mp4").string()));
    fs::resize_file(at("fast.mp4"), fs::file_size(at("fast.mp4")) * 6 / 10);
    const MediaInfo part = good(at("fast.mp4"));
    ASSERT_EQ(part.warnings.size(), 1u);
    EXPECT_NE(part.warnings[0].find("breaks off early"), std::string::npos);
    EXPECT_LT(part.video->frames, 100);
    EXPECT_GT(part.video->frames, 10);
}

TEST_F(Probe, SurvivesDamagedBytes) {
    writeNumberedClip(at("a.mp4"), {64, 64}, 25, 10);
    std::ifstream in(at("a.mp4"), std::ios::binary);
    const std::string whole(std::istreambuf_iterator<char>(in), {});
    int errors = 0;
    for (unsigned i = 0; i < 60; ++i) {
        std::string damaged = whole;
        for (unsigned k = 0; k < 30; ++k) damaged[(i * 7919u + k * 104729u) % damaged.size()] = char(i * 31 + k);
        std::ofstream(at("d.mp4"), std::ios::binary) << damaged;
        const auto info = probe(at("d.mp4")); // an error or a description, never a crash
        EXPECT_TRUE(info || !info.error().message.empty());
        errors += !info;
    }
    EXPECT_GT(errors, 0);
}

TEST_F(Probe, CanBeCancelled) {
    writeNumberedClip(at("a.mp4"), {64, 64}, 25, 10);
    Cancel cancel;
    cancel.request();
    const auto info = probe(at("a.mp4"), cancel);
    ASSERT_FALSE(info);
    EXPECT_EQ(info.error().code, ErrorCode::Cancelled);
}

TEST(Import, TakesOverWhatProbingFound) {
    MediaInfo info;
    info.path = "relative.mp4";
    info.video = VideoInfo{};
    info.video->size = {720, 1280};
    info.video->duration = Rational(7, 2);
    info.audio = AudioInfo{};
    const Media m = mediaFrom(info);
    EXPECT_TRUE(m.path.is_absolute());
    EXPECT_EQ(m.size, (Size{720, 1280}));
    EXPECT_EQ(m.duration, Rational(7, 2));
    EXPECT_TRUE(m.sound);
    EXPECT_TRUE(m.hasPicture());
}

} // namespace
} // namespace virga::probe_test
