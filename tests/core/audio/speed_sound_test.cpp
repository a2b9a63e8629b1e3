// A shot's sound along its speed: phase and pitch of a tone against what they must be.
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

#include "core/audio/audio_mix.h"
#include "core/audio/speed_sound.h"
#include "core/audio/wav.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::speed_sound_test {
namespace {

using namespace test;

constexpr double tone = 440;

class SpeedOfSound : public testing::Test {
protected:
    void SetUp() override {
        std::vector<float> sound(std::size_t(10 * audioRate) * 2);
        for (std::size_t i = 0; i < sound.size(); ++i)
            sound[i] = float(0.5 * std::sin(2 * std::numbers::pi * tone * double(i / 2) / audioRate));
        ASSERT_TRUE(writeWav(m_folder / "s.wav", sound));
        m_project = twoClips(m_folder / "s.wav", m_folder / "s.wav");
        for (Media& m : m_project.media) m.sound = true, m.duration = 10;
        m_project.reel.resize(1);
        clip().sourceIn = 1;
        clip().length = 75;
    }
    Clip& clip() { return m_project.reel[0]; }
    void ramp(double from, double to) {
        clip().speedCurve.incoming.keys = {{0, from, Interpolation::Linear, {}, {}}, {75, to}};
    }
    // Of one channel, over a stretch: the tone's frequency by the phase that it gains from one half to the other.
    double pitchOf(const std::vector<float>& stereo, std::size_t from, std::size_t count, double near) {
        const auto phase = [&](std::size_t begin) {
            double re = 0, im = 0;
            for (std::size_t i = 0; i < count / 2; ++i) {
                const double w = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * double(i) / double(count / 2));
                const double a = 2 * std::numbers::pi * near * double(begin + i) / audioRate;
                re += w * stereo[2 * (begin + i)] * std::cos(a), im -= w * stereo[2 * (begin + i)] * std::sin(a);
            }
            return std::atan2(im, re);
        };
        const double gained = std::remainder(phase(from + count / 2) - phase(from), 2 * std::numbers::pi);
        return near + gained / (2 * std::numbers::pi) / (double(count) / 2 / audioRate);
    }
    TemporaryFolder m_folder;
    Project m_project;
};

TEST_F(SpeedOfSound, FollowingItHasThePhaseThatTheRampSays) {
    clip().speedSound = SpeedSound::Follows;
    ramp(60, 190);
    const auto out = mixed(m_project, 0, 75);
    const double rate = 25;
    double worst = 0;
    for (std::size_t i = audioRate / 10; i < out.size() / 2 - audioRate / 10; ++i) {
        const double t = double(i) / audioRate, frame = t * rate;
        // The mean of both ends of a straight ramp times the time.
        const double speed = 0.6 + (1.9 - 0.6) * frame / 75, source = 1 + t * (0.6 + speed) / 2;
        worst = std::max(worst, std::abs(out[2 * i] - 0.5 * std::sin(2 * std::numbers::pi * tone * source)));
    }
    EXPECT_LT(worst, 0.002) << "48 dB below the tone, or better";
}

TEST_F(SpeedOfSound, KeepingItsPitchTheToneStaysWithinThreeCents) {
    clip().speedSound = SpeedSound::KeepsPitch;
    ramp(70, 180);
    const auto out = mixed(m_project, 0, 75);
    for (const double at : {0.6, 1.2, 1.8, 2.4}) {
        const double pitch = pitchOf(out, std::size_t(at * audioRate), audioRate / 5, tone);
        EXPECT_NEAR(1200 * std::log2(pitch / tone), 0, 3) << at << " s, in cents";
        double loud = 0;
        for (int i = 0; i < audioRate / 10; ++i)
            loud = std::max(loud, std::abs(double(out[2 * (std::size_t(at * audioRate) + std::size_t(i))])));
        EXPECT_NEAR(loud, 0.5, 0.14) << at;
    }
    // Twice as fast, and half: constant speeds likewise.
    for (const Rational speed : {Rational(2), Rational(1, 2)}) {
        clip().speedCurve = {};
        clip().speed = speed;
        const auto constant = mixed(m_project, 0, 75);
        EXPECT_NEAR(1200 * std::log2(pitchOf(constant, audioRate, audioRate / 5, tone) / tone), 0, 3) << toText(speed);
    }
}

