// Movement heard: its loudness against the seen speed, its place, its pieces.
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <numeric>

#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"
#include "core/audio/heard.h"
#include "core/plan/seen_speed.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::heard_test {
namespace {

using namespace test;

Project heardProject() {
    Project p = plungeProject();
    p.settings.heard.on = true;
    return p;
}

// Seen speed of the frame that is on screen, % of the width.
std::vector<double> speedsOf(const Project& p) {
    std::vector<double> speeds;
    const ReelIndex index = reelIndex(p);
    for (std::int64_t n = 0; n < reelLength(p); ++n) {
        const FramePlan plan = planFrame(p, index, n);
        speeds.push_back(plan.layers.empty() ? 0 : seenSpeed(plan.layers.back(), double(n), p.settings.size));
    }
    return speeds;
}

// Root of the mean square while each frame is on screen.
std::vector<double> loudnessOf(const Project& p, int channel = -1) {
    std::vector<double> all;
    for (std::int64_t n = 0; n < reelLength(p); ++n) {
        const auto a = sampleOfFrame(n, p.settings.rate), b = sampleOfFrame(n + 1, p.settings.rate);
        const auto sound = heardSound(p, a, b);
        double square = 0;
        for (std::size_t i = 0; i < sound.size(); ++i)
            if (channel < 0 || int(i % 2) == channel) square += double(sound[i]) * double(sound[i]);
        all.push_back(std::sqrt(square / double(sound.size()) * (channel < 0 ? 1 : 2)));
    }
    return all;
}

double correlation(const std::vector<double>& a, const std::vector<double>& b) {
    const double n = double(a.size()), ma = std::accumulate(a.begin(), a.end(), 0.0) / n,
                 mb = std::accumulate(b.begin(), b.end(), 0.0) / n;
    double ab = 0, aa = 0, bb = 0;
    for (std::size_t i = 0; i < a.size(); ++i)
        ab += (a[i] - ma) * (b[i] - mb), aa += (a[i] - ma) * (a[i] - ma), bb += (b[i] - mb) * (b[i] - mb);
    return ab / std::sqrt(aa * bb);
}

TEST(Heard, ItsLoudnessFollowsTheSeenSpeed) {
    const Project zoom = heardProject();
    const Project slide = [] {
        Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, -1, 9, 1, 0, 11);
        p.settings.heard.on = true;
        return p;
    }();
    const Project turn = [] {
        Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, -60, 8, 60, 0, 10);
        p.settings.heard.on = true;
        return p;
    }();
    for (const Project& p : {zoom, slide, turn}) {
        const auto speeds = speedsOf(p), loud = loudnessOf(p);
        EXPECT_GE(correlation(speeds, loud), 0.95);
        const auto peakOf = [](const std::vector<double>& v) {
            return std::max_element(v.begin(), v.end()) - v.begin();
        };
        EXPECT_EQ(peakOf(loud), peakOf(speeds)) << "within half a frame";
    }
}

TEST(Heard, IsSilentWhereNothingMovesAndWhereItIsOff) {
    const auto loud = loudnessOf(heardProject());
    EXPECT_EQ(loud[5], 0);
    EXPECT_EQ(loud[45], 0);
    Project off = heardProject();
    off.settings.heard.on = false;
    for (const float v : heardSound(off, 0, 48000)) ASSERT_EQ(v, 0);
    EXPECT_FALSE(hasSound(off, Stem::Movement));
    EXPECT_FALSE(Project().settings.heard.on) << "off by default";
}

TEST(Heard, PiecesJoinAndEveryRunIsTheSame) {
    Project p = heardProject();
    p.settings.heard.thud = 1;
    p.settings.heard.length = 0.3;
    const std::int64_t end = sampleOfFrame(reelLength(p), p.settings.rate);
    const auto whole = heardSound(p, 0, end);
    std::vector<float> pieces;
    for (std::int64_t at = 0; at < end; at += 7001) {
        const auto piece = heardSound(p, at, std::min(end, at + 7001));
        pieces.insert(pieces.end(), piece.begin(), piece.end());
    }
    EXPECT_EQ(whole, pieces);
    EXPECT_EQ(whole, heardSound(p, 0, end));
    float most = 0;
    for (const float v : whole) most = std::max(most, std::abs(v));
    EXPECT_LT(most, 1) << "nothing clips";
    EXPECT_GT(most, 0.1);
}

