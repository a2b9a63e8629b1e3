// The background services, apart from any view.
#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTest>
#include <fstream>
#include <gtest/gtest.h>
#include <memory>
#include <set>

#include "app/services/flow_watch.h"
#include "app/services/frame_service.h"
#include "app/services/importer.h"
#include "app/services/thumbnails.h"
#include "app/services/waveform.h"
#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "core/edit/reel_edits.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::background_test {
namespace {

using namespace test;

class Work : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {320, 180}, 25, 75);
        writeNumberedClip(m_folder / "b.mp4", {320, 180}, 25, 75);
        Project p = plungeProject(m_folder / "a.mp4", m_folder / "b.mp4");
        p.settings.size = {320, 180};
        m_project = std::make_shared<const Project>(p);
    }
    FrameRequest request(std::int64_t frame, Urgency urgency = Urgency::Now) {
        return {m_project, frame, {320, 180}, exactQuality, urgency};
    }
    TemporaryFolder m_folder;
    Snapshot m_project;
};

TEST_F(Work, FramesArriveAndAreKept) {
    FrameService frames;
    QSignalSpy ready(&frames, &FrameService::ready);
    EXPECT_TRUE(frames.kept(request(24)).isNull());
    frames.request("x", request(24));
    ASSERT_TRUE(ready.wait(10000));
    EXPECT_EQ(ready[0][0].toString(), "x");
    const auto result = ready[0][1].value<FrameResult>();
    EXPECT_EQ(result.frame, 24);
    EXPECT_FALSE(result.image.isNull());
    EXPECT_EQ(frames.kept(request(24)), result.image);
    frames.request("y", request(24));
    EXPECT_EQ(ready.count(), 2) << "a kept frame is delivered at once";
    EXPECT_TRUE(QTest::qWaitFor([&] { return frames.isIdle(); }, 5000));
}

TEST_F(Work, ANewerRequestReplacesAnOlderOneInItsSlot) {
    FrameService frames;
    QSignalSpy ready(&frames, &FrameService::ready);
    for (int n = 0; n < 20; ++n) frames.request("slot", request(n, Urgency::Soon));
    ASSERT_TRUE(QTest::qWaitFor([&] { return frames.isIdle(); }, 20000));
    EXPECT_LT(ready.count(), 6) << "those in between were never rendered to the end";
    EXPECT_EQ(ready.back()[1].value<FrameResult>().frame, 19) << "the last one is";
}

TEST_F(Work, UrgentFramesOvertakeAndTheOvertakenAreNotLost) {
    FrameService frames;
    QSignalSpy ready(&frames, &FrameService::ready);
    for (int n = 0; n < 12; ++n) frames.request(QStringLiteral("ahead-%1").arg(n), request(15 + n, Urgency::Ahead));
    frames.request("now", request(45, Urgency::Now));
    ASSERT_TRUE(QTest::qWaitFor([&] { return frames.isIdle(); }, 40000));
    EXPECT_EQ(ready.count(), 13);
    int place = -1;
    for (int i = 0; i < ready.count(); ++i)
        if (ready[i][0].toString() == "now") place = i;
    EXPECT_LE(place, 2);
    frames.request("ahead-1", request(1, Urgency::Ahead));
    frames.drop("ahead-");
    EXPECT_TRUE(QTest::qWaitFor([&] { return frames.isIdle(); }, 5000));
}

TEST_F(Work, AFrameThatFailsSaysWhy) {
    Project p = *m_project;
    p.media[0].path = m_folder / "gone.mp4";
    FrameService frames;
    QSignalSpy ready(&frames, &FrameService::ready);
    frames.request("x", {std::make_shared<const Project>(p), 3, {320, 180}, exactQuality, Urgency::Now});
    ASSERT_TRUE(ready.wait(10000));
    const auto result = ready[0][1].value<FrameResult>();
    ASSERT_TRUE(result.error);
    EXPECT_EQ(result.error->code, ErrorCode::NotFound);
}

TEST_F(Work, ItCanBeTakenDownWhileBusy) {
    int arrived = 0;
    for (int i = 0; i < 5; ++i) {
        QElapsedTimer clock;
        {
            FrameService frames;
            Thumbnails thumbnails;
            QObject::connect(&frames, &FrameService::ready, [&arrived] { ++arrived; });
            QObject::connect(&thumbnails, &Thumbnails::ready, [&arrived] { ++arrived; });
            for (int n = 0; n < 30; ++n) {
                frames.request(QString::number(n), request(n, Urgency::Ahead));
                thumbnails.get(m_project->media[0], Rational(n, 25), {64, 36});
            }
            QTest::qWait(10 * i);
            EXPECT_FALSE(frames.isIdle()) << "there is work to be taken from it";
            clock.start();
        }
        EXPECT_LT(clock.elapsed(), 3000) << "it ends at the frame it is at, not after all thirty";
        const int before = arrived;
        QTest::qWait(60);
        EXPECT_EQ(arrived, before) << "nothing arrives from what is gone";
    }
}

