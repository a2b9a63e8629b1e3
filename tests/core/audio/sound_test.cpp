// Sound where real files are odd: holes, coarse clocks, channels, changes half way; against FFmpeg's own filters.
#include <cmath>
#include <cstring>
#include <fstream>
#include <gtest/gtest.h>
#include <numbers>

#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "tests/support/clips.h"

namespace virga::sound_test {
namespace {

using namespace test;

// What ffmpeg makes of a file's sound: stereo floats at 48 kHz.
std::vector<float> byFfmpeg(const fs::path& path, const std::string& filter = {}) {
    TemporaryFolder folder;
    EXPECT_TRUE(ffmpeg("-i " + path.string() + (filter.empty() ? "" : " -af \"" + filter + "\"") +
                       " -vn -ar 48000 -f f32le " + (folder / "out").string()));
    std::ifstream in(folder / "out", std::ios::binary);
    const std::string bytes(std::istreambuf_iterator<char>(in), {});
    std::vector<float> out(bytes.size() / 4);
    std::memcpy(out.data(), bytes.data(), out.size() * 4);
    return out;
}

double worst(const std::vector<float>& a, const std::vector<float>& b, std::size_t from, std::size_t to) {
    double most = 0;
    for (std::size_t i = from; i < std::min({to, a.size(), b.size()}); ++i)
        most = std::max(most, double(std::abs(a[i] - b[i])));
    return most;
}

double loudness(const std::vector<float>& s, double from, double to, int channel = 0) {
    double sum = 0;
    std::size_t n = 0;
    for (auto i = std::size_t(from * audioRate); i < std::size_t(to * audioRate) && 2 * i < s.size(); ++i, ++n)
        sum += double(s[2 * i + std::size_t(channel)]) * s[2 * i + std::size_t(channel)];
    return n ? std::sqrt(sum / double(n)) : 0;
}

class Sound : public testing::Test {
protected:
    fs::path at(const std::string& name) { return m_folder / name; }
    std::vector<float> read(const fs::path& path, Rational from, double seconds, Rational speed = 1) {
        auto sound = readAudio(path, from, std::int64_t(seconds * audioRate), {}, speed);
        EXPECT_TRUE(sound) << (sound ? "" : describe(sound.error()));
        return sound.value_or(std::vector<float>{});
    }
    TemporaryFolder m_folder;
};

TEST_F(Sound, AHoleInTheTimeStampsIsSilence) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=f=440:r=48000:d=4 -ac 2 -c:a pcm_s16le " + at("whole.wav").string()));
    for (const char* name : {"holed.mkv", "holed.mp4", "holed.ts"}) {
        const auto codec = std::string_view(name).ends_with("mkv") ? "flac" : "aac";
        ASSERT_TRUE(ffmpeg("-i " + at("whole.wav").string() +
                           " -af \"asetnsamples=1024,aselect='not(between(t,1.5,2.25))'\" -c:a " + codec + " " +
                           at(name).string()))
            << name;
        const auto sound = read(at(name), 0, 4);
        EXPECT_GT(loudness(sound, 1.2, 1.45), 0.05) << name;
        EXPECT_LT(loudness(sound, 1.6, 2.15), 1e-3) << name;
        EXPECT_GT(loudness(sound, 2.35, 2.6), 0.05) << name;
        const auto late = read(at(name), Rational(3), 0.5); // found by seeking, the same
        EXPECT_LT(worst(late, std::vector<float>(sound.begin() + 2 * 3 * audioRate, sound.end()), 0, 20000), 2e-3)
            << name;
    }
}

// A tone through a clock of milliseconds: the pieces that an export asks for join, and are the tone.
TEST_F(Sound, PiecesFromACoarseClockJoin) {
    for (const char* name : {"t.mkv", "t.flv", "t.webm"}) {
        const std::string kind(name);
        const auto codec = kind == "t.mkv" ? "flac" : kind == "t.flv" ? "aac -b:a 256k" : "libvorbis -q:a 9";
        ASSERT_TRUE(
            ffmpeg("-f lavfi -i sine=f=997:r=48000:d=13 -ac 2 -c:a " + std::string(codec) + " " + at(name).string()));
        const auto whole = read(at(name), 0, 13);
        std::vector<float> pieces;
        auto reader = AudioReader::open(at(name));
        ASSERT_TRUE(reader);
        for (int i = 0; i < 3; ++i) {
            const auto piece = (*reader)->read(Rational(4 * i), 4 * audioRate);
            ASSERT_TRUE(piece);
            pieces.insert(pieces.end(), piece->begin(), piece->end());
        }
        EXPECT_EQ(worst(whole, pieces, 0, pieces.size()), 0) << name;
        // Against the tone itself: its phase at 1 s and at 11 s is the same sine.
        double sine[2] = {}, cosine[2] = {};
        for (int part = 0; part < 2; ++part)
            for (int i = 0; i < 4800; ++i) {
                const auto n = std::size_t((part ? 11 : 1) * audioRate + i);
                const double phase = 2 * std::numbers::pi * 997 * double(n) / audioRate;
                sine[part] += double(whole[2 * n]) * std::sin(phase),
                    cosine[part] += double(whole[2 * n]) * std::cos(phase);
            }
        const double drift = std::atan2(cosine[1], sine[1]) - std::atan2(cosine[0], sine[0]);
        EXPECT_NEAR(std::remainder(drift, 2 * std::numbers::pi) / (2 * std::numbers::pi * 997) * audioRate, 0, 0.1)
            << name << ", in samples";
        for (const Rational from : {Rational(11, 2), Rational(1001, 100), Rational(73, 10)}) { // by seeking
            const auto part = read(at(name), from, 0.5);
            const auto first = std::size_t(roundToInteger(from * Rational(audioRate))) * 2;
            const std::vector<float> same(whole.begin() + std::ptrdiff_t(first), whole.end());
            EXPECT_LT(worst(part, same, 0, part.size()), 2e-3) << name << ' ' << toText(from);
        }
    }
}

// Recommendation ITU-R BT.775-3, annex 4: L' = L + 0.7071 C + 0.7071 Ls; the bass channel is left out. FFmpeg's pan
// filter with the same numbers is the reference.
TEST_F(Sound, MoreChannelsAreFoldedByBs775) {
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i \"aevalsrc=0.2*sin(440*2*PI*t)|0.2*sin(550*2*PI*t)|0.2*sin(660*2*PI*t)|0.2*sin(70*2*PI*"
               "t)|0.2*sin(880*2*PI*t)|0.2*sin(990*2*PI*t):c=5.1:s=48000:d=2\" -c:a pcm_s16le " +
               at("six.wav").string()));
    const auto want = byFfmpeg(at("six.wav"), "pan=stereo|FL=FL+0.7071*FC+0.7071*BL|FR=FR+0.7071*FC+0.7071*BR");
    const auto got = read(at("six.wav"), 0, 2);
    EXPECT_LT(worst(got, want, 0, got.size()), 1e-4);
    EXPECT_GT(loudness(got, 0.5, 1.5), 0.1);
}

