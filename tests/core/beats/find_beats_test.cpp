#include "core/beats/find_beats.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

#include "core/media/audio_reader.h"
#include "core/media/wav.h"
#include "tests/support/clips.h"

namespace virga {
namespace {

using namespace test;

// A click: a few milliseconds of a falling tone, as a metronome makes it.
void addClick(std::vector<float>& mono, double seconds, double pitch = 1500, double loud = 0.7, double fall = 0.02) {
    const auto from = std::size_t(std::llround(seconds * audioRate));
    for (std::size_t i = 0; i < std::size_t(fall * 6 * audioRate) && from + i < mono.size(); ++i) {
        const double t = double(i) / audioRate;
        mono[from + i] += float(loud * std::exp(-t / fall) * std::sin(2 * std::numbers::pi * pitch * t));
    }
}

std::vector<float> clickTrack(double tempo, double first, double seconds) {
    std::vector<float> mono(std::size_t(seconds * audioRate), 0.0f);
    for (double at = first; at < seconds - 0.1; at += 60 / tempo) addClick(mono, at);
    return mono;
}

Expected<FoundBeats> beatsOf(const std::vector<float>& mono) {
    BeatFinder finder;
    finder.add(mono);
    return finder.finish();
}

class ClickTracks : public testing::TestWithParam<std::tuple<double, double>> {};

TEST_P(ClickTracks, TempoAndEveryBeatAreFound) {
    const auto [tempo, first] = GetParam();
    const double seconds = 40;
    const auto found = beatsOf(clickTrack(tempo, first, seconds));
    ASSERT_TRUE(found) << describe(found.error());
    EXPECT_NEAR(found->tempo.beatsPerMinute, tempo, 0.5);
    EXPECT_TRUE(found->steady);
    EXPECT_GT(found->confidence, 0.95);
    for (int i = 0; first + i * 60 / tempo < seconds - 0.1; ++i)
        ASSERT_NEAR(beatTime(found->tempo, i), first + i * 60 / tempo, 0.02) << "beat " << i;
}

INSTANTIATE_TEST_SUITE_P(Tempi, ClickTracks,
                         testing::Combine(testing::Values(90.0, 120.0, 174.0, 100.7), testing::Values(0.0, 0.31)));

TEST(FindBeats, HearsTheBeatBeneathOffbeats) {
    // Hats on every eighth, softer than the drum on the beat.
    std::vector<float> mono = clickTrack(124, 0.2, 30);
    for (double at = 0.2 + 15.0 / 62; at < 29.8; at += 60.0 / 124) addClick(mono, at, 6000, 0.25, 0.008);
    const auto found = beatsOf(mono);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->tempo.beatsPerMinute, 124, 0.5);
    EXPECT_NEAR(beatTime(found->tempo, 10), 0.2 + 10 * 60.0 / 124, 0.02);
}

TEST(FindBeats, FollowsBeatsThatArePlayedByHand) {
    std::vector<float> mono(std::size_t(30) * audioRate, 0.0f);
    std::mt19937 chance(3);
    std::normal_distribution<double> uneven(0, 0.022);
    std::vector<double> played;
    for (double at = 0.4; at < 29; at += 0.6) played.push_back(at + uneven(chance));
    for (const double at : played) addClick(mono, at, 200, 0.8, 0.05);
    const auto found = beatsOf(mono);
    ASSERT_TRUE(found);
    EXPECT_FALSE(found->steady);
    EXPECT_NEAR(found->tempo.beatsPerMinute, 100, 0.5);
    int near = 0;
    for (std::size_t i = 0; i < played.size(); ++i) near += std::abs(beatTime(found->tempo, int(i)) - played[i]) < 0.02;
    EXPECT_GE(near, int(played.size()) * 95 / 100) << "each beat lies where it was played";
}

TEST(FindBeats, SaysSoWhereThereIsNoBeat) {
    const auto silent = beatsOf(std::vector<float>(std::size_t(10) * audioRate, 0.0f));
    ASSERT_FALSE(silent);
    EXPECT_EQ(silent.error().code, ErrorCode::BadInput);
    EXPECT_FALSE(silent.error().remedy.empty());
    EXPECT_FALSE(beatsOf({}));
    EXPECT_FALSE(beatsOf(clickTrack(120, 0, 0.4))) << "one click";
    std::vector<float> broken(48000, NAN);
    EXPECT_FALSE(beatsOf(broken));
}

TEST(FindBeats, SilenceAroundTheMusicDoesNoHarm) {
    std::vector<float> mono(std::size_t(8) * audioRate, 0.0f);
    const auto music = clickTrack(120, 0, 20);
    mono.insert(mono.end(), music.begin(), music.end());
    mono.resize(mono.size() + std::size_t(8) * audioRate);
    const auto found = beatsOf(mono);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->tempo.beatsPerMinute, 120, 0.5);
    EXPECT_NEAR(std::remainder(beatTime(found->tempo, 0) - 8, 0.5), 0, 0.02);
}

TEST(FindBeats, ReadsFiles) {
    TemporaryFolder folder;
    const auto mono = clickTrack(120, 0.5, 25);
    std::vector<float> stereo;
    for (const float v : mono) stereo.insert(stereo.end(), {v, v});
    ASSERT_TRUE(writeWav(folder / "clicks.wav", stereo));
    double last = 0;
    const auto found = findBeats(folder / "clicks.wav", 25, [&](double part) { last = part; });
    ASSERT_TRUE(found) << describe(found.error());
    EXPECT_NEAR(found->tempo.beatsPerMinute, 120, 0.5);
    EXPECT_NEAR(found->tempo.firstBeat.toDouble(), 0.5, 0.02);
    EXPECT_EQ(last, 1);
    Cancel cancel;
    cancel.request();
    EXPECT_EQ(findBeats(folder / "clicks.wav", 25, {}, cancel).error().code, ErrorCode::Cancelled);
    const auto missing = findBeats(folder / "no.wav", 25);
    ASSERT_FALSE(missing);
    EXPECT_EQ(missing.error().code, ErrorCode::NotFound);
    // A track that breaks off is searched as far as it goes.
    ASSERT_TRUE(ffmpeg("-i " + (folder / "clicks.wav").string() + " -c:a flac " + (folder / "c.flac").string()));
    fs::resize_file(folder / "c.flac", fs::file_size(folder / "c.flac") * 3 / 5);
    const auto cut = findBeats(folder / "c.flac", 25);
    ASSERT_TRUE(cut) << describe(cut.error());
    EXPECT_NEAR(cut->tempo.beatsPerMinute, 120, 0.5);
}

} // namespace
} // namespace virga
