// Every codec in every container at every rate: each picture at its own frame, forwards, anywhere and backwards; each
// click of the sound at its own sample. The files are made by Debian's ffmpeg from numbered pictures and known clicks,
// so that the truth is known. A part of the matrix runs here; VIRGA_WHOLE_MATRIX=1 (tools/check_matrix) runs all of it.
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <fstream>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "core/decode/video_reader.h"
#include "tests/support/clips.h"

namespace virga::matrix_test {
namespace {

using namespace test;

constexpr Size size{160, 96};
constexpr int pictures = 72;

const std::vector<Rational>& rates() {
    static const std::vector<Rational> all = {Rational(24000, 1001), 24, 25, Rational(30000, 1001), 30, 50,
                                              Rational(60000, 1001), 60};
    return all;
}

struct Codec {
    std::string name, arguments;
    std::vector<std::string> containers;
    std::vector<std::string> mainly; // at all rates even in the small matrix
};

const std::vector<Codec>& codecs() {
    static const std::vector<Codec> all = {
        {"H264",
         "-c:v libx264 -preset veryfast -crf 12 -bf 3 -g 12 -x264-params b-pyramid=normal",
         {"mp4", "mov", "mkv", "ts", "m2ts", "avi", "flv"},
         {"mkv", "flv", "ts"}},
        {"H264open",
         "-c:v libx264 -preset veryfast -crf 12 -bf 3 -g 12 -x264-params open-gop=1",
         {"mp4", "mov", "mkv", "ts", "m2ts", "avi", "flv"},
         {}},
        {"H264intraRefresh",
         "-c:v libx264 -preset veryfast -crf 12 -x264-params intra-refresh=1:keyint=16:bframes=0",
         {"mp4", "mkv", "ts", "flv"},
         {}},
        {"H265",
         "-c:v libx265 -preset ultrafast -x265-params crf=12:bframes=3:keyint=12:log-level=none:open-gop=1",
         {"mp4", "mov", "mkv", "ts", "m2ts"},
         {}},
        {"MPEG2", "-c:v mpeg2video -q:v 3 -bf 2 -g 12", {"mpg", "ts", "m2ts", "mkv", "mp4", "mov", "avi"}, {"mpg"}},
        {"MPEG4", "-c:v mpeg4 -q:v 3 -bf 2 -g 12", {"mp4", "mov", "avi", "mkv"}, {}},
        {"VP8",
         "-c:v libvpx -b:v 2M -deadline realtime -cpu-used 8 -auto-alt-ref 1 -lag-in-frames 12 -g 12",
         {"webm", "mkv", "avi"},
         {"webm"}},
        {"VP9",
         "-c:v libvpx-vp9 -b:v 2M -deadline realtime -cpu-used 8 -auto-alt-ref 1 -lag-in-frames 12 -g 12",
         {"webm", "mkv", "mp4"},
         {}},
        {"AV1", "-c:v libaom-av1 -b:v 2M -usage realtime -cpu-used 8 -g 12", {"webm", "mkv", "mp4"}, {}},
        {"ProRes", "-c:v prores_ks -profile:v 1", {"mov", "mkv"}, {}},
        {"FFV1", "-c:v ffv1 -g 1", {"mkv", "avi", "mov"}, {}},
        {"MJPEG", "-c:v mjpeg -q:v 3", {"avi", "mov", "mkv", "mp4"}, {}},
    };
    return all;
}

std::string soundFor(const std::string& container) {
    if (container == "mov" || container == "avi") return "-c:a pcm_s16le";
    if (container == "mkv") return "-c:a flac";
    if (container == "webm") return "-c:a libopus -b:a 192k";
    if (container == "m2ts") return "-c:a ac3 -b:a 448k"; // what cameras write there
    if (container == "mpg") return "-c:a mp2 -b:a 256k";
    return "-c:a aac -b:a 256k";
}

bool keepsEverySample(const std::string& container) {
    return container == "mov" || container == "avi" || container == "mkv";
}

// Bursts of a tone at uneven places: what a click is to a codec that rings.
constexpr int burst = 96;
std::int64_t burstAt(int k) {
    return 2111 + 9601 * k;
}
float burstValue(int i) {
    return float(0.5 * std::sin(2 * std::numbers::pi * 1500 * i / audioRate) *
                 (1 - std::cos(2 * std::numbers::pi * (i + 0.5) / burst)) / 1.0);
}
constexpr int bursts = 5;
constexpr std::int64_t soundLength = 2111 + 9601 * 5;

std::vector<float> soundOfBursts() {
    std::vector<float> sound(std::size_t(soundLength) * 2);
    for (int k = 0; k < bursts; ++k)
        for (int i = 0; i < burst; ++i)
            for (int c = 0; c < 2; ++c) sound[std::size_t(2 * (burstAt(k) + i) + c)] = burstValue(i) * 0.9f;
    return sound;
}

// How many samples late the burst nearest to a place of `sound` is: by the highest correlation.
int lateness(const std::vector<float>& sound, std::int64_t at, int most) {
    double best = 0;
    int found = most + 1;
    for (int lag = -most; lag <= most; ++lag) {
        double sum = 0;
        for (int i = 0; i < burst; ++i) {
            const auto n = at + lag + i;
            if (n >= 0 && 2 * n < std::int64_t(sound.size())) sum += sound[std::size_t(2 * n)] * burstValue(i);
        }
        if (sum > best) best = sum, found = lag;
    }
    return found;
}

class Matrix : public testing::TestWithParam<int> {
protected:
    void SetUp() override {
        std::ofstream raw(m_folder / "raw", std::ios::binary);
        for (int n = 0; n < pictures; ++n) {
            const auto picture = numberedFrame(size, n);
            raw.write(reinterpret_cast<const char*>(picture.row(0)), std::streamsize(picture.bytes()));
        }
        ASSERT_TRUE(writeWav(m_folder / "clicks.wav", soundOfBursts()));
    }
    bool make(const Codec& codec, const std::string& container, Rational rate, const fs::path& to) {
        const char* const format = codec.name == "ProRes"  ? "yuv422p10le"
                                   : codec.name == "MJPEG" ? "yuvj420p"
                                                           : "yuv420p";
        return ffmpeg(fmt::format("-f rawvideo -pix_fmt rgba -s {}x{} -framerate {} -i {} -i {} -map 0:v -map 1:a "
                                  "-pix_fmt {} {} {} {} -threads 1 {}",
                                  size.width, size.height, toText(rate), (m_folder / "raw").string(),
                                  (m_folder / "clicks.wav").string(), format, codec.arguments, soundFor(container),
                                  container == "m2ts" ? "-f mpegts -mpegts_m2ts_mode 1" : "", to.string()));
    }
    static int number(VideoReader& reader, std::int64_t index) {
        const auto picture = reader.read(index);
        EXPECT_TRUE(picture) << (picture ? "" : describe(picture.error()));
        return picture ? numberIn(*picture) : -1;
    }
    void checkPictures(const fs::path& path, Rational rate) {
        auto opened = VideoReader::open(path);
        ASSERT_TRUE(opened) << describe(opened.error());
        VideoReader& reader = **opened;
        EXPECT_EQ(reader.info().video->frames, pictures);
        EXPECT_EQ(toText(reader.info().video->rate), toText(rate));
        EXPECT_FALSE(reader.info().video->variableRate);
        for (int n = 0; n < pictures; ++n) {
            ASSERT_EQ(reader.indexAt(Rational(n) / rate), n) << "at the very start of frame " << n;
            ASSERT_EQ(reader.indexAt(Rational(2 * n + 1, 2) / rate), n) << "in the middle of frame " << n;
            ASSERT_EQ(number(reader, n), n) << "forwards";
        }
        std::mt19937 random(5);
        for (int i = 0; i < 24; ++i) {
            const int n = int(random() % pictures);
            ASSERT_EQ(number(reader, n), n) << "anywhere";
        }
        for (int n = pictures - 1; n >= 0; n -= 5) ASSERT_EQ(number(reader, n), n) << "backwards";
        auto fresh = VideoReader::open(path);
        ASSERT_TRUE(fresh);
        for (const int n : {37, 13, 12, 11, 71, 0}) ASSERT_EQ(number(**fresh, n), n) << "from a fresh start";
    }
    void checkSound(const fs::path& path, bool exact) {
        auto reader = AudioReader::open(path);
        ASSERT_TRUE(reader) << describe(reader.error());
        const auto whole = (*reader)->read(0, soundLength + 4800);
        ASSERT_TRUE(whole);
        const int most = exact ? 40 : 1400; // a lossy codec's own delay, where the container does not tell it
        const int delay = lateness(*whole, burstAt(1), most);
        EXPECT_LE(std::abs(delay), exact ? 0 : 1200);
        for (int k = 0; k < bursts; ++k) EXPECT_NEAR(lateness(*whole, burstAt(k), most), delay, exact ? 0 : 1) << k;
        for (const int k : {3, 1, 4, 0, 2}) { // by seeking
            const auto from = burstAt(k) - 1500;
            const auto part = readAudio(path, Rational(from, audioRate), 4000);
            ASSERT_TRUE(part);
            EXPECT_NEAR(lateness(*part, 1500, most), delay, exact ? 0 : 1) << "by seeking, " << k;
        }
    }
    TemporaryFolder m_folder;
};

TEST_P(Matrix, EveryPictureAtItsTimeEverySampleAtItsPlace) {
    const Codec& codec = codecs()[std::size_t(GetParam())];
    const bool whole = std::getenv("VIRGA_WHOLE_MATRIX") != nullptr;
    std::size_t turn = std::size_t(GetParam());
    for (const std::string& container : codec.containers) {
        const bool all = whole || std::find(codec.mainly.begin(), codec.mainly.end(), container) != codec.mainly.end();
        for (std::size_t r = 0; r < rates().size(); ++r) {
            if (!all && r != turn % rates().size()) continue;
            const auto path = m_folder / fmt::format("{}-{}.{}", codec.name, r, container);
            SCOPED_TRACE(fmt::format("{} in {} at {}", codec.name, container, toText(rates()[r])));
            ASSERT_TRUE(make(codec, container, rates()[r], path));
            checkPictures(path, rates()[r]);
            checkSound(path, keepsEverySample(container));
            fs::remove(path);
        }
        turn += 3;
    }
}

// A variable rate: uneven times, each picture on screen from its own stamp to the next one's.
TEST_P(Matrix, VariableRatesGoByTheirStamps) {
    const Codec& codec = codecs()[std::size_t(GetParam())];
    for (const std::string& container : codec.containers) {
        if (container != "mp4" && container != "mkv" && container != "webm" && container != "mov") continue;
        if (codec.name == "MPEG4" || codec.name == "MPEG2") continue; // their clocks have steps of their own
        SCOPED_TRACE(codec.name + " in " + container);
        const auto path = m_folder / ("variable." + container);
        ASSERT_TRUE(
            ffmpeg(fmt::format("-f rawvideo -pix_fmt rgba -s {}x{} -framerate 25 -i {} -vf "
                               "\"settb=1/1000,setpts='(N+0.3*mod(N,3))*40'\" -vsync passthrough -enc_time_base "
                               "1/1000 -pix_fmt {} {} -threads 1 {}",
                               size.width, size.height, (m_folder / "raw").string(),
                               codec.name == "ProRes"  ? "yuv422p10le"
                               : codec.name == "MJPEG" ? "yuvj420p"
                                                       : "yuv420p",
                               codec.arguments, path.string())));
        auto reader = VideoReader::open(path);
        ASSERT_TRUE(reader) << describe(reader.error());
        EXPECT_TRUE((*reader)->info().video->variableRate);
        ASSERT_EQ((*reader)->info().video->frames, pictures);
        for (const int n : {0, 1, 2, 3, 40, 41, 42, 13, 71, 5}) {
            const Rational at((10 * n + 3 * (n % 3)) * 4, 1000);
            EXPECT_EQ((*reader)->indexAt(at), n) << "at its start";
            EXPECT_EQ((*reader)->indexAt(at + Rational(8, 1000)), n) << "a little later";
            EXPECT_EQ(number(**reader, n), n);
        }
    }
}

INSTANTIATE_TEST_SUITE_P(Codecs, Matrix, testing::Range(0, 12),
                         [](const auto& codec) { return codecs()[std::size_t(codec.param)].name; });

} // namespace
} // namespace virga::matrix_test
