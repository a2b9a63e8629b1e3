#include <QFile>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "app/commands/reel_commands.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/window/notice_bar.h"
#include "app/window/project_files.h"
#include "core/project/project_file.h"
#include "tests/app/window_fixture.h"

namespace virga::test::files_test {
namespace {

void deleteClip(Document& document, int clip) {
    document.select({Selection::ClipSelected, clip, {}});
    deleteSelection(document);
}

class Files : public WindowTest {
protected:
    void answer(QMessageBox::StandardButton button) {
        whenShown<QMessageBox>([button](QMessageBox* box) { QTest::mouseClick(box->button(button), Qt::LeftButton); });
    }
};

// Adds clips, makes a move, saves, opens again: the frame is the same to the pixel.
TEST_F(Files, APieceIsMadeSavedAndReopened) {
    dropFiles(m_window->views().reel, {500, 50}, {at("a.mp4"), at("b.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 2; }));
    click(m_window->views().reel, m_window->views().reel->jointCentre(0));
    action("Plunge")->trigger();
    document().setPlayhead(74);
    settle();
    const QImage before = m_window->views().picture->image();
    ASSERT_TRUE(document().save(at("mine.virga")));
    EXPECT_FALSE(document().isModified());
    m_window->files()->startNew();
    EXPECT_TRUE(project().reel.empty());
    ASSERT_TRUE(m_window->files()->open(at("mine.virga")));
    document().setPlayhead(74);
    settle();
    EXPECT_EQ(m_window->views().picture->image(), before);
}

TEST_F(Files, UnsavedChangesAreAskedAbout) {
    openPlunge();
    key(Qt::Key_Delete);
    answer(QMessageBox::Cancel);
    m_window->files()->startNew();
    EXPECT_EQ(project().reel.size(), 2u) << "cancelled: all stays";
    answer(QMessageBox::Save);
    m_window->files()->startNew();
    EXPECT_TRUE(project().reel.empty());
    ASSERT_TRUE(m_window->files()->open(at("p.virga")));
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty()) << "the change was saved";
}

TEST_F(Files, ABrokenProjectIsToldAndTheOpenOneStays) {
    openPlunge();
    QFile bad(at("bad.virga"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("{\n  \"format\": 3");
    bad.close();
    EXPECT_FALSE(m_window->files()->open(at("bad.virga")));
    EXPECT_EQ(project().reel.size(), 2u);
    EXPECT_TRUE(m_window->notice()->text().contains("bad.virga"));
    EXPECT_TRUE(m_window->notice()->text().contains("line 2"));
}

// Choosing a project reads it in the background; what is open can be used until it is there.
TEST_F(Files, AChosenProjectIsReadInTheBackground) {
    openPlunge();
    ASSERT_TRUE(document().save(at("p.virga")));
    Project other = project();
    other.name = "The other one";
    ASSERT_TRUE(saveProject(other, at("other.virga").toStdString()));
    m_window->files()->openAsking(at("other.virga"));
    EXPECT_NE(project().name, "The other one") << "not read while somebody waits";
    EXPECT_EQ(project().reel.size(), 2u);
    ASSERT_TRUE(waitFor([&] { return project().name == "The other one"; }));
    EXPECT_EQ(document().path(), at("other.virga"));
    EXPECT_FALSE(QGuiApplication::overrideCursor());
    // Of two that are chosen the last one counts.
    m_window->files()->openAsking(at("p.virga"));
    m_window->files()->openAsking(at("other.virga"));
    m_window->files()->openAsking(at("p.virga"));
    ASSERT_TRUE(waitFor([&] { return document().path() == at("p.virga"); }));
    ASSERT_TRUE(waitFor([] { return !QGuiApplication::overrideCursor(); }));
    EXPECT_EQ(document().path(), at("p.virga"));
    // One that cannot be read is told, and what is open stays.
    m_window->files()->openAsking(at("none.virga"));
    ASSERT_TRUE(waitFor([&] { return m_window->notice()->text().contains("none.virga"); }));
    EXPECT_EQ(document().path(), at("p.virga"));
    EXPECT_EQ(project().reel.size(), 2u);
}

// An edit made while another project is being read is asked about, not lost.
TEST_F(Files, AnEditMadeWhileReadingIsAskedAbout) {
    openPlunge();
    ASSERT_TRUE(document().save(at("p.virga")));
    ASSERT_TRUE(saveProject(project(), at("other.virga").toStdString()));
    m_window->files()->openAsking(at("other.virga"));
    deleteClip(document(), 1);
    bool asked = false;
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, &look, [&] {
        auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
        if (!box) return;
        asked = true;
        QTest::mouseClick(box->button(QMessageBox::Cancel), Qt::LeftButton);
    });
    look.start(20);
    ASSERT_TRUE(waitFor([&] { return asked; }));
    ASSERT_TRUE(waitFor([] { return !QApplication::activeModalWidget(); }));
    EXPECT_EQ(document().path(), at("p.virga"));
    EXPECT_EQ(project().reel.size(), 1u);
}

// Opened again to be rid of its changes, a project does not take its own unsaved copy for what a crash left.
TEST_F(Files, GoingBackToWhatWasSavedAsksOnlyOnce) {
    openPlunge();
    ASSERT_TRUE(document().save(at("p.virga")));
    key(Qt::Key_Delete);
    ASSERT_TRUE(transitionAt(project(), 0).moves.empty());
    ASSERT_TRUE(waitFor([&] { return QFile::exists(Autosave::placeFor(at("p.virga"))); }, 8000));
    answer(QMessageBox::Discard);
    m_window->files()->openAsking(at("p.virga"));
    ASSERT_TRUE(
        waitFor([&] { return !transitionAt(project(), 0).moves.empty() || QApplication::activeModalWidget(); }));
    EXPECT_FALSE(QApplication::activeModalWidget());
    EXPECT_FALSE(document().isModified());
    ASSERT_TRUE(waitFor([&] { return !QFile::exists(Autosave::placeFor(at("p.virga"))); }));
}

// What is found out in the background while a project is being read (bars, guessed pictures) is no edit.
TEST_F(Files, WhatIsFoundOutMeanwhileAsksNothingAgain) {
    openPlunge();
    ASSERT_TRUE(document().save(at("p.virga")));
    key(Qt::Key_Delete);
    answer(QMessageBox::Discard);
    m_window->files()->openAsking(at("p.virga"));
    ASSERT_TRUE(m_window->files()->isReading());
    Project same = project();
    same.media[0].bars = Crop{0, 0.1, 0, 0.1};
    document().learn(same);
    bool again = false;
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, m_window.get(), [&] {
        if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) again = true, dialog->reject();
    });
    look.start(20);
    ASSERT_TRUE(waitFor([&] { return !m_window->files()->isReading(); }));
    EXPECT_FALSE(again) << "it had been answered";
    EXPECT_FALSE(transitionAt(project(), 0).moves.empty());
}

// A project that is still being saved when another one is opened does not give that one its name.
TEST_F(Files, SavingEndsAfterAnotherProjectWasOpened) {
    openPlunge();
    ASSERT_TRUE(document().save(at("p.virga")));
    ASSERT_TRUE(saveProject(project(), at("other.virga").toStdString()));
    bool saved = false;
    document().saveSoon(at("p.virga"), [&](const Expected<void>& done) { saved = bool(done); });
    ASSERT_TRUE(document().open(at("other.virga")));
    ASSERT_TRUE(waitFor([&] { return saved; }));
    EXPECT_EQ(document().path(), at("other.virga"));
    EXPECT_FALSE(document().isModified());
}

TEST_F(Files, MissingMediaIsNamed) {
    Project p = withOwnClips(plungeProject());
    p.media[1].path = m_folder / "gone.mp4";
    open(p);
    EXPECT_TRUE(m_window->notice()->text().contains("gone.mp4"));
}

TEST_F(Files, ACrashLeavesWhatWasNotSaved) {
    openPlunge();
    key(Qt::Key_Delete);
    const QString copy = Autosave::placeFor(at("p.virga"));
    ASSERT_TRUE(waitFor([&] { return QFile::exists(copy); }, 8000));
    QFile::copy(copy, at("kept"));      // what a kill would leave
    document().undoStack()->setClean(); // this window ends in order
    m_window = std::make_unique<MainWindow>();
    m_window->show();
    QFile::remove(copy);
    ASSERT_TRUE(QFile::rename(at("kept"), copy));
    answer(QMessageBox::Yes);
    ASSERT_TRUE(m_window->files()->open(at("p.virga")));
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty()) << "the unsaved change is back";
    EXPECT_TRUE(document().isModified());
}

TEST_F(Files, RecentProjectsAreOffered) {
    openPlunge();
    ASSERT_TRUE(m_window->files()->open(at("p.virga")));
    QMenu menu;
    m_window->files()->fillRecent(&menu);
    ASSERT_FALSE(menu.isEmpty());
    EXPECT_EQ(menu.actions().first()->text(), "p");
}

} // namespace
} // namespace virga::test::files_test