TEST_F(Sound, MonoIsAsLoudOnBothSides) {
    for (const char* format : {"pcm_s16le", "pcm_f32le", "pcm_s24le"}) {
        ASSERT_TRUE(ffmpeg("-f lavfi -i \"aevalsrc=0.5*sin(1000*2*PI*t):s=48000:d=1\" -c:a " + std::string(format) +
                           " " + at("mono.wav").string()));
        const auto got = read(at("mono.wav"), 0, 1);
        const auto want = byFfmpeg(at("mono.wav"), "pan=stereo|FL=FC|FR=FC");
        EXPECT_LT(worst(got, want, 0, got.size()), 1e-4) << format;
        EXPECT_NEAR(loudness(got, 0.2, 0.8, 1), 0.5 / std::sqrt(2.0), 1e-3) << format;
    }
}

TEST_F(Sound, OtherSampleRatesKeepTheirPlace) {
    // A click at exactly one second, at 44.1 kHz and 22.05 kHz: at one second at 48 kHz, read from anywhere.
    for (const int rate : {44100, 22050, 96000, 8000}) {
        ASSERT_TRUE(ffmpeg("-f lavfi -i \"aevalsrc='0.8*between(t,0.999999,1.0006)':s=" + std::to_string(rate) +
                           ":d=3\" -ac 2 -c:a pcm_s16le " + at("r.wav").string()));
        for (const Rational from : {Rational(0), Rational(9, 10), Rational(1234, 10000)}) {
            const auto got = read(at("r.wav"), from, 2);
            std::size_t first = 0;
            while (first < got.size() / 2 && std::abs(got[2 * first]) < 0.4f) ++first;
            EXPECT_NEAR(double(first) + from.toDouble() * audioRate, audioRate, rate < 10000 ? 4 : 2) << rate;
        }
    }
}

