#include "core/project/tempo.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/edit/edits.h"
#include "core/project/beats.h"
#include "tests/support/projects.h"

namespace virga::tempo_test {
namespace {

using namespace test;

Tempo even(double tempo, Rational first = 0) {
    return {tempo, first, 4, {}};
}

TEST(Tempo, BeatsLieOnTheGrid) {
    const Tempo t = even(120, Rational(1, 4));
    EXPECT_DOUBLE_EQ(beatTime(t, 0), 0.25);
    EXPECT_DOUBLE_EQ(beatTime(t, 7), 3.75);
    EXPECT_DOUBLE_EQ(beatTime(t, -1), -0.25);
    EXPECT_EQ(beatBefore(t, 3.75), 7);
    EXPECT_EQ(beatBefore(t, 3.74), 6);
    EXPECT_EQ(beatBefore(t, 0), -1);
}

TEST(Tempo, HalvesAndDoublesWithItsPlacedBeats) {
    Tempo t = withBeatAt(even(120), 4, 2.05);
    EXPECT_DOUBLE_EQ(beatTime(t, 4), 2.05);
    EXPECT_DOUBLE_EQ(beatTime(t, 5), 2.5) << "only the one that was moved";
    const Tempo twice = doubled(t);
    EXPECT_DOUBLE_EQ(twice.beatsPerMinute, 240);
    EXPECT_DOUBLE_EQ(beatTime(twice, 8), 2.05);
    EXPECT_DOUBLE_EQ(beatTime(twice, 9), (2.05 + 2.5) / 2);
    const Tempo back = halved(twice);
    EXPECT_EQ(back, t);
    EXPECT_DOUBLE_EQ(beatTime(halved(t), 2), 2.05);
}

TEST(Tempo, ShiftsAndRenumbers) {
    const Tempo t = withBeatAt(even(120), 3, 1.52);
    EXPECT_DOUBLE_EQ(beatTime(shifted(t, 0.1), 3), 1.62);
    EXPECT_DOUBLE_EQ(beatTime(shifted(t, 0.1), 0), 0.1);
    const Tempo r = renumbered(t, 1); // what was beat 3 is beat 4, the first of bar 2
    EXPECT_DOUBLE_EQ(beatTime(r, 4), 1.52);
    EXPECT_NEAR(beatTime(r, 1), 0, 1e-6);
}

TEST(Tempo, ABeatIsKeptBetweenItsNeighbours) {
    const Tempo t = even(120);
    EXPECT_DOUBLE_EQ(beatTime(withBeatAt(t, 4, 9), 4), 2.47);
    EXPECT_DOUBLE_EQ(beatTime(withBeatAt(t, 4, 0), 4), 1.53);
    EXPECT_EQ(beatBefore(withBeatAt(t, 4, 2.2), 2.1), 3);
}

TEST(Taps, GiveTheTempoThatWasTapped) {
    std::vector<double> taps;
    for (int i = 0; i < 12; ++i) taps.push_back(1.3 + i * 0.5 + (i % 3 - 1) * 0.012); // a person is a little uneven
    auto t = tempoFromTaps(taps);
    ASSERT_TRUE(t);
    EXPECT_NEAR(t->beatsPerMinute, 120, 1);
    EXPECT_NEAR(beatTime(*t, 0), 1.3, 0.015);
    taps.erase(taps.begin() + 5); // one left out
    t = tempoFromTaps(taps);
    ASSERT_TRUE(t);
    EXPECT_NEAR(t->beatsPerMinute, 120, 1);
    EXPECT_FALSE(tempoFromTaps({1, 2, 3}));
    EXPECT_FALSE(tempoFromTaps({1, 1.01, 1.02, 1.03}));
    EXPECT_FALSE(tempoFromTaps({0, 1, 1.5, 1.9, 3.33, 3.4, 6}));
}

TEST(Beats, FallOnReelFrames) {
    Project p = twoClips();
    Media song;
    song.path = "/s.wav";
    song.sound = true;
    song.duration = 100;
    std::string id;
    p = withMedia(p, song, &id);
    p = withMusic(p, id);
    EXPECT_FALSE(hasBeats(p));
    EXPECT_TRUE(beatsBetween(p, 0, 50).empty());
    p.music[0].tempo = even(120, Rational(1, 2));
    p.music[0].start = 5;
    p.music[0].sourceIn = Rational(1, 5);
    // Beat 0 is 0.5 s into the file, 0.3 s after what is heard first, at 25 a second: frame 5 + 7.5.
    const auto marks = beatsBetween(p, 0, 50);
    ASSERT_EQ(marks.size(), 5u);
    EXPECT_EQ(marks[0].beat, -1);
    EXPECT_EQ(marks[0].bar, 0) << "what comes before the first beat counts backwards";
    EXPECT_EQ(marks[1].beat, 0);
    EXPECT_DOUBLE_EQ(marks[1].frame, 12.5);
    EXPECT_TRUE(marks[1].startsBar);
    EXPECT_EQ(marks[1].bar, 1);
    EXPECT_EQ(beatFrame(p, 1), 25);
    EXPECT_EQ(beatAtFrame(p, 25), 1);
    EXPECT_EQ(beatAtFrame(p, 24), 0);
    EXPECT_DOUBLE_EQ(musicSeconds(p, 25), 1);
}

TEST(Music, LaterTracksFollowTheFirst) {
    Project p = twoClips();
    Media song;
    song.path = "/s.wav";
    song.sound = true;
    song.duration = 4;
    std::string id;
    p = withMedia(p, song, &id);
    p = withMusic(withMusic(p, id), id);
    EXPECT_EQ(p.music[1].start, 100);
    EXPECT_EQ(musicLength(p, p.music[0]), 100);
    p.music[0].length = 30;
    EXPECT_EQ(musicLength(p, p.music[0]), 30);
    EXPECT_EQ(withoutMusic(p, 0).music.size(), 1u);
}

} // namespace
} // namespace virga::tempo_test
