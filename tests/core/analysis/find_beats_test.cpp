#include "core/analysis/find_beats.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>
#include <utility>

#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "tests/support/clips.h"

namespace virga::find_beats_test {
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
    EXPECT_GT(found->confidence, 0.9);
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

// Made music, as a small band would play it: a drum on the beats, hats between, chords over a bar.
class Band {
public:
    explicit Band(double seconds) : m_sound(std::size_t(seconds * audioRate), 0.0F) {}
    void kick(double at) {
        put(at, 0.25, [](double t) {
            const double phase = 50 * t + 70 * 0.04 * (1 - std::exp(-t / 0.04));
            return 0.9 * std::sin(2 * std::numbers::pi * phase) * std::exp(-t / 0.09);
        });
    }
    void snare(double at) {
        put(at, 0.18, [this](double t) {
            return 0.6 * (0.7 * m_noise(m_chance) * std::exp(-t / 0.05) +
                          0.4 * std::sin(2 * std::numbers::pi * 190 * t) * std::exp(-t / 0.06));
        });
    }
    void hat(double at, double loud) {
        double before = 0;
        put(at, 0.06, [&, loud](double t) {
            const double now = m_noise(m_chance), bright = now - std::exchange(before, now);
            return loud * bright * std::exp(-t / 0.015);
        });
    }
    void tone(double at, double pitch, double length, double loud, double attack) {
        put(at, length, [=](double t) {
            double sum = 0;
            for (const int k : {1, 2, 3}) sum += std::sin(2 * std::numbers::pi * pitch * k * t) / k;
            return loud * sum * std::min(1.0, t / attack) * std::exp(-t / (length * 0.5)) *
                   std::min(1.0, (length - t) / 0.02);
        });
    }
    // `swing` is where between two beats the hat comes.
    void play(const std::vector<double>& beats, int perBar, bool drums = true, double swing = 0.5) {
        constexpr double roots[] = {110, 98, 130.8, 87.3};
        for (std::size_t i = 0; i < beats.size(); ++i) {
            const double at = beats[i], length = i + 1 < beats.size() ? beats[i + 1] - at : at - beats[i - 1];
            const int place = int(i) % perBar;
            const double root = roots[i / std::size_t(perBar) % 4];
            if (drums) {
                if (place == 0 || (perBar == 4 && place == 2))
                    kick(at);
                else if (perBar == 4)
                    snare(at);
                else
                    hat(at, 0.35);
                hat(at, 0.2);
                hat(at + length * swing, 0.15);
            } else {
                tone(at, root, length * 0.9, 0.25, 0.015);
                tone(at + length / 2, 440 * std::exp2(double(i * 7 % 12) / 12), length * 0.45, 0.06, 0.01);
            }
            if (place == 0)
                for (const double k : {1.0, 1.25, 1.5}) tone(at, root * 2 * k, length * perBar, 0.08, 0.02);
        }
    }
    std::vector<float>& sound() { return m_sound; }

private:
    template <class Wave> void put(double at, double length, Wave wave) {
        const auto from = std::int64_t(std::llround(at * audioRate));
        for (std::int64_t i = 0; i < std::int64_t(length * audioRate); ++i)
            if (from + i >= 0 && from + i < std::int64_t(m_sound.size()))
                m_sound[std::size_t(from + i)] += float(wave(double(i) / audioRate));
    }
    std::vector<float> m_sound;
    std::mt19937 m_chance{7};
    std::normal_distribution<double> m_noise{0, 1};
};

constexpr double playingTime = 40;

std::vector<double> evenBeats(double tempo, double first = 0.4) {
    std::vector<double> beats;
    for (double at = first; at < playingTime - 0.3; at += 60 / tempo) beats.push_back(at);
    return beats;
}

struct Played {
    std::string name;
    std::vector<float> sound;
    std::vector<double> beats;
    int perBar = 4;
};

std::vector<Played> eighteenTracks() {
    std::vector<Played> tracks;
    const auto add = [&](const std::string& name, const std::vector<double>& beats, int perBar, bool drums = true,
                         double swing = 0.5) -> Played& {
        Band band(playingTime);
        band.play(beats, perBar, drums, swing);
        tracks.push_back({name, std::move(band.sound()), beats, perBar});
        return tracks.back();
    };
    for (const double tempo : {66.0, 74.0, 90.0, 100.7, 120.0, 128.0, 140.0, 160.0, 174.0})
        add("drums at " + std::to_string(tempo), evenBeats(tempo, 0.37), 4);
    add("waltz", evenBeats(150), 3);
    add("waltz without drums", evenBeats(108), 3, false);
    add("swing", evenBeats(132), 4, true, 0.66);
    std::vector<double> faster{0.5};
    while (faster.back() < playingTime - 0.8)
        faster.push_back(faster.back() + 60 / (90 + 60 * faster.back() / playingTime));
    faster.pop_back();
    add("accelerando from 90 to 150", faster, 4);
    std::vector<double> step;
    for (double at = 0.4; at < 20; at += 0.6) step.push_back(at);
    for (double at = step.back() + 0.6; at < playingTime - 0.4; at += 60 / 126.0) step.push_back(at);
    add("from 100 to 126 at once", step, 4);
    Played& quiet = add("quiet intro", evenBeats(112), 4);
    Band soft(playingTime);
    soft.play(quiet.beats, 4, false);
    for (std::size_t i = 0; i < std::size_t(15 * audioRate); ++i) quiet.sound[i] = 0.12F * soft.sound()[i];
    add("no drums at 96", evenBeats(96), 4, false);
    add("no drums at 120", evenBeats(120), 4, false);
    std::mt19937 chance(3);
    std::normal_distribution<double> human(0, 0.012);
    auto byHand = evenBeats(104);
    for (double& at : byHand) at += human(chance);
    add("played by hand at 104", byHand, 4);
    return tracks;
}

TEST(FindBeats, AtLeast95PercentOfTheBeatsOfEighteenTracksWithin20Milliseconds) {
    const auto tracks = eighteenTracks();
    EXPECT_EQ(tracks.size(), 18u);
    int right = 0, all = 0;
    for (const Played& track : tracks) {
        SCOPED_TRACE(track.name);
        const auto found = beatsOf(track.sound);
        ASSERT_TRUE(found) << describe(found.error());
        EXPECT_TRUE(found->isSure()) << found->confidence;
        std::vector<double> beats;
        for (int i = found->firstHeard; i <= found->lastHeard; ++i) beats.push_back(beatTime(found->tempo, i));
        int hit = 0;
        for (const double at : track.beats)
            hit += std::any_of(beats.begin(), beats.end(), [&](double b) { return std::abs(b - at) < 0.02; });
        right += hit, all += int(track.beats.size());
        EXPECT_GE(hit, int(track.beats.size()) * 9 / 10);
        EXPECT_LE(beats.size(), track.beats.size() + track.beats.size() / 12 + 2) << "and hardly any that are none";
        if (found->barsKnown) {
            EXPECT_EQ(found->tempo.beatsPerBar, track.perBar);
            // Beat 0 and every so many after it begin a bar.
            const double first = beatTime(found->tempo, found->tempo.beatsPerBar);
            const auto nearest = std::min_element(track.beats.begin(), track.beats.end(), [&](double a, double b) {
                return std::abs(a - first) < std::abs(b - first);
            });
            const auto place = (nearest - track.beats.begin()) % track.perBar;
            EXPECT_TRUE(place == 0 || (track.perBar == 4 && place == 2)) << place;
        }
    }
    EXPECT_GE(right * 100, all * 95) << right << " of " << all;
}

TEST(FindBeats, SaysOfNoiseAndAmbienceThatItIsUnsure) {
    std::mt19937 chance(9);
    std::normal_distribution<float> noise(0, 0.2F);
    std::uniform_real_distribution<double> anywhere(0, 1);
    std::vector<float> white(std::size_t(playingTime) * audioRate), pad(white.size(), 0.0F);
    for (float& v : white) v = noise(chance);
    for (int k = 0; k < 8; ++k) {
        const double pitch = 80 + 520 * anywhere(chance), slow = 0.03 + 0.17 * anywhere(chance),
                     turn = 6 * anywhere(chance);
        for (std::size_t i = 0; i < pad.size(); ++i) {
            const double t = double(i) / audioRate;
            pad[i] += float(0.05 * std::sin(2 * std::numbers::pi * pitch * t) *
                            (1 + 0.6 * std::sin(2 * std::numbers::pi * slow * t + turn)));
        }
    }
    Band ambience(playingTime);
    for (float& v : ambience.sound()) v = 0.15F * noise(chance);
    for (int k = 0; k < 60; ++k) ambience.tone(39 * anywhere(chance), 200 + 1800 * anywhere(chance), 0.3, 0.2, 0.01);
    for (const auto* sound : {&white, &pad, &ambience.sound()}) {
        const auto found = beatsOf(*sound);
        if (!found) continue; // too little begins in it: said, too
        EXPECT_FALSE(found->isSure()) << found->confidence;
        EXPECT_NE(found->described().find("unsure"), std::string::npos);
    }
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
} // namespace virga::find_beats_test