TEST_F(SpeedOfSound, BeyondNormalSpeedsItIsSilentOfItself) {
    ramp(100, 900);
    const auto out = mixed(m_project, 0, 75);
    const auto loud = [&](double from, double to) {
        float most = 0;
        for (auto i = std::size_t(from * audioRate); i < std::size_t(to * audioRate); ++i)
            most = std::max(most, std::abs(out[2 * i]));
        return most;
    };
    EXPECT_NEAR(loud(0.1, 0.3), 0.5, 0.02) << "at 100 to 180 % it sounds";
    EXPECT_EQ(loud(0.8, 2.9), 0) << "above 250 % it does not";
    clip().speedCurve = {};
    for (const auto& [speed, heard] : {std::pair(Rational(2), true),
                                       {Rational(3), false},
                                       {Rational(1, 4), false},
                                       {Rational(-1), true},
                                       {Rational(0), false}}) {
        clip().speed = speed;
        if (speed < Rational(0)) clip().sourceIn = 5;
        const auto one = mixed(m_project, 0, 75);
        EXPECT_EQ(one.empty() ? 0 : *std::max_element(one.begin(), one.end()) > 0.3F, heard) << toText(speed);
    }
    clip().speed = 1;
    clip().speedSound = SpeedSound::Silent;
    EXPECT_GT(mixed(m_project, 0, 25)[24000], -1) << "at its own speed nothing is silenced";
}

TEST_F(SpeedOfSound, IsTheSameHoweverItIsAskedFor) {
    for (const SpeedSound way : {SpeedSound::Follows, SpeedSound::KeepsPitch}) {
        clip().speedSound = way;
        ramp(80, 300);
        const auto whole = mixed(m_project, 0, 75), a = mixed(m_project, 0, 31), b = mixed(m_project, 31, 75);
        ASSERT_EQ(whole.size(), a.size() + b.size());
        double worst = 0;
        for (std::size_t i = 0; i < whole.size(); ++i)
            worst = std::max(worst, double(std::abs(whole[i] - (i < a.size() ? a[i] : b[i - a.size()]))));
        EXPECT_LT(worst, 1e-4);
    }
}

TEST_F(SpeedOfSound, BackwardsIsTheSameSoundBackwards) {
    clip().speedSound = SpeedSound::Follows;
    ramp(100, 200);
    const auto forward = mixed(m_project, 0, 75);
    clip() = runBackwards(m_project, clip());
    const auto back = mixed(m_project, 0, 75);
    // Frame k shows what frame 74 - k showed: the sound turns about the same moment.
    double worst = 0;
    const std::size_t turn = std::size_t(74) * audioRate / 25;
    for (std::size_t i = audioRate / 10; i < turn - audioRate / 10; ++i)
        worst = std::max(worst, double(std::abs(back[2 * i] - forward[2 * (turn - i)])));
    EXPECT_LT(worst, 0.003);
}

TEST_F(SpeedOfSound, ASplitRampSoundsAsIfItWereWhole) {
    clip().speedSound = SpeedSound::Follows;
    ramp(60, 190);
    const auto whole = mixed(m_project, 0, 75), parts = mixed(withSplit(m_project, 30), 0, 75);
    double worst = 0;
    for (std::size_t i = 0; i < whole.size(); ++i) worst = std::max(worst, double(std::abs(whole[i] - parts[i])));
    EXPECT_LT(worst, 0.002);
}

