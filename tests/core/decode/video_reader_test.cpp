#include "core/decode/video_reader.h"
#include "core/raster/kept_light.h"

#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <random>

#include "core/raster/transfer.h"
#include "tests/support/clips.h"

namespace virga::video_reader_test {
namespace {

using namespace test;

class Reader : public testing::Test {
protected:
    TemporaryFolder m_folder;
    fs::path at(const std::string& name) { return m_folder / name; }
    std::unique_ptr<VideoReader> open(const fs::path& path) {
        auto reader = VideoReader::open(path);
        EXPECT_TRUE(reader) << (reader ? "" : describe(reader.error()));
        return reader ? std::move(*reader) : nullptr;
    }
    int number(VideoReader& reader, std::int64_t index) {
        const auto picture = reader.read(index);
        EXPECT_TRUE(picture) << (picture ? "" : describe(picture.error()));
        return picture ? numberIn(*picture) : -1;
    }
};

TEST_F(Reader, FindsEveryFrameExactlyInAnyOrder) {
    writeNumberedClip(at("a.mp4"), {320, 180}, 25, 100, 30);
    const auto reader = open(at("a.mp4"));
    ASSERT_TRUE(reader);
    for (int i = 0; i < 100; ++i) ASSERT_EQ(number(*reader, i), i) << "forward";
    std::mt19937 random(2);
    for (int i = 0; i < 60; ++i) {
        const int n = int(random() % 100);
        ASSERT_EQ(number(*reader, n), n) << "anywhere";
    }
    for (int i = 99; i >= 80; --i) ASSERT_EQ(number(*reader, i), i) << "backward";
    EXPECT_EQ(number(*reader, 1000), 99) << "after the end the last one stays";
    EXPECT_EQ(number(*reader, -5), 0);
}

// As calls and broadcasts do. In MPEG-TS one file goes on where another ends.
TEST_F(Reader, PicturesOfAnotherSizeAreBroughtToTheFirstOnes) {
    writeNumberedClip(at("a.mp4"), {320, 180}, 25, 20);
    writeNumberedClip(at("b.mp4"), {480, 270}, 25, 20);
    for (const auto& [from, to, offset] : {std::tuple("a", "1", "0"), {"b", "2", "1"}, {"a", "3", "2"}})
        ASSERT_TRUE(ffmpeg("-i " + at(std::string(from) + ".mp4").string() + " -c copy -output_ts_offset " + offset +
                           " -muxdelay 0 " + at(std::string(to) + ".ts").string()));
    std::ofstream all(at("all.ts"), std::ios::binary);
    for (const char* part : {"1.ts", "2.ts", "3.ts"}) all << std::ifstream(at(part), std::ios::binary).rdbuf();
    all.close();
    const auto reader = open(at("all.ts"));
    ASSERT_TRUE(reader);
    ASSERT_EQ(reader->info().video->frames, 60);
    for (const int i : {0, 19, 20, 33, 39, 40, 59, 25, 21, 10}) {
        const auto picture = reader->read(i);
        ASSERT_TRUE(picture) << i << ' ' << describe(picture.error());
        EXPECT_EQ(picture->width(), 320) << i;
        EXPECT_EQ(picture->height(), 180) << i;
        EXPECT_EQ(numberIn(*picture), i % 20) << i;
        const auto grey = reader->readGrey(i, 320);
        ASSERT_TRUE(grey);
        EXPECT_EQ(grey->size, (Size{320, 180})) << i;
    }
}

TEST_F(Reader, GoesByTimeStampsAndNotByTheRate) {
    // Frames 0 3 5 6 9 10 12 15 ... of 30 a second stay: their stamps are uneven.
    writeNumberedClip(at("even.mp4"), {320, 180}, 30, 60);
    ASSERT_TRUE(ffmpeg("-i " + at("even.mp4").string() +
                       " -vf \"select='not(mod(n,3))+not(mod(n,5))'\" -vsync vfr -c:v libx264 -crf 8 -g 9 " +
                       at("vfr.mp4").string()));
    const auto reader = open(at("vfr.mp4"));
    ASSERT_TRUE(reader);
    for (int t = 0; t < 59; ++t) {
        int want = t; // the last kept frame at or before frame t of the original
        while (want % 3 && want % 5) --want;
        EXPECT_EQ(number(*reader, reader->indexAt(Rational(t, 30))), want) << "at frame " << t;
        EXPECT_EQ(number(*reader, reader->indexAt(Rational(2 * t + 1, 60))), want) << "between frames " << t;
    }
    EXPECT_EQ(reader->timeOf(reader->indexAt(Rational(5, 30))), Rational(5, 30));
}

TEST_F(Reader, ReorderedFramesComeOutInTheirOwnOrder) {
    writeNumberedClip(at("plain.mp4"), {320, 180}, 25, 60);
    ASSERT_TRUE(ffmpeg("-i " + at("plain.mp4").string() +
                       " -c:v libx264 -crf 8 -bf 4 -g 250 -x264-params b-pyramid=normal:open-gop=1 " +
                       at("b.mkv").string()));
    const auto reader = open(at("b.mkv"));
    ASSERT_TRUE(reader);
    for (const int n : {59, 3, 30, 31, 29, 0, 58}) EXPECT_EQ(number(*reader, n), n);
}

// ffmpeg turns pictures by the same note when it decodes: its upright picture is the reference.
TEST_F(Reader, TurnsPicturesUpright) {
    writeNumberedClip(at("flat.mp4"), {320, 180}, 25, 4);
    for (const int note : {90, 180, 270}) {
        const auto turned = at("r" + std::to_string(note) + ".mp4"), upright = at("u" + std::to_string(note) + ".png");
        ASSERT_TRUE(ffmpeg("-i " + at("flat.mp4").string() + " -c copy -metadata:s:v:0 rotate=" + std::to_string(note) +
                           " " + turned.string()));
        ASSERT_TRUE(ffmpeg("-i " + turned.string() + " -frames:v 1 " + upright.string()));
        const auto reader = open(turned), reference = open(upright);
        ASSERT_TRUE(reader && reference);
        EXPECT_NE(reader->info().video->orientation.rotation, 0);
        const auto picture = reader->read(0), want = reference->read(0);
        ASSERT_TRUE(picture && want);
        ASSERT_EQ(picture->size(), want->size()) << note;
        EXPECT_EQ(picture->size(), reader->info().video->size);
        double sum = 0;
        for (int y = 0; y < want->height(); ++y)
            for (int x = 0; x < want->width(); ++x)
                sum +=
                    std::abs(codeFromLinear(lightOf(picture->at(x, y).g)) - codeFromLinear(lightOf(want->at(x, y).g)));
        EXPECT_LT(255 * sum / (320 * 180), 4) << note;
    }
}

TEST_F(Reader, ReadsStillsOfAllKinds) {
    for (const char* name : {"s.png", "s.jpg", "s.bmp", "s.tiff"}) {
        ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=0x3060c0:s=101x57,format=rgb24 -frames:v 1 " + at(name).string()));
        const auto reader = open(at(name));
        ASSERT_TRUE(reader) << name;
        EXPECT_TRUE(reader->info().video->still);
        EXPECT_EQ(reader->indexAt(Rational(99)), 0);
        for (int again = 0; again < 3; ++again) {
            const auto picture = reader->read(0);
            ASSERT_TRUE(picture) << name;
            EXPECT_EQ(picture->size(), (Size{101, 57}));
            EXPECT_NEAR(codeFromLinear(lightOf(picture->at(50, 28).b)) * 255, 0xc0, 3) << name;
            EXPECT_NEAR(codeFromLinear(lightOf(picture->at(50, 28).r)) * 255, 0x30, 3) << name;
        }
    }
}

// AVI carries no presentation times, and with reordered pictures not even usable decoding times: they are told by
// counting.
TEST_F(Reader, CountsPicturesWhereAFileHasNoTimes) {
    writeNumberedClip(at("plain.mp4"), {320, 180}, 25, 60);
    ASSERT_TRUE(
        ffmpeg("-i " + at("plain.mp4").string() + " -c:v mpeg4 -qscale:v 2 -bf 2 -g 12 " + at("b.avi").string()));
    const auto reader = open(at("b.avi"));
    ASSERT_TRUE(reader);
    std::vector<int> forward;
    for (int i = 0; i < 58; ++i) forward.push_back(number(*reader, i));
    for (int i = 1; i < 58; ++i) EXPECT_EQ(forward[std::size_t(i)], forward[0] + i);
    const auto again = open(at("b.avi"));
    for (const int n : {50, 13, 12, 37, 36, 1}) EXPECT_EQ(number(*again, n), forward[std::size_t(n)]) << "by seeking";
}

// Damage in the middle: torn pictures there, whole ones before and after, and never an error or an endless search.
TEST_F(Reader, SurvivesDamageInTheMiddle) {
    writeNumberedClip(at("a.mp4"), {320, 180}, 25, 80, 20);
    const auto size = fs::file_size(at("a.mp4"));
    {
        std::fstream file(at("a.mp4"), std::ios::in | std::ios::out | std::ios::binary);
        file.seekp(std::streamoff(size / 2));
        for (int i = 0; i < 3000; ++i) file.put(char(i * 37));
    }
    const auto reader = open(at("a.mp4"));
    ASSERT_TRUE(reader);
    EXPECT_EQ(number(*reader, 5), 5);
    for (int i = 0; i < 80; i += 7) EXPECT_TRUE(reader->read(i)) << i;
    EXPECT_EQ(number(*reader, 79), 79);
    EXPECT_EQ(number(*reader, 3), 3);
}

TEST_F(Reader, KeepsTransparencyOfPictures) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=red@0.5:s=16x16,format=rgba -frames:v 1 " + at("t.png").string()));
    const auto reader = open(at("t.png"));
    ASSERT_TRUE(reader);
    const auto picture = reader->read(0);
    ASSERT_TRUE(picture);
    EXPECT_NEAR(picture->at(5, 5).a / double(linearOne), 0.5, 0.01);
    EXPECT_NEAR(picture->at(5, 5).r / double(keptOf(1.0)), 0.5, 0.02) << "premultiplied";
}

TEST_F(Reader, ReadsManyPixelFormats) {
    for (const char* format : {"yuv420p", "yuv422p", "yuv444p", "yuv420p10le", "yuv422p10le", "gray", "yuvj420p"}) {
        const auto path = at(std::string(format) + ".mkv");
        ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=0x808080:s=130x74:d=0.2 -c:v ffv1 -pix_fmt " + std::string(format) +
                           " " + path.string()))
            << format;
        const auto reader = open(path);
        ASSERT_TRUE(reader) << format;
        const auto picture = reader->read(2);
        ASSERT_TRUE(picture) << format;
        EXPECT_NEAR(codeFromLinear(lightOf(picture->at(60, 40).g)) * 255, 128, 2.5) << format;
    }
}

TEST_F(Reader, ATruncatedFileGivesWhatItHasAndAnErrorBeyond) {
    writeNumberedClip(at("a.mp4"), {320, 180}, 25, 80, 10);
    ASSERT_TRUE(ffmpeg("-i " + at("a.mp4").string() + " -c copy -movflags +faststart " + at("f.mp4").string()));
    fs::resize_file(at("f.mp4"), fs::file_size(at("f.mp4")) * 6 / 10);
    const auto reader = open(at("f.mp4"));
    ASSERT_TRUE(reader);
    const auto frames = reader->info().video->frames;
    EXPECT_GT(frames, 20);
    EXPECT_LT(frames, 70);
    EXPECT_EQ(number(*reader, 15), 15);
    EXPECT_EQ(number(*reader, reader->indexAt(Rational(100))) >= frames - 3, true);
}

TEST_F(Reader, SoundAloneIsNoVideo) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=440:d=1 " + at("a.wav").string()));
    const auto reader = VideoReader::open(at("a.wav"));
    ASSERT_FALSE(reader);
    EXPECT_NE(reader.error().message.find("only sound"), std::string::npos);
}

} // namespace
} // namespace virga::video_reader_test
