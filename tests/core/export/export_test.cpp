#include "core/export/export_reel.h"

#include <fstream>
#include <gtest/gtest.h>

#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::export_test {
namespace {

using namespace test;

class Export : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {320, 180}, 25, 75, 12, true);
        writeNumberedClip(m_folder / "b.mp4", {320, 180}, 25, 75, 12, true);
        m_project = plungeProject(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : m_project.media) m.size = {320, 180}, m.sound = true;
        m_project.settings.size = {320, 180};
        m_settings.path = m_folder / "out.mp4";
        m_settings.quality = 8;
    }
    int filesHere() { return int(std::distance(fs::directory_iterator(m_folder.path()), fs::directory_iterator())); }
    TemporaryFolder m_folder;
    Project m_project;
    ExportSettings m_settings;
    SourcePool m_pool;
};

TEST_F(Export, HasEveryFrameOnceAndSoundInSync) {
    std::int64_t last = 0;
    const auto report = exportReel(m_project, m_settings, m_pool, [&](std::int64_t done, std::int64_t all) {
        EXPECT_EQ(done, last + 1);
        EXPECT_EQ(all, 50);
        last = done;
    });
    ASSERT_TRUE(report) << describe(report.error());
    EXPECT_EQ(report->frames, 50);
    EXPECT_EQ(last, 50);
    const auto info = probe(m_settings.path);
    ASSERT_TRUE(info);
    EXPECT_EQ(info->video->frames, 50);
    EXPECT_EQ(info->video->duration, Rational(2));
    ASSERT_TRUE(info->audio);
    EXPECT_NEAR(info->audio->duration.toDouble(), 2, 0.03);
    auto reader = VideoReader::open(m_settings.path);
    ASSERT_TRUE(reader);
    for (const int n : {0, 10, 19, 40, 49}) EXPECT_EQ(numberIn(*(*reader)->read(n)), 25 + n % 25) << n;
}

TEST_F(Export, FramesAreThoseOfTheRenderer) {
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    auto reader = VideoReader::open(m_settings.path);
    ASSERT_TRUE(reader);
    SourcePool fresh;
    Project exported = twoClips(m_settings.path, m_settings.path);
    for (Media& m : exported.media) m.size = {320, 180};
    exported.reel.resize(1);
    exported.reel[0].sourceIn = 0;
    exported.reel[0].length = 50;
    for (const int n : {3, 20, 22, 24, 25, 27, 36}) {
        const auto want = renderFrame(m_project, n, {320, 180}, exactQuality, m_pool),
                   got = renderFrame(exported, n, {320, 180}, exactQuality, fresh);
        ASSERT_TRUE(want && got);
        EXPECT_GT(compare(want->view(), got->view()).psnr, 36) << "frame " << n << ": only the codec lies between";
    }
}

TEST_F(Export, ARangeIsThePartOfTheWhole) {
    m_settings.from = 20;
    m_settings.to = 30;
    m_settings.sound = false;
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    const auto info = probe(m_settings.path);
    ASSERT_TRUE(info);
    EXPECT_EQ(info->video->frames, 10);
    EXPECT_FALSE(info->audio);
    m_settings.size = {160, 90};
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    EXPECT_EQ(probe(m_settings.path)->video->size, (Size{160, 90}));
}

TEST_F(Export, CancellingLeavesNoFile) {
    Cancel cancel;
    const auto report = exportReel(
        m_project, m_settings, m_pool,
        [&](std::int64_t done, std::int64_t) {
            if (done == 5) cancel.request();
        },
        cancel);
    ASSERT_FALSE(report);
    EXPECT_EQ(report.error().code, ErrorCode::Cancelled);
    EXPECT_EQ(filesHere(), 2);
}

TEST_F(Export, ErrorsLeaveTheOldFileAndSayWhatToDo) {
    std::ofstream(m_settings.path) << "old";
    Project p = m_project;
    p.media[1].path = m_folder / "gone.mp4";
    const auto broken = exportReel(p, m_settings, m_pool);
    ASSERT_FALSE(broken);
    EXPECT_NE(describe(broken.error()).find("gone.mp4"), std::string::npos);
    EXPECT_EQ(fs::file_size(m_settings.path), 3u);
    EXPECT_EQ(exportReel(Project(), m_settings, m_pool).error().message, "the reel is empty");
    m_settings.from = 40;
    m_settings.to = 60;
    EXPECT_NE(exportReel(m_project, m_settings, m_pool).error().remedy.find("0 to 49"), std::string::npos);
    m_settings = {};
    m_settings.path = m_folder / "a.mp4";
    EXPECT_NE(exportReel(m_project, m_settings, m_pool).error().message.find("made from this file"), std::string::npos);
    EXPECT_TRUE(probe(m_folder / "a.mp4"));
}

TEST_F(Export, SpansOfSoundJoinWithoutGap) {
    for (const FrameRate rate : {Rational(25), Rational(30000, 1001), Rational(24000, 1001)}) {
        Project p = m_project;
        p.settings.rate = rate;
        const auto whole = mixed(p, 0, 40);
        auto parts = mixed(p, 0, 13);
        for (const auto& part : {mixed(p, 13, 29), mixed(p, 29, 40)})
            parts.insert(parts.end(), part.begin(), part.end());
        ASSERT_EQ(parts.size(), whole.size());
        double worst = 0;
        for (std::size_t i = 0; i < whole.size(); ++i) worst = std::max(worst, double(std::abs(whole[i] - parts[i])));
        EXPECT_LT(worst, 1e-6) << toText(rate);
    }
}

TEST_F(Export, MutedAndMissingSoundIsSilent) {
    EXPECT_TRUE(hasSound(m_project));
    Project p = m_project;
    for (Clip& c : p.reel) c.muted = true;
    EXPECT_FALSE(hasSound(p));
    p.media[0].path = m_folder / "gone.mp4";
    p.reel[0].muted = false;
    std::vector<Error> problems;
    SoundPool sounds;
    const auto mix = mixSound(p, 0, 25, sounds, &problems).stereo;
    EXPECT_EQ(mix.size(), std::size_t(audioRate) * 2);
    ASSERT_EQ(problems.size(), 1u);
    p = m_project;
    p.reel[0].gain = 0.5;
    const auto soft = mixed(p, 5, 20), loud = mixed(m_project, 5, 20);
    double a = 0, b = 0;
    for (std::size_t i = 0; i < soft.size(); ++i) a += soft[i] * soft[i], b += loud[i] * loud[i];
    EXPECT_NEAR(a / b, 0.25, 0.01);
}

} // namespace
} // namespace virga::export_test