// Clicks every quarter second of the source must be heard when the picture of their moment is seen: within 10 ms,
// whatever the shot's speed does, over the joints of the windows that the sound is made in, too.
TEST_F(SpeedOfSound, ClicksAreHeardWhenTheirPictureIsSeen) {
    constexpr int seconds = 60;
    constexpr double apart = 0.25;
    std::vector<float> clicks(std::size_t(seconds * audioRate) * 2, 0.0f);
    for (int k = 1; k * apart < seconds; ++k)
        for (int i = 0; i < audioRate / 500; ++i) // 2 ms of a falling burst
            for (int c = 0; c < 2; ++c)
                clicks[2 * (std::size_t(k * apart * audioRate) + std::size_t(i)) + std::size_t(c)] =
                    float(0.9 * std::exp(-i / 24.0) * (i % 4 < 2 ? 1 : -1));
    ASSERT_TRUE(writeWav(m_folder / "clicks.wav", clicks));
    m_project = twoClips(m_folder / "clicks.wav", m_folder / "clicks.wav");
    for (Media& m : m_project.media) m.sound = true, m.duration = seconds;
    m_project.reel.resize(1);
    struct Case {
        const char* name;
        double sourceIn;
        std::int64_t length;
        std::vector<Key> speeds;
    };
    const auto key = [](double time, double speed) { return Key{time, speed, Interpolation::Linear, {}, {}}; };
    const std::vector<Case> cases = {
        {"as shot", 5, 250, {key(0, 100), key(250, 100)}},
        {"faster and faster", 2, 400, {key(0, 60), key(400, 190)}},
        {"into the cut", 2, 120, {key(0, 100), key(100, 100), key(120, 400)}},
        {"slower", 2, 400, {key(0, 200), key(400, 55)}},
        {"backwards", 50, 250, {key(0, -100), key(250, -100)}},
        {"backwards, slower", 55, 300, {key(0, -180), key(300, -60)}},
        {"held on the way", 2, 200, {key(0, 100), key(60, 0), key(100, 0), key(160, 100), key(200, 100)}},
        {"there and back", 10, 300, {key(0, 120), key(120, 120), key(180, -120), key(300, -120)}}};
    for (const SpeedSound way : {SpeedSound::Follows, SpeedSound::KeepsPitch})
        for (const Case& one : cases) {
            SCOPED_TRACE(std::string(one.name) + (way == SpeedSound::Follows ? ", follows" : ", keeps its pitch"));
            clip().speedSound = way;
            clip().sourceIn = Rational(std::int64_t(one.sourceIn));
            clip().length = one.length;
            clip().speedCurve.incoming.keys = one.speeds;
            const auto out = mixed(m_project, 0, one.length);
            const SoundCourse course(clip(), 0, m_project.settings.rate);
            const auto samples = std::int64_t(out.size() / 2);
            int heard = 0, late = 0;
            double worst = 0;
            // Where the source's time passes a click at a speed that is heard well.
            for (std::int64_t i = 2000; i + 2000 < samples; ++i) {
                const double a = course.secondsAt(double(i)) / apart, b = course.secondsAt(double(i + 1)) / apart;
                if (std::floor(a) == std::floor(b) || std::abs(course.speedAt(double(i))) < 0.3) continue;
                // The loudest moment within 60 ms; the next click is farther off at up to four times the speed.
                std::int64_t best = i;
                double loudest = 0;
                for (std::int64_t k = std::max<std::int64_t>(0, i - 1440); k < std::min(samples, i + 1440); ++k)
                    if (std::abs(out[std::size_t(2 * k)]) > loudest)
                        loudest = std::abs(out[std::size_t(2 * k)]), best = k;
                ++heard;
                const double off = double(best - i) / audioRate;
                worst = std::max(worst, std::abs(off));
                late += std::abs(off) > 0.010;
            }
            EXPECT_GT(heard, 10);
            EXPECT_EQ(late, 0) << "of " << heard << " clicks more than 10 ms off, the worst " << worst * 1000 << " ms";
        }
}

} // namespace
} // namespace virga::speed_sound_test
