// Overlaps, crops, bars, speeds and fades as pictures and as sound.
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/reel_edits.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::layers_render_test {
namespace {

using namespace test;

class Layers : public testing::Test {
protected:
    void SetUp() override {
        const auto solid = [](Rgba8 c) { return [c](int) { return solidPicture({320, 180}, c); }; };
        writeClip(m_folder / "a.mp4", {320, 180}, 25, 75, solid({0, 0, 0, 255}));
        writeClip(m_folder / "b.mp4", {320, 180}, 25, 75, solid({255, 255, 255, 255}));
        m_project = twoClips(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : m_project.media) m.size = {320, 180};
        m_project.settings.size = {320, 180};
    }
    Image<Rgba8> render(const Project& p, std::int64_t frame) {
        auto picture = renderFrame(p, frame, {320, 180}, exactQuality, m_pool);
        EXPECT_TRUE(picture) << (picture ? "" : describe(picture.error()));
        return picture ? std::move(*picture) : Image<Rgba8>(320, 180);
    }
    TemporaryFolder m_folder;
    Project m_project;
    SourcePool m_pool;
};

TEST_F(Layers, ACrossfadeMixesLight) {
    const Project p = withCrossfade(m_project, 0, 10);
    EXPECT_NEAR(render(p, 20).at(100, 90).g, 0, 1);
    // Half black, half white in linear light is 188 by the sRGB curve (IEC 61966-2-1), not 128.
    EXPECT_NEAR(render(p, 25).at(100, 90).g, 188, 1);
    EXPECT_NEAR(render(p, 29).at(100, 90).g, std::lround(255 * (1.055 * std::pow(0.9, 1 / 2.4) - 0.055)), 1);
    EXPECT_EQ(render(p, 30).at(100, 90).g, 255);
}

TEST_F(Layers, BarsAreBlackToTheLineAndOverlaysLieAboveThem) {
    Project p = withAdjustmentAdded(m_project, 25, 25);
    p.adjustments[0].bars = 2.0; // 320 : 160, ten lines above and below
    Image<Rgba8> picture = render(p, 30);
    EXPECT_EQ(picture.at(5, 9).g, 0);
    EXPECT_EQ(picture.at(5, 10).g, 255);
    EXPECT_EQ(picture.at(5, 169).g, 255);
    EXPECT_EQ(picture.at(5, 170).g, 0);
    p.adjustments[0].bars = 320.0 / 161; // nine and a half
    EXPECT_NEAR(render(p, 30).at(5, 9).g, 188, 1) << "half a line";
    p.adjustments[0].bars = 1; // narrower than the frame: left and right
    EXPECT_EQ(render(p, 30).at(69, 90).g, 0);
    EXPECT_EQ(render(p, 30).at(70, 90).g, 255);
    p.adjustments[0].bars = 2;
    p = withOverlayAdded(p, "media-2", 25);
    p.overlays[0].clip.placement = {0.5, 0, {0, -0.25}, {0.5, 0.5}};
    picture = render(p, 30);
    EXPECT_EQ(picture.at(160, 2).g, 255) << "over the bar";
    EXPECT_EQ(picture.at(20, 2).g, 0);
}

TEST_F(Layers, GapsAreBlack) {
    const Image<Rgba8> picture = render(withClipsLifted(withClip(m_project, 2, m_project.reel[1]), {1}), 30);
    EXPECT_EQ(picture.at(100, 90).g, 0);
}

TEST_F(Layers, CroppedBarsAreNotRepeatedByCopies) {
    // A white picture with black bars at its sides, made small: its mirrored copies show no bars.
    writeClip(m_folder / "barred.mp4", {320, 180}, 25, 10, [](int) {
        Image<Rgba8> picture = solidPicture({320, 180}, {255, 255, 255, 255});
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 40; ++x) picture.at(x, y) = picture.at(319 - x, y) = {0, 0, 0, 255};
        return picture;
    });
    Project p = m_project;
    p.media[0].path = m_folder / "barred.mp4";
    p.reel[0].sourceIn = 0;
    p.reel[0].length = 10;
    p.reel[0].placement.scale = 0.4;
    const auto darkest = [&](const Image<Rgba8>& picture) {
        int least = 255;
        for (int x = 0; x < 320; ++x) least = std::min(least, int(picture.at(x, 90).g));
        return least;
    };
    EXPECT_LT(darkest(render(p, 5)), 10);
    p.reel[0].crop = {42.0 / 320, 0, 42.0 / 320, 0};
    EXPECT_GT(darkest(render(p, 5)), 240);
}

TEST_F(Layers, SpeedPicksTheRightPictures) {
    writeNumberedClip(m_folder / "n.mp4", {320, 180}, 25, 75);
    Project p = m_project;
    p.media[0].path = m_folder / "n.mp4";
    p.reel[0].sourceIn = 0;
    p.settings.shutter.angle = 0; // one picture a frame
    const Project fast = withSpeed(p, 0, 3);
    ASSERT_EQ(fast.reel[0].length, 8);
    for (const int n : {0, 1, 5}) EXPECT_EQ(numberIn(render(fast, n).view()), 3 * n);
    const Project slow = withSpeed(p, 0, Rational(1, 2));
    for (const int n : {0, 1, 2, 9}) EXPECT_EQ(numberIn(render(slow, n).view()), n / 2);
}

std::vector<float> tone(double pitch, double seconds, float loud) {
    std::vector<float> out;
    for (int i = 0; i < int(seconds * audioRate); ++i) {
        const float v = loud * float(std::sin(2 * std::numbers::pi * pitch * i / audioRate));
        out.insert(out.end(), {v, v});
    }
    return out;
}

double loudness(const std::vector<float>& stereo, double from, double to) {
    double sum = 0;
    int n = 0;
    for (auto i = std::size_t(from * audioRate); i < std::size_t(to * audioRate) && 2 * i < stereo.size(); ++i, ++n)
        sum += double(stereo[2 * i]) * stereo[2 * i];
    return n ? std::sqrt(2 * sum / n) : 0;
}

TEST_F(Layers, MusicHasItsLengthGainAndFades) {
    ASSERT_TRUE(writeWav(m_folder / "s.wav", tone(440, 4, 0.8f)));
    Project p = m_project;
    Media song;
    song.path = m_folder / "s.wav";
    song.sound = true;
    song.duration = 4;
    std::string id;
    p = withMusic(withMedia(p, song, &id), id);
    p.music[0].gain = 0.5;
    p.music[0].start = 5;
    p.music[0].length = 30;
    p.music[0].fadeIn = 5;
    p.music[0].fadeOut = 10;
    const auto mix = mixed(p, 0, 50);
    EXPECT_EQ(loudness(mix, 0, 0.199), 0) << "before it";
    EXPECT_NEAR(loudness(mix, 0.5, 0.9), 0.4, 0.005);
    // Equal power: at half of a fade the sound is 1/sqrt(2).
    EXPECT_NEAR(loudness(mix, 0.29, 0.31), 0.4 * std::sqrt(0.5), 0.01);
    EXPECT_NEAR(loudness(mix, 1.19, 1.21), 0.4 * std::sqrt(0.5), 0.01);
    EXPECT_EQ(loudness(mix, 1.401, 2), 0) << "after its length";
}

TEST_F(Layers, ClipSoundFollowsItsSpeedAndCrossfades) {
    ASSERT_TRUE(writeWav(m_folder / "s.wav", tone(440, 3, 0.8f)));
    for (const char* name : {"a", "b"})
        ASSERT_TRUE(ffmpeg("-i " + (m_folder / (std::string(name) + ".mp4")).string() + " -i " +
                           (m_folder / "s.wav").string() + " -c:v copy -c:a pcm_s16le " +
                           (m_folder / (std::string(name) + ".mov")).string()));
    Project p = m_project;
    p.media[0].path = m_folder / "a.mov";
    p.media[1].path = m_folder / "b.mov";
    for (Media& m : p.media) m.sound = true;
    p = withSpeed(p, 0, 2);
    auto mix = mixed(p, 0, reelLength(p));
    int crossings = 0;
    for (std::size_t i = 4801; i < 14400; ++i) crossings += (mix[2 * i] > 0) != (mix[2 * i - 2] > 0);
    EXPECT_NEAR(crossings, 0.2 * 2 * 880, 4) << "twice as fast is an octave higher";
    p.reel[1].muted = true;
    p = withOverlap(p, 0, {0, 10}, Side::Incoming);
    p = withSpeed(p, 0, 1);
    mix = mixed(p, 0, reelLength(p));
    const double cut = double(p.reel[0].length) / 25;
    EXPECT_NEAR(loudness(mix, cut - 0.2, cut - 0.01), 0.8, 0.02);
    EXPECT_NEAR(loudness(mix, cut + 0.19, cut + 0.21), 0.8 * std::sqrt(0.5), 0.02) << "fading through the overlap";
    EXPECT_EQ(loudness(mix, cut + 0.401, cut + 0.8), 0);
}

} // namespace
} // namespace virga::layers_render_test