TEST_F(Work, ThumbnailsAndWaveformsComeLater) {
    Thumbnails thumbnails;
    QSignalSpy ready(&thumbnails, &Thumbnails::ready);
    EXPECT_TRUE(thumbnails.get(m_project->media[0], Rational(1), {64, 36}).isNull());
    ASSERT_TRUE(ready.wait(10000));
    EXPECT_EQ(thumbnails.get(m_project->media[0], Rational(1), {64, 36}).size(), QSize(64, 36));
    Media gone = m_project->media[0];
    gone.path = m_folder / "gone.mp4";
    thumbnails.get(gone, Rational(0), {64, 36});
    ASSERT_TRUE(ready.wait(10000));
    EXPECT_TRUE(thumbnails.problem(gone).contains("gone.mp4"));

    std::vector<float> sound(std::size_t(audioRate) * 2 * 2, 0.0f);
    std::fill(sound.begin() + audioRate * 2, sound.begin() + audioRate * 2 + 2000, 0.8f);
    ASSERT_TRUE(writeWav(m_folder / "s.wav", sound));
    Media track;
    track.path = m_folder / "s.wav";
    track.sound = true;
    track.duration = 2;
    Waveforms waves;
    QSignalSpy drawn(&waves, &Waveforms::ready);
    EXPECT_TRUE(waves.get(track).isEmpty());
    ASSERT_TRUE(drawn.wait(10000));
    const auto peaks = waves.get(track);
    ASSERT_EQ(peaks.size(), 200);
    EXPECT_NEAR(peaks[100], 0.8, 0.01);
    EXPECT_EQ(peaks[50], 0);
}

TEST_F(Work, FoldersAreLookedInto) {
    Importer importer;
    QSignalSpy done(&importer, &Importer::finished), progress(&importer, &Importer::progress);
    fs::create_directory(m_folder / "deeper");
    fs::copy_file(m_folder / "a.mp4", m_folder / "deeper" / "c.mp4");
    std::ofstream(m_folder / "notes.mp4") << "no film at all";
    importer.start({QString::fromStdString(m_folder.path().string())}, 2);
    EXPECT_TRUE(importer.isBusy());
    ASSERT_TRUE(done.wait(10000));
    EXPECT_FALSE(importer.isBusy());
    EXPECT_GE(progress.count(), 2);
    const auto imported = done[0][0].value<Imported>();
    EXPECT_EQ(done[0][1].toInt(), 2) << "for the place that was asked";
    EXPECT_FALSE(imported.stopped);
    std::set<std::string> names;
    for (const MediaInfo& file : imported.files) {
        names.insert(file.path.filename().string());
        EXPECT_FALSE(file.fingerprint.empty()) << file.path;
        EXPECT_TRUE(file.video && file.video->frames == 75) << file.path;
    }
    EXPECT_EQ(names, (std::set<std::string>{"a.mp4", "b.mp4", "c.mp4"}));
    ASSERT_EQ(imported.unreadable.size(), 1u);
    EXPECT_NE(describe(imported.unreadable[0]).find("notes.mp4"), std::string::npos);
}

TEST_F(Work, TheFlowCheckFollowsEveryChange) {
    Document document;
    FlowWatch flow(&document);
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow.isIdle(); }, 5000));
    document.apply("x", *m_project);
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow.at(0) && flow.findings() > 0; }, 5000));
    document.undoStack()->undo();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !flow.at(0); }, 5000));
}

// Hundreds of moving clips, whose whole check takes a while.
Project longReel(const Project& two) {
    SharedList<Clip> copies;
    for (int i = 0; i < 300; ++i)
        for (const Clip& clip : two.reel) copies.push_back(clip);
    return withClipsInserted(two, copies, 2);
}

TEST_F(Work, AFlowCheckThatNobodyWaitsForStops) {
    const Project reel = longReel(*m_project);
    QElapsedTimer clock;
    clock.start();
    ASSERT_EQ(flowOfReel(reel).clips.size(), reel.reel.size());
    const qint64 whole = clock.elapsed();
    Document document;
    document.apply("x", reel);
    auto flow = std::make_unique<FlowWatch>(&document);
    QTest::qWait(int(std::min<qint64>(whole / 10, 50))); // it has begun
    EXPECT_FALSE(flow->isIdle());
    clock.start();
    flow.reset();
    EXPECT_LT(clock.elapsed(), std::max<qint64>(whole / 2, 100)) << "of " << whole << " ms for all of it";
}

TEST_F(Work, AStaleFlowCheckGivesWayToTheNewestState) {
    Document document;
    document.apply("x", longReel(*m_project));
    FlowWatch flow(&document);
    for (int i = 0; i < 12; ++i) { // edits go on while it checks
        QTest::qWait(60);
        Project next = *document.project();
        next.reel[1].placement.angle = 1 + i;
        document.apply("turn", next);
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow.isIdle(); }, 60000));
    EXPECT_EQ(*flow.reel().project, *document.project());
}

} // namespace
} // namespace virga::background_test
