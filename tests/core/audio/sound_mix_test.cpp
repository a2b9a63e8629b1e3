// The mix of a reel: joints, limits, and the sound of an export, against FFmpeg's own measurements.
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <numbers>

#include "core/audio/audio_mix.h"
#include "core/audio/limiter.h"
#include "core/audio/wav.h"
#include "core/edit/reel_edits.h"
#include "core/export/export_reel.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::sound_mix_test {
namespace {

using namespace test;

std::vector<float> sine(double pitch, double seconds, double loud) {
    std::vector<float> out(std::size_t(seconds * audioRate) * 2);
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = float(loud * std::sin(2 * std::numbers::pi * pitch * double(i / 2) / audioRate));
    return out;
}

class SoundMix : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "v.mp4", {160, 96}, 25, 75);
        ASSERT_TRUE(writeWav(m_folder / "s.wav", sine(440, 3, 0.5)));
        ASSERT_TRUE(ffmpeg("-i " + (m_folder / "v.mp4").string() + " -i " + (m_folder / "s.wav").string() +
                           " -c:v copy -c:a pcm_s16le " + (m_folder / "a.mov").string()));
        m_project = twoClips(m_folder / "a.mov", m_folder / "a.mov");
        m_project.settings.size = {160, 96};
        for (Media& m : m_project.media) m.size = {160, 96}, m.sound = true, m.duration = 3;
    }
    Project withSongs(int count, double loud) {
        Project p = m_project;
        for (Clip& c : p.reel) c.muted = true;
        for (int i = 0; i < count; ++i) {
            const auto path = m_folder / ("song" + std::to_string(i) + ".wav");
            EXPECT_TRUE(writeWav(path, sine(440 + 111 * i, 3, loud)));
            p.media.push_back({"song-" + std::to_string(i), path});
            p.media.back().sound = true;
            p.media.back().duration = 3;
            p.music.push_back({"music-" + std::to_string(i), p.media.back().id});
        }
        return p;
    }
    TemporaryFolder m_folder;
    Project m_project;
};

TEST_F(SoundMix, ASplitShotSoundsAsIfItWereWhole) {
    Project whole = m_project;
    whole.reel.resize(1);
    whole.reel[0].length = 50;
    for (const FrameRate rate : {Rational(25), Rational(30000, 1001)}) {
        whole.settings.rate = rate;
        const Project parts = withSplit(whole, 25);
        ASSERT_EQ(parts.reel.size(), 2u);
        const auto a = mixed(whole, 0, 50), b = mixed(parts, 0, 50);
        double worst = 0;
        for (std::size_t i = 0; i < a.size(); ++i) worst = std::max(worst, double(std::abs(a[i] - b[i])));
        EXPECT_LT(worst, 1e-6) << toText(rate);
        Project louder = parts;
        louder.reel[1].gain = 1.5;
        const auto c = mixed(louder, 0, 50);
        double step = 0;
        for (std::size_t i = 2; i < c.size(); i += 2) step = std::max(step, double(std::abs(c[i] - c[i - 2])));
        EXPECT_LT(step, 0.06) << "no click where the gain changes: a 440 Hz tone moves no faster by itself";
    }
    // Other moments of the shot: there it fades, as at any cut.
    Project other = withSplit(whole, 25);
    other.reel[1].sourceIn = other.reel[1].sourceIn + Rational(1, 2);
    const auto c = mixed(other, 20, 30);
    const auto cut = std::size_t(sampleOfFrame(25, other.settings.rate) - sampleOfFrame(20, other.settings.rate));
    EXPECT_LT(std::abs(c[2 * cut]), 0.02);
}

// Three tones of 0.5 make 1.5: no sample beyond full scale, no flat top, and the gain comes and goes softly. Flat tops
// are counted by FFmpeg's astats, peaks too.
TEST_F(SoundMix, WhatIsTooLoudIsLimitedSoftlyAndTold) {
    const Project p = withSongs(3, 0.5);
    SoundPool pool;
    const Mix mix = mixSound(p, 0, 50, pool);
    EXPECT_LT(mix.gain, 0.75);
    EXPECT_NE(limiterNote(mix.gain).find("dB"), std::string::npos);
    EXPECT_EQ(limiterNote(1), "");
    ASSERT_TRUE(writeWav(m_folder / "mix.wav", mix.stereo));
    const Ran stats = runProgram("ffmpeg -nostdin -i " + (m_folder / "mix.wav").string() +
                                 " -af astats=measure_perchannel=none -f null -");
    const auto number = [&](const std::string& name) {
        const auto found = stats.err.find(name + ": ");
        EXPECT_NE(found, std::string::npos) << name;
        return found == std::string::npos ? 99 : std::atof(stats.err.c_str() + found + name.size() + 2);
    };
    EXPECT_LT(number("Peak level dB"), -0.2);
    EXPECT_GT(number("Peak level dB"), -1);
    EXPECT_LT(number("Flat factor"), 0.5) << "no runs of equal samples at the top";
    // One alone is not touched.
    SoundPool other;
    const Mix one = mixSound(withSongs(1, 0.5), 0, 50, other);
    EXPECT_EQ(one.gain, 1);
}

