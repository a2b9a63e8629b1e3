#include "core/encode/encoder.h"

#include <fstream>
#include <gtest/gtest.h>

#include "core/audio/audio_reader.h"
#include "core/decode/probe.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"

namespace virga::encoder_test {
namespace {

using namespace test;

int filesIn(const fs::path& folder) {
    return int(std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
}

TEST(Encoder, WritesWhatOtherProgramsRead) {
    TemporaryFolder folder;
    writeNumberedClip(folder / "a.mp4", {320, 180}, Rational(24000, 1001), 31, 12, true);
    // ffprobe is the other program.
    const Ran ran = runProgram(
        "ffprobe -v error -count_frames -show_entries "
        "stream=codec_name,nb_read_frames,r_frame_rate,color_space,color_range,pix_fmt,sample_rate -of default=nw=1 " +
        (folder / "a.mp4").string());
    ASSERT_EQ(ran.code, 0) << ran.err;
    for (const char* want : {"codec_name=h264", "nb_read_frames=31", "r_frame_rate=24000/1001", "color_space=bt709",
                             "color_range=tv", "pix_fmt=yuv420p", "codec_name=aac", "sample_rate=48000"})
        EXPECT_NE(ran.out.find(want), std::string::npos) << want << "\n" << ran.out;
    EXPECT_EQ(filesIn(folder.path()), 1);
}

TEST(Encoder, AnUnfinishedFileLeavesNothing) {
    TemporaryFolder folder;
    std::ofstream(folder / "old.mp4") << "precious";
    {
        EncoderSettings settings;
        settings.size = {64, 64};
        auto encoder = Encoder::open(folder / "old.mp4", settings);
        ASSERT_TRUE(encoder);
        ASSERT_TRUE((*encoder)->addFrame(solidPicture({64, 64}, {9, 9, 9, 255}).view()));
    }
    EXPECT_EQ(filesIn(folder.path()), 1);
    EXPECT_EQ(fs::file_size(folder / "old.mp4"), 8u) << "the old file is as it was";
}

TEST(Encoder, RefusesWhatH264HasNot) {
    TemporaryFolder folder;
    EncoderSettings settings;
    settings.size = {641, 361};
    const auto odd = Encoder::open(folder / "a.mp4", settings);
    ASSERT_FALSE(odd);
    EXPECT_NE(odd.error().remedy.find("642 x 362"), std::string::npos) << describe(odd.error());
    settings.size = {640, 360};
    EXPECT_EQ(Encoder::open("/no/such/folder/a.mp4", settings).error().code, ErrorCode::WriteFailed);
    settings.rate = 0;
    EXPECT_FALSE(Encoder::open(folder / "a.mp4", settings));
    EXPECT_EQ(filesIn(folder.path()), 0);
}

TEST(Encoder, EqualInputGivesEqualBytes) {
    TemporaryFolder folder;
    writeNumberedClip(folder / "a.mp4", {160, 90}, 25, 12, 6, true);
    writeNumberedClip(folder / "b.mp4", {160, 90}, 25, 12, 6, true);
    std::ifstream a(folder / "a.mp4", std::ios::binary), b(folder / "b.mp4", std::ios::binary);
    EXPECT_TRUE(std::equal(std::istreambuf_iterator<char>(a), {}, std::istreambuf_iterator<char>(b)));
}

} // namespace
} // namespace virga::encoder_test
