#include "core/audio/audio_reader.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/audio/wav.h"
#include "tests/support/clips.h"

namespace virga::audio_test {
namespace {

using namespace test;

// A click every half second.
std::vector<float> clicks(double seconds) {
    std::vector<float> out(std::size_t(seconds * audioRate) * 2);
    for (std::size_t i = 0; i < out.size() / 2; i += audioRate / 2)
        for (std::size_t k = 0; k < 40 && i + k < out.size() / 2; ++k)
            out[2 * (i + k)] = out[2 * (i + k) + 1] = k < 20 ? 0.9f : -0.9f;
    return out;
}

std::int64_t firstLoud(const std::vector<float>& sound) {
    for (std::size_t i = 0; i < sound.size() / 2; ++i)
        if (std::abs(sound[2 * i]) > 0.3f) return std::int64_t(i);
    return -1;
}

TEST(Audio, WavComesBackToTheSample) {
    TemporaryFolder folder;
    const auto sound = clicks(3);
    ASSERT_TRUE(writeWav(folder / "a.wav", sound));
    const auto back = readAudio(folder / "a.wav", 0, 3 * audioRate);
    ASSERT_TRUE(back);
    ASSERT_EQ(back->size(), sound.size());
    for (std::size_t i = 0; i < sound.size(); i += 17) EXPECT_NEAR((*back)[i], sound[i], 1e-4);
}

TEST(Audio, AnyPartIsFoundExactly) {
    TemporaryFolder folder;
    ASSERT_TRUE(writeWav(folder / "a.wav", clicks(6)));
    for (const Rational from : {Rational(0), Rational(1, 4), Rational(9, 4), Rational(17, 8)}) {
        const auto part = readAudio(folder / "a.wav", from, audioRate);
        ASSERT_TRUE(part);
        const double until = std::ceil(from.toDouble() * 2) / 2 - from.toDouble();
        EXPECT_NEAR(double(firstLoud(*part)), until * audioRate, 1) << toText(from);
    }
}

TEST(Audio, OutsideIsSilence) {
    TemporaryFolder folder;
    ASSERT_TRUE(writeWav(folder / "a.wav", clicks(1)));
    const auto before = readAudio(folder / "a.wav", Rational(-1, 2), audioRate);
    ASSERT_TRUE(before);
    EXPECT_EQ(firstLoud(*before), audioRate / 2);
    const auto after = readAudio(folder / "a.wav", 5, audioRate);
    ASSERT_TRUE(after);
    EXPECT_EQ(firstLoud(*after), -1);
    EXPECT_EQ(after->size(), std::size_t(audioRate) * 2);
}

TEST(Audio, OtherRatesAndChannelsAreConverted) {
    TemporaryFolder folder;
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=f=1000:r=22050:d=2 -ac 1 " + (folder / "mono.wav").string()));
    const auto sound = readAudio(folder / "mono.wav", Rational(1, 2), audioRate);
    ASSERT_TRUE(sound);
    int crossings = 0;
    for (std::size_t i = 1; i < std::size_t(audioRate); ++i) {
        crossings += ((*sound)[2 * i] > 0) != ((*sound)[2 * i - 2] > 0);
        ASSERT_NEAR((*sound)[2 * i], (*sound)[2 * i + 1], 1e-6) << "both sides alike";
    }
    EXPECT_NEAR(crossings, 2000, 4) << "1000 Hz";
}

TEST(Audio, SoundOfAClipStartsWithItsPicture) {
    TemporaryFolder folder;
    ASSERT_TRUE(writeWav(folder / "c.wav", clicks(2)));
    ASSERT_TRUE(ffmpeg("-f lavfi -i testsrc2=s=64x64:r=25:d=2 -i " + (folder / "c.wav").string() +
                       " -c:v libx264 -c:a aac -b:a 192k " + (folder / "v.mp4").string()));
    const auto sound = readAudio(folder / "v.mp4", Rational(1, 4), audioRate);
    ASSERT_TRUE(sound);
    EXPECT_NEAR(double(firstLoud(*sound)), 0.25 * audioRate, 60) << "within about a millisecond through AAC";
}

TEST(Audio, WithoutSoundItSaysSo) {
    TemporaryFolder folder;
    writeNumberedClip(folder / "v.mp4", {64, 64}, 25, 5);
    EXPECT_EQ(readAudio(folder / "v.mp4", 0, 100).error().code, ErrorCode::Unsupported);
    EXPECT_EQ(readAudio(folder / "no.mp4", 0, 100).error().code, ErrorCode::NotFound);
}

} // namespace
} // namespace virga::audio_test