TEST(Heard, ItsPlaceFollowsTheDirection) {
    Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, -1, 9, 1, 0, 11);
    p.settings.heard.on = true;
    const auto left = loudnessOf(p, 0), right = loudnessOf(p, 1);
    EXPECT_GT(left[23], 2 * right[23]) << "to the left";
    Project q = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 1, 9, -1, 0, 11);
    q.settings.heard.on = true;
    EXPECT_GT(loudnessOf(q, 1)[23], 2 * loudnessOf(q, 0)[23]) << "to the right";
    const Project zoom = heardProject();
    const auto all = [&](int channel) {
        const auto loud = loudnessOf(zoom, channel);
        return std::accumulate(loud.begin(), loud.end(), 0.0);
    };
    EXPECT_NEAR(all(0) / all(1), 1, 0.3) << "in the middle, by and large: its two sides are not the same noise";
}

// How often it crosses zero tells how bright it is.
TEST(Heard, FasterIsBrighter) {
    const Project p = heardProject();
    const auto crossings = [&](std::int64_t frame) {
        const auto sound = heardSound(p, sampleOfFrame(frame, 25), sampleOfFrame(frame + 1, 25));
        int n = 0;
        for (std::size_t i = 2; i < sound.size(); i += 2) n += (sound[i] > 0) != (sound[i - 2] > 0);
        return n;
    };
    EXPECT_GT(crossings(24), 1.3 * crossings(21));
    Project airy = p, full = p;
    airy.settings.heard.air = 1;
    full.settings.heard.air = 0;
    const auto all = [](const Project& q) {
        const auto sound = heardSound(q, sampleOfFrame(20, 25), sampleOfFrame(32, 25));
        int n = 0;
        for (std::size_t i = 2; i < sound.size(); i += 2) n += (sound[i] > 0) != (sound[i - 2] > 0);
        return n;
    };
    EXPECT_GT(all(airy), 1.5 * all(full));
}

TEST(Heard, ALengthSwellsAroundThePeakAndAThudBeginsOnIt) {
    Project p = heardProject();
    const auto plain = loudnessOf(p);
    p.settings.heard.length = 0.4;
    const auto longer = loudnessOf(p);
    EXPECT_GT(longer[17], 5 * plain[17] + 0.001) << "it swells before";
    const auto peakOf = [](const std::vector<double>& v) { return std::max_element(v.begin(), v.end()) - v.begin(); };
    EXPECT_EQ(peakOf(longer), peakOf(plain));
    p.settings.heard.thud = 1;
    const HeardCourse course(p, 0, reelLength(p));
    ASSERT_EQ(course.thuds().size(), 1u);
    EXPECT_EQ(course.thuds()[0], peakOf(speedsOf(p)));
}

TEST(Heard, IsMixedAndWrittenAsAStem) {
    const TemporaryFolder folder;
    Project p = heardProject();
    SoundPool pool;
    const Mix mix = mixSound(p, 20, 30, pool);
    const auto alone = heardSound(p, sampleOfFrame(20, 25), sampleOfFrame(30, 25));
    ASSERT_EQ(mix.stereo.size(), alone.size());
    for (std::size_t i = 0; i < alone.size(); ++i) ASSERT_NEAR(mix.stereo[i], alone[i], 1e-6);
    const auto written = writeStems(p, folder / "piece.mp4", pool);
    ASSERT_TRUE(written) << written.error().message;
    EXPECT_EQ(*written, 1) << "no clip of this piece has a sound, and there is no music";
    EXPECT_TRUE(fs::exists(folder / "piece-movement.wav"));
    EXPECT_EQ(fs::file_size(folder / "piece-movement.wav"), 44u + std::size_t(reelLength(p)) * 1920 * 4);
}

} // namespace
} // namespace virga::heard_test
