#include "app/document/document.h"

#include <QFile>
#include <QFileInfo>
#include <QSignalSpy>
#include <QTest>
#include <chrono>
#include <gtest/gtest.h>

#include "app/commands/cut_commands.h"
#include "app/commands/reel_commands.h"
#include "app/document/autosave.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::document_test {
namespace {

void deleteClip(Document& document, int clip) {
    document.select({Selection::ClipSelected, clip, {}});
    deleteSelection(document);
}

using namespace test;

class DocumentTest : public testing::Test {
protected:
    void SetUp() override {
        ASSERT_TRUE(saveProject(plungeProject(), m_folder / "p.virga"));
        ASSERT_TRUE(m_document.open(path("p.virga")));
    }
    QString path(const std::string& name) { return QString::fromStdString((m_folder / name).string()); }
    TemporaryFolder m_folder;
    Document m_document;
};

TEST_F(DocumentTest, EverythingIsUndoneByName) {
    const Project before = *m_document.project();
    deleteClip(m_document, 0);
    EXPECT_EQ(m_document.undoStack()->undoText(), "delete clip");
    EXPECT_TRUE(m_document.isModified());
    m_document.undoStack()->undo();
    EXPECT_EQ(*m_document.project(), before);
    EXPECT_FALSE(m_document.isModified());
    m_document.undoStack()->redo();
    EXPECT_EQ(m_document.project()->reel.size(), 1u);
}

TEST_F(DocumentTest, ADragIsOneStep) {
    const Project before = *m_document.project();
    QSignalSpy changes(&m_document, &Document::projectChanged);
    for (int i = 1; i <= 5; ++i) m_document.drag(withClipTrimmed(*m_document.dragOrigin(), 0, Edge::Tail, i));
    EXPECT_EQ(changes.count(), 5) << "each is shown";
    EXPECT_EQ(m_document.undoStack()->count(), 0);
    m_document.endDrag("trim clip");
    EXPECT_EQ(m_document.undoStack()->count(), 1);
    EXPECT_EQ(m_document.project()->reel[0].length, 30);
    m_document.undoStack()->undo();
    EXPECT_EQ(*m_document.project(), before);
    m_document.drag(withClipTrimmed(*m_document.dragOrigin(), 0, Edge::Tail, 3));
    m_document.drag(withClipTrimmed(*m_document.dragOrigin(), 0, Edge::Tail, 0));
    m_document.endDrag("trim clip");
    EXPECT_EQ(m_document.undoStack()->count(), 1) << "a drag that comes back is no step (the redo is still there)";
    m_document.drag(withClipTrimmed(*m_document.dragOrigin(), 0, Edge::Tail, 3));
    m_document.cancelDrag();
    EXPECT_EQ(*m_document.project(), before);
}

TEST_F(DocumentTest, LikeStepsMergeAndEmptyOnesVanish) {
    setSideValues(m_document, {0, 0, 0, Side::Outgoing}, 1, 2.6);
    setSideValues(m_document, {0, 0, 0, Side::Outgoing}, 1, 2.7);
    EXPECT_EQ(m_document.undoStack()->count(), 1);
    setSideValues(m_document, {0, 0, 0, Side::Incoming}, 0.7, 1);
    EXPECT_EQ(m_document.undoStack()->count(), 2);
    m_document.apply("nothing", *m_document.project());
    EXPECT_EQ(m_document.undoStack()->count(), 2);
}

TEST_F(DocumentTest, TheSelectionStaysValid) {
    EXPECT_EQ(m_document.selection(), (Selection{Selection::CutSelected, 0}));
    m_document.select({Selection::ClipSelected, 1});
    EXPECT_EQ(m_document.cut(), 0) << "the lanes stay at the clip's cut";
    deleteClip(m_document, 1);
    EXPECT_EQ(m_document.selection(), (Selection{Selection::ClipSelected, 0}));
    EXPECT_EQ(m_document.cut(), -1);
    m_document.undoStack()->undo();
    EXPECT_EQ(m_document.cut(), 0);
    m_document.setPlayhead(49);
    deleteClip(m_document, 1);
    EXPECT_EQ(m_document.playhead(), 24) << "kept within the reel";
    m_document.setPlayhead(-5);
    EXPECT_EQ(m_document.playhead(), 0);
}

TEST_F(DocumentTest, OpeningABadFileKeepsWhatIsOpen) {
    const Project before = *m_document.project();
    QFile bad(path("bad.virga"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("{");
    bad.close();
    EXPECT_FALSE(m_document.open(path("bad.virga")));
    EXPECT_EQ(*m_document.project(), before);
    EXPECT_FALSE(m_document.save("/no/such/folder/p.virga"));
}

TEST_F(DocumentTest, UndoHoldsWhatWasChangedAndForgetsTheOldestBeyondItsMost) {
    std::vector<Snapshot> states{m_document.project()};
    for (int i = 0; i < 60; ++i) {
        Project next = *m_document.project();
        next.reel[std::size_t(i) % next.reel.size()].gain = 1 + 0.01 * i;
        next.name = std::to_string(i);
        m_document.apply("louder", std::move(next));
        states.push_back(m_document.project());
    }
    const int count = m_document.undoStack()->count();
    ASSERT_EQ(count, 60);
    EXPECT_LT(m_document.undoBytes(), 60u * 20000);
    for (int i = 59; i >= 0; --i) {
        m_document.undoStack()->undo();
        ASSERT_TRUE(*m_document.project() == *states[std::size_t(i)]) << i;
    }
    for (int i = 1; i <= 60; ++i) {
        m_document.undoStack()->redo();
        ASSERT_TRUE(*m_document.project() == *states[std::size_t(i)]) << i;
    }
    // With room for a few only, the last ones are still exact, and those before do nothing.
    m_document.setMostUndoBytes(m_document.undoBytes() / 6);
    Project next = *m_document.project();
    next.name = "one more";
    m_document.apply("one more", std::move(next));
    EXPECT_LT(m_document.undoBytes(), 60u * 20000 / 5);
    m_document.undoStack()->undo();
    for (int i = 59; i > 54; --i) {
        m_document.undoStack()->undo();
        ASSERT_TRUE(*m_document.project() == *states[std::size_t(i)]) << i;
    }
    while (m_document.undoStack()->canUndo()) m_document.undoStack()->undo();
    EXPECT_FALSE(*m_document.project() == *states[0]) << "the first steps are forgotten";
    EXPECT_TRUE(m_document.isModified()) << "so it is not what was saved, however far it is undone";
}

TEST_F(DocumentTest, AutosaveKeepsUnsavedChangesUntilTheyAreSaved) {
    Autosave autosave(&m_document, 20);
    deleteClip(m_document, 0);
    const QString place = Autosave::placeFor(path("p.virga"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return QFileInfo::exists(place); }, 5000));
    EXPECT_EQ(Autosave::leftFor(path("p.virga")), place) << "what a crash would leave";
    Document after;
    auto kept = Document::read(place);
    ASSERT_TRUE(kept);
    after.take(std::move(*kept), path("p.virga"), true);
    EXPECT_EQ(*after.project(), *m_document.project());
    EXPECT_TRUE(after.isModified());
    EXPECT_EQ(after.path(), path("p.virga"));
    ASSERT_TRUE(m_document.save(path("p.virga")));
    autosave.wait();
    EXPECT_FALSE(QFileInfo::exists(place)) << "saved: the copy is gone";
    EXPECT_TRUE(Autosave::leftFor(path("p.virga")).isEmpty());
}

// A clock that was set back, or that of another machine, makes a new copy look old and an old one look new.
TEST_F(DocumentTest, WhatACrashLeftIsToldByContentNotByTheClock) {
    const QString file = path("p.virga"), place = Autosave::placeFor(file);
    {
        Autosave autosave(&m_document, 20);
        deleteClip(m_document, 0);
        ASSERT_TRUE(QTest::qWaitFor([&] { return QFileInfo::exists(place); }, 5000));
        autosave.wait();
    }
    using namespace std::chrono_literals;
    const auto now = std::filesystem::file_time_type::clock::now();
    std::filesystem::last_write_time(file.toStdString(), now + 48h);
    EXPECT_EQ(Autosave::leftFor(file), place) << "the file looks newer, but nobody saved it since";
    Project other = *m_document.project();
    other.name = "saved by another window";
    ASSERT_TRUE(saveProject(other, file.toStdString()));
    std::filesystem::last_write_time(file.toStdString(), now - 48h);
    EXPECT_TRUE(Autosave::leftFor(file).isEmpty()) << "the file looks older, but it was saved since";
    EXPECT_EQ(loadProject(place.toStdString())->unknown->document.contains("keptOf"), false);
}

TEST_F(DocumentTest, FactsLearntMeanwhileDoNotEndATrial) {
    Project trial = *m_document.project();
    trial.reel[0].length += 3;
    m_document.tryOut(std::make_shared<const Project>(trial));
    Project known = *m_document.project();
    known.media[0].bars = Crop{0, 0.1, 0, 0.1};
    m_document.learn(known);
    ASSERT_TRUE(m_document.isTrying());
    EXPECT_EQ(m_document.shown()->reel[0].length, trial.reel[0].length);
    EXPECT_EQ(m_document.shown()->media[0].bars, known.media[0].bars);
    m_document.tryOut(nullptr);
    EXPECT_EQ(*m_document.shown(), known);
}

TEST_F(DocumentTest, SavingInTheBackgroundWritesWhatItWasAndTellsOfFailures) {
    deleteClip(m_document, 0);
    const Project asked = *m_document.project();
    bool told = false, good = false;
    const auto done = [&](const Expected<void>& result) { told = true, good = bool(result); };
    m_document.saveSoon(path("p.virga"), done);
    EXPECT_TRUE(m_document.isModified()) << "until it is on the disk";
    addMarker(m_document); // edited meanwhile
    ASSERT_TRUE(QTest::qWaitFor([&] { return told; }, 5000));
    EXPECT_TRUE(good);
    EXPECT_TRUE(m_document.isModified()) << "the marker is not saved";
    EXPECT_EQ(*loadProject(path("p.virga").toStdString()), asked);
    m_document.undoStack()->undo();
    EXPECT_FALSE(m_document.isModified()) << "back at what the file holds";
    told = false;
    addMarker(m_document);
    m_document.saveSoon(path("no-such-folder/p.virga"), done);
    ASSERT_TRUE(QTest::qWaitFor([&] { return told; }, 5000));
    EXPECT_FALSE(good);
    EXPECT_TRUE(m_document.isModified());
    EXPECT_EQ(m_document.path(), path("p.virga"));
}

TEST_F(DocumentTest, AddingFilesSetsUpAnEmptyPiece) {
    m_document.startNew();
    MediaInfo tall;
    tall.path = "/m/tall.mp4";
    tall.video = VideoInfo{};
    tall.video->size = {1079, 1919};
    tall.video->rate = Rational(30000, 1001);
    tall.video->duration = 3;
    MediaInfo song;
    song.path = "/m/song.mp3";
    song.audio = AudioInfo{2, 44100, 60, "mp3"};
    addFiles(m_document, {tall, song, tall}, -1);
    const Project& p = *m_document.project();
    EXPECT_EQ(p.settings.size, (Size{1080, 1920})) << "even sides";
    EXPECT_EQ(p.settings.rate, Rational(30000, 1001));
    EXPECT_EQ(p.reel.size(), 2u);
    EXPECT_EQ(p.media.size(), 2u) << "the same file twice is one media";
    EXPECT_EQ(p.music.size(), 1u);
    EXPECT_EQ(m_document.selection(), (Selection{Selection::CutSelected, 0}));
    EXPECT_EQ(m_document.undoStack()->undoText(), "add 2 clips");
}

} // namespace
} // namespace virga::document_test
