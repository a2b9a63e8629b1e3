// Clips that run faster than they were shot, from files to frames; and what an export needs.
#include <gtest/gtest.h>
#include <set>

#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/encode/encoder.h"
#include "core/export/export_needs.h"
#include "core/export/export_reel.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::source_shutter_test {
namespace {

using namespace test;

class FastClip : public testing::Test {
protected:
    void SetUp() override {
        // White for every fourth picture, else black.
        writeClip(m_folder / "a.mp4", {160, 96}, 25, 80, [](int i) {
            const std::uint8_t v = i % 4 == 0 ? 255 : 0;
            return solidPicture({160, 96}, {v, v, v, 255});
        });
        m_project = twoClips(m_folder / "a.mp4", m_folder / "a.mp4");
        for (Media& m : m_project.media) m.size = {160, 96};
        m_project.settings.size = {160, 96};
        m_project.settings.shutter.angle = 360;
        for (Clip& clip : m_project.reel) clip.sourceIn = 0, clip.length = 8;
    }
    double lightAt(std::int64_t frame) {
        const auto picture = renderDeepPlan(m_project, planFrame(m_project, frame), {160, 96}, exactQuality, m_pool);
        EXPECT_TRUE(picture) << (picture ? "" : describe(picture.error()));
        return picture ? linearFromCode(double(picture->at(80, 48).g - deepBlack) / (deepWhite - deepBlack)) : -1;
    }
    TemporaryFolder m_folder;
    Project m_project;
    SourcePool m_pool;
};

TEST_F(FastClip, IsExposedForAsLongAsTheShutterIsOpen) {
    EXPECT_NEAR(lightAt(4), 1, 0.01) << "at its own speed each frame shows one picture";
    for (Clip& clip : m_project.reel) clip.speed = 4;
    EXPECT_NEAR(lightAt(3), 0.25, 0.01) << "four pictures pass, one of them white";
    m_project.settings.shutter.angle = 180;
    // Open for two pictures: half of one before the frame's own time's, whole ones and so on; phase 0 starts there.
    m_project.settings.shutter.phase = 0;
    EXPECT_NEAR(lightAt(3), 0.5, 0.01) << "the white one and a black one";
    m_project.settings.shutter.phase = 90;
    EXPECT_NEAR(lightAt(3), 0, 0.01) << "opens one picture later";
    m_project.settings.shutter.phase = 45;
    EXPECT_NEAR(lightAt(3), 0.25, 0.01) << "half of the white one is gone";
    m_project.settings.shutter.angle = 0;
    m_project.settings.shutter.phase = {};
    EXPECT_NEAR(lightAt(3), 1, 0.01) << "a still exposure shows one picture";
}

TEST_F(FastClip, QuickPicturesTakeFewerButSeeTheSameSpan) {
    SourcePool pool;
    const auto all = pool.exposed(m_folder / "a.mp4", Rational(8, 25), Rational(16, 25), 16);
    ASSERT_TRUE(all);
    ASSERT_EQ(all->size(), 8u);
    double end = 0;
    for (const auto& one : *all) {
        EXPECT_DOUBLE_EQ(one.from, end);
        EXPECT_NEAR(one.to - one.from, 0.125, 1e-9);
        end = one.to;
    }
    EXPECT_DOUBLE_EQ(end, 1);
    const auto few = pool.exposed(m_folder / "a.mp4", Rational(8, 25), Rational(16, 25), 3);
    ASSERT_TRUE(few);
    EXPECT_EQ(few->size(), 3u);
    EXPECT_EQ(few->front().from, 0);
    EXPECT_EQ(few->back().to, 1);
    const auto before = pool.exposed(m_folder / "a.mp4", Rational(-4, 25), Rational(1, 25), 16);
    ASSERT_TRUE(before);
    EXPECT_EQ(before->size(), 1u) << "before the first picture there is the first picture";
    const auto instant = pool.exposed(m_folder / "a.mp4", Rational(3, 25), Rational(3, 25), 16);
    ASSERT_TRUE(instant);
    EXPECT_EQ(instant->size(), 1u);
    EXPECT_FALSE(pool.exposed(m_folder / "none.mp4", 0, 1, 4));
}

TEST_F(FastClip, TheNeedsOfAnExportAreKnownBeforeItStarts) {
    ExportSettings settings;
    settings.path = m_folder / "out.mp4";
    const auto slow = exportNeeds(m_project, settings);
    EXPECT_GT(slow.all(), 0u);
    Project fast = m_project;
    for (Clip& clip : fast.reel) clip.speed = 8;
    EXPECT_GT(exportNeeds(fast, settings).sources, 4 * slow.sources) << "more pictures at once";
    settings.size = {320, 192};
    EXPECT_EQ(exportNeeds(m_project, settings).frames, 4 * slow.frames);
    settings.render.enlarging = Enlarging::Lanczos;
    EXPECT_GT(exportNeeds(m_project, settings).sources, 3 * slow.sources);
    settings.render.enlarging = Enlarging::Bilinear;
    settings.mostMemory = 1000;
    const auto refused = exportReel(m_project, settings, m_pool);
    ASSERT_FALSE(refused);
    EXPECT_NE(describe(refused.error()).find("memory"), std::string::npos);
    EXPECT_FALSE(fs::exists(settings.path));
    settings.mostMemory = 0;
    const auto done = exportReel(m_project, settings, m_pool);
    ASSERT_TRUE(done) << describe(done.error());
    EXPECT_EQ(done->mostBytes, exportNeeds(m_project, settings).all());
}

// Ten bits carry a gradient whose steps eight bits do not have.
TEST_F(FastClip, TenBitsKeepASlowGradient) {
    const auto info = [&](const fs::path& path) {
        const auto probed = probe(path);
        EXPECT_TRUE(probed);
        return probed->video->bitDepth;
    };
    Image<Deep16> ramp(512, 64);
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 512; ++x) {
            const auto v = std::uint16_t(deepBlack + (0.4 + 0.05 * x / 511) *
                                                         (deepWhite - deepBlack)); // 51 steps of ten bits, 13 of eight
            ramp.at(x, y) = {v, v, v, 65535};
        }
    const auto levels = [&](int depth) {
        const auto path = m_folder / ("ramp" + std::to_string(depth) + ".mp4");
        EncoderSettings settings;
        settings.size = {512, 64};
        settings.depth = depth;
        settings.quality = 0;
        auto encoder = Encoder::open(path, settings);
        EXPECT_TRUE(encoder) << (encoder ? "" : describe(encoder.error()));
        EXPECT_TRUE((*encoder)->addFrame(std::as_const(ramp).view()));
        EXPECT_TRUE((*encoder)->finish());
        EXPECT_EQ(info(path), depth);
        auto reader = VideoReader::open(path);
        auto picture = (*reader)->read(0);
        EXPECT_TRUE(picture);
        double worst = 0; // of the mean of 8 x 8 pixels
        std::set<int> seen;
        for (int x = 0; x + 8 <= 512; x += 8) {
            double got = 0, want = 0;
            for (int y = 24; y < 32; ++y)
                for (int i = 0; i < 8; ++i) {
                    const double code = codeFromLinear(lightOf(picture->at(x + i, y).g));
                    got += code / 64, want += double(ramp.at(x + i, y).g - deepBlack) / (deepWhite - deepBlack) / 64;
                    seen.insert(int(std::lround(code * 4095)));
                }
            worst = std::max(worst, std::abs(got - want) * 255);
        }
        EXPECT_LT(worst, 0.35) << depth << " bits: the mean stays, dithered or not";
        return seen.size();
    };
    const auto eight = levels(8), ten = levels(10);
    EXPECT_LE(eight, 16u);
    EXPECT_GE(ten, 40u);
}

} // namespace
} // namespace virga::source_shutter_test