TEST_F(SoundMix, TheLimiterIsTheSameInPieces) {
    const Project p = withSongs(3, 0.5);
    const auto whole = mixed(p, 0, 50);
    std::vector<float> pieces;
    SoundPool pool;
    for (int from = 0; from < 50; from += 10) {
        const auto piece = mixSound(p, from, from + 10, pool).stereo;
        pieces.insert(pieces.end(), piece.begin(), piece.end());
    }
    EXPECT_EQ(whole, pieces);
}

TEST(Limiter, LeavesQuietSoundAloneAndHoldsLoudSound) {
    std::vector<float> quiet(std::size_t(2 * (2 * limiterReach + 4800)), 0.5f);
    float deepest = 0;
    EXPECT_EQ(limited(quiet, &deepest), std::vector<float>(9600, 0.5f));
    EXPECT_EQ(deepest, 1);
    auto spike = quiet;
    spike[2 * std::size_t(limiterReach + 2400)] = 40;
    const auto held = limited(spike, &deepest);
    for (std::size_t i = 0; i < held.size(); ++i) ASSERT_LE(std::abs(held[i]), limiterCeiling + 1e-6f);
    EXPECT_NEAR(deepest, limiterCeiling / 40, 1e-3);
    for (std::size_t i = 2; i < held.size(); i += 2) // the left side is too loud at one place; the right follows softly
        ASSERT_LT(std::abs(held[i + 1] - held[i - 1]), 0.01) << i;
}

TEST_F(SoundMix, DecodedSoundIsAsLongAsThePicture) {
    for (const int frames : {7, 25, 49}) {
        ExportSettings settings;
        settings.path = m_folder / "out.mp4";
        settings.to = frames;
        SourcePool pool;
        const auto done = exportReel(m_project, settings, pool);
        ASSERT_TRUE(done) << describe(done.error());
        ASSERT_TRUE(ffmpeg("-i " + settings.path.string() + " -vn -f f32le " + (m_folder / "raw").string()));
        EXPECT_EQ(fs::file_size(m_folder / "raw"), std::uintmax_t(frames) * 1920 * 8) << frames;
        // And it begins where it should: a 440 Hz tone of this phase.
        const auto sound = readAudio(settings.path, 0, 4000);
        ASSERT_TRUE(sound);
        const auto want = mixed(m_project, 0, frames);
        double dot = 0, all = 0;
        for (std::size_t i = 1000; i < 8000; ++i)
            dot += double((*sound)[i]) * want[i], all += double(want[i]) * want[i];
        EXPECT_NEAR(dot / all, 1, 0.02) << frames;
    }
}

TEST_F(SoundMix, TimecodeIsWrittenWhereThereIsOne) {
    const auto timecodeIn = [&](const Project& p, std::int64_t from) {
        ExportSettings settings;
        settings.path = m_folder / "tc.mp4";
        settings.from = from;
        settings.to = from + 3;
        SourcePool pool;
        const auto done = exportReel(p, settings, pool);
        EXPECT_TRUE(done) << (done ? "" : describe(done.error()));
        const Ran ran =
            runProgram("ffprobe -v error -show_entries stream_tags=timecode -of csv=p=0 " + settings.path.string());
        return ran.out.substr(0, ran.out.find('\n'));
    };
    EXPECT_EQ(timecodeIn(m_project, 0), "");
    Project p = m_project;
    p.media[0].timecode = Rational(36000 + 10); // 10:00:10:00
    p.reel[0].sourceIn = 1;
    EXPECT_EQ(timecodeIn(p, 0), "10:00:11:00");
    EXPECT_EQ(timecodeIn(p, 5), "10:00:11:05");
    p.settings.startFrame = 25 * 3600;
    EXPECT_EQ(timecodeIn(p, 0), "01:00:00:00") << "the piece's own goes first";
    p.settings.rate = Rational(30000, 1001);
    p.settings.startFrame = 17982; // SMPTE ST 12-1: drop-frame, 00:10:00;00
    EXPECT_EQ(timecodeIn(p, 0), "00:10:00;00");
}

} // namespace
} // namespace virga::sound_mix_test