// Two streams of other channel counts one behind the other, as a recorder writes that was switched over.
TEST_F(Sound, ChannelsMayChangeHalfWay) {
    for (const char* kind : {"aac", "mp3"}) {
        const std::string ending = std::string(".") + kind;
        ASSERT_TRUE(ffmpeg("-f lavfi -i sine=f=440:r=48000:d=1 -ac 2 " + at("a" + ending).string()));
        ASSERT_TRUE(ffmpeg("-f lavfi -i sine=f=440:r=48000:d=1 -ac 1 " + at("b" + ending).string()));
        std::ofstream out(at("both" + ending), std::ios::binary);
        for (const char* part : {"a", "b"}) out << std::ifstream(at(part + ending), std::ios::binary).rdbuf();
        out.close();
        const auto got = read(at("both" + ending), 0, 2);
        EXPECT_GT(loudness(got, 0.3, 0.8), 0.05) << kind;
        EXPECT_GT(loudness(got, 1.3, 1.8), 0.05) << kind;
        EXPECT_GT(loudness(got, 1.3, 1.8, 1), 0.05) << kind;
    }
}

TEST_F(Sound, ValuesThatAreNoNumbersAreSilence) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=f=440:r=48000:d=1 -ac 2 -c:a pcm_f32le " + at("f.wav").string()));
    std::fstream file(at("f.wav"), std::ios::in | std::ios::out | std::ios::binary);
    file.seekp(100000);
    for (int i = 0; i < 200; ++i) file.write("\x00\x00\xc0\x7f", 4);
    file.close();
    for (const float v : read(at("f.wav"), 0, 1)) ASSERT_TRUE(std::isfinite(v));
}

TEST_F(Sound, ReadersGoOnWithoutASeamAtOtherSpeeds) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=f=997:r=44100:d=6 -ac 2 -c:a pcm_s16le " + at("s.wav").string()));
    for (const Rational speed : {Rational(1), Rational(3, 2), Rational(37, 100), Rational(101, 100)}) {
        auto reader = AudioReader::open(at("s.wav"), speed), other = AudioReader::open(at("s.wav"), speed);
        ASSERT_TRUE(reader && other);
        const auto whole = (*reader)->read(0, 2 * audioRate);
        ASSERT_TRUE(whole);
        std::vector<float> pieces;
        for (int i = 0; i < 4; ++i) {
            const auto piece = (*other)->read(Rational(i, 2) * speed, audioRate / 2);
            ASSERT_TRUE(piece);
            pieces.insert(pieces.end(), piece->begin(), piece->end());
        }
        EXPECT_EQ(worst(*whole, pieces, 0, pieces.size()), 0) << toText(speed);
        const auto alone = read(at("s.wav"), speed, 0.5, speed); // from one second of the result on
        const std::vector<float> same(whole->begin() + 2 * audioRate, whole->end());
        EXPECT_LT(worst(alone, same, 0, alone.size()), 1e-4) << toText(speed) << ", by seeking";
    }
}

} // namespace
} // namespace virga::sound_test
