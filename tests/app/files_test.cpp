#include <QFile>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/shell/notice_bar.h"
#include "app/shell/project_files.h"
#include "tests/app/window_fixture.h"

namespace virga::test {
namespace {

class Files : public WindowTest {
protected:
    void answer(QMessageBox::StandardButton button) {
        QTimer::singleShot(100, m_window.get(), [button] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            ASSERT_TRUE(box);
            QTest::mouseClick(box->button(button), Qt::LeftButton);
        });
    }
};

// Adds clips, makes a move, saves, opens again: the frame is the same to the pixel.
TEST_F(Files, APieceIsMadeSavedAndReopened) {
    dropFiles(m_window->reel(), {500, 50}, {at("a.mp4"), at("b.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 2; }));
    click(m_window->reel(), m_window->reel()->jointCentre(0));
    action("Plunge")->trigger();
    document().setPlayhead(74);
    settle();
    const QImage before = m_window->picture()->image();
    ASSERT_TRUE(document().save(at("mine.virga")));
    EXPECT_FALSE(document().isModified());
    m_window->files()->startNew();
    EXPECT_TRUE(project().reel.empty());
    ASSERT_TRUE(m_window->files()->open(at("mine.virga")));
    document().setPlayhead(74);
    settle();
    EXPECT_EQ(m_window->picture()->image(), before);
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
} // namespace virga::test
