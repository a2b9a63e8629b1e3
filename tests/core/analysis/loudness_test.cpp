#include "core/analysis/loudness.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::loudness_test {
namespace {

using namespace test;

// A sine on both sides; `level` tells its peak at a moment, in dBFS.
template <typename Level> fs::path sine(const fs::path& file, double seconds, const Level& level) {
    std::vector<float> stereo;
    for (std::int64_t i = 0; i < std::int64_t(seconds * audioRate); ++i) {
        const double t = double(i) / audioRate;
        const auto v = float(std::pow(10, level(t) / 20) * std::sin(2 * std::numbers::pi * 1000 * t));
        stereo.insert(stereo.end(), {v, v});
    }
    EXPECT_TRUE(writeWav(file, stereo));
    return file;
}

// EBU Tech 3341 (2016), table 1, cases 1 and 2: a stereo sine of 1000 Hz at -23.0 and -33.0 dBFS reads -23.0 and
// -33.0 LUFS, to 0.1 LU; case 3: 10 s at -36, 60 s at -23, 10 s at -36 reads -23.0 as a whole. The table is quoted from
// memory.
TEST(Loudness, ReadsTheSignalsOfEbuTech3341) {
    const TemporaryFolder folder;
    for (const double level : {-23.0, -33.0}) {
        const auto course = measureLoudness(sine(folder / "sine.wav", 20, [&](double) { return level; }), 20);
        ASSERT_TRUE(course);
        EXPECT_NEAR(course->whole, level, 0.1);
        ASSERT_EQ(course->momentary.size(), 197u) << "one each tenth, whose 400 ms are whole";
        for (const double momentary : course->momentary) EXPECT_NEAR(momentary, level, 0.1);
    }
    const auto stepped =
        measureLoudness(sine(folder / "steps.wav", 80, [](double t) { return t < 10 || t >= 70 ? -36.0 : -23.0; }), 80);
    ASSERT_TRUE(stepped);
    EXPECT_NEAR(stepped->whole, -23, 0.1);
    EXPECT_NEAR(stepped->above(2, 3), -13, 0.1);
    EXPECT_NEAR(stepped->above(30, 31), 0, 0.1);
    EXPECT_EQ(stepped->above(90, 91), 0) << "behind its end";
}

TEST(Loudness, OfSilenceAndOfWhatIsNoSound) {
    const TemporaryFolder folder;
    const auto silent = measureLoudness(sine(folder / "silent.wav", 3, [](double) { return -200.0; }), 3);
    ASSERT_TRUE(silent);
    EXPECT_EQ(silent->whole, LoudnessCourse::quietest);
    EXPECT_EQ(silent->above(0, 1), 0);
    EXPECT_FALSE(measureLoudness(folder / "none.wav", 3));
    Cancel stop;
    stop.request();
    EXPECT_FALSE(measureLoudness(folder / "silent.wav", 3, stop));
}

// At each cut what follows it, wherever the music lies on the reel.
TEST(Loudness, IsReadBehindEachCut) {
    const TemporaryFolder folder;
    Project p = twoClips();
    p.reel[0].length = 50, p.reel[1].length = 50;
    p.reel.push_back(p.reel[0]);
    Media medium = p.media[0];
    medium.id = "song", medium.duration = 8;
    medium.path = sine(folder / "song.wav", 8, [](double t) { return t < 5 ? -40.0 : -20.0; });
    p.media.push_back(medium);
    Music music;
    music.mediaId = "song", music.sourceIn = Rational(1);
    p.music = {music};
    const auto courses = loudnessOfMusic(p);
    const auto at = loudnessAtCuts(p, courses);
    ASSERT_EQ(at.size(), 2u);
    EXPECT_NEAR(at[0], -20, 0.5) << "second 3 of the song: 20 dB under what passes the gate";
    EXPECT_NEAR(at[1], 0, 0.5) << "second 5";
    EXPECT_TRUE(loudnessAtCuts(p, {}).empty());
    p.music[0].length = 10;
    EXPECT_EQ(loudnessAtCuts(p, courses), (std::vector<double>{0, 0})) << "none plays there";
}

} // namespace
} // namespace virga::loudness_test
