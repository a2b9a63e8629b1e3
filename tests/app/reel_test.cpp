#include "app/reel/reel_view.h"

#include "app/picture/picture_view.h"
#include "app/window/notice_bar.h"
#include "tests/app/window_fixture.h"

#include <QPushButton>
#include <fstream>

namespace virga::test::reel_test {
namespace {

class Reel : public WindowTest {};

TEST_F(Reel, AnEmptyOneSaysWhatToDo) {
    EXPECT_TRUE(button("Add shots…"));
    EXPECT_TRUE(button("Open the demo"));
    openStill();
    EXPECT_FALSE(button("Add shots…"));
}

TEST_F(Reel, FilesAreDroppedInTheirOrder) {
    dropFiles(m_window->views().reel, {500, 50}, {at("b.mp4"), at("a.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 2; }));
    EXPECT_EQ(project().reel[0].name, "b");
    EXPECT_EQ(project().reel[0].length, 75);
    EXPECT_EQ(project().settings.size, (Size{320, 180}));
    EXPECT_EQ(document().selection(), (Selection{Selection::CutSelected, 0})) << "its cut is ready to be shaped";
    EXPECT_EQ(document().playhead(), 75) << "and seen";
    dropFiles(m_window->views().reel, {20, 60}, {at("a.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 3; }));
    EXPECT_EQ(project().reel[0].name, "a") << "where it was dropped";
    EXPECT_EQ(project().media.size(), 2u);
    settle();
}

TEST_F(Reel, FilesMayBeDroppedAnywhere) {
    dropFiles(m_window.get(), {600, 600}, {at("a.mp4")});
    EXPECT_TRUE(waitFor([this] { return project().reel.size() == 1; }));
}

TEST_F(Reel, BadFilesAreNamedAndTheRestStays) {
    std::ofstream(m_folder / "empty.mp4").close();
    std::ofstream(m_folder / "letter.mp4") << "Dear editor";
    openStill();
    dropFiles(m_window->views().reel, {600, 50}, {at("empty.mp4"), at("a.mp4"), at("letter.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 3; }));
    const QString said = m_window->notice()->text();
    EXPECT_TRUE(said.contains("empty.mp4")) << said.toStdString();
    EXPECT_TRUE(said.contains("letter.mp4"));
    EXPECT_TRUE(said.contains("the file is empty"));
    EXPECT_FALSE(said.contains("a.mp4:"));
}

TEST_F(Reel, JointsAndClipsAreSelectedByClicks) {
    openPlunge();
    click(m_window->views().reel, m_window->views().reel->clipRect(1).center());
    EXPECT_EQ(document().selection(), (Selection{Selection::ClipSelected, 1}));
    EXPECT_NEAR(double(document().playhead()), 37, 1) << "the playhead goes there too";
    click(m_window->views().reel, m_window->views().reel->jointCentre(0));
    EXPECT_EQ(document().selection(), (Selection{Selection::CutSelected, 0}));
    EXPECT_EQ(document().playhead(), 25);
}

TEST_F(Reel, TheRulerScrubs) {
    openPlunge();
    const ReelScale s = m_window->views().reel->scale();
    press(m_window->views().reel, {s.xOf(10.5), 10});
    EXPECT_EQ(document().playhead(), 10);
    moveTo(m_window->views().reel, {s.xOf(40.5), 12});
    EXPECT_EQ(document().playhead(), 40);
    release(m_window->views().reel, {s.xOf(40.5), 12});
}

TEST_F(Reel, DraggingAClipReorders) {
    openPlunge();
    const QRectF first = m_window->views().reel->clipRect(0);
    drag(m_window->views().reel, first.center(),
         {m_window->views().reel->clipRect(1).right() - 20, first.center().y()});
    EXPECT_EQ(project().reel[0].name, "B");
    EXPECT_EQ(document().undoStack()->undoText(), "move clip");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(project().reel[0].name, "A");
}

TEST_F(Reel, DraggingAnEdgeTrims) {
    openPlunge();
    ReelView* reel = m_window->views().reel;
    const double perFrame = reel->scale().pixelsPerFrame;
    const QRectF first = reel->clipRect(0);
    drag(reel, {first.right() - 2, first.bottom() - 6}, {first.right() - 2 - 7 * perFrame, first.bottom() - 6});
    EXPECT_EQ(project().reel[0].length, 18);
    EXPECT_EQ(document().undoStack()->undoText(), "trim clip");
    EXPECT_EQ(document().undoStack()->count(), 1) << "one step for the whole drag";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(project().reel[0].length, 25);
    const QRectF second = reel->clipRect(1);
    drag(reel, {second.left() + 3, second.bottom() - 6}, {second.left() + 3 + 5 * perFrame, second.bottom() - 6});
    EXPECT_EQ(project().reel[1].length, 20);
    EXPECT_EQ(project().reel[1].sourceIn, Rational(30, 25));
    drag(reel, {reel->clipRect(1).right() - 1, second.bottom() - 6},
         {reel->clipRect(1).right() + 90 * perFrame, second.bottom() - 6});
    EXPECT_EQ(project().reel[1].length, 45) << "not beyond its source";
}

TEST_F(Reel, EscapeTakesADragBack) {
    openPlunge();
    ReelView* reel = m_window->views().reel;
    const QRectF first = reel->clipRect(0);
    press(reel, {first.right() - 2, first.bottom() - 6});
    moveTo(reel, {first.right() - 40, first.bottom() - 6});
    moveTo(reel, {first.right() - 80, first.bottom() - 6});
    EXPECT_LT(project().reel[0].length, 25);
    QTest::keyClick(reel, Qt::Key_Escape);
    EXPECT_EQ(project().reel[0].length, 25);
    release(reel, {first.right() - 80, first.bottom() - 6});
    EXPECT_EQ(document().undoStack()->count(), 0);
}

TEST_F(Reel, DeleteRemovesTheClipOrTheCutsMoves) {
    openPlunge();
    click(m_window->views().reel, m_window->views().reel->jointCentre(0));
    key(Qt::Key_Delete);
    EXPECT_EQ(project().reel.size(), 2u);
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty());
    click(m_window->views().reel, m_window->views().reel->clipRect(0).center());
    key(Qt::Key_Delete);
    EXPECT_EQ(project().reel.size(), 1u);
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(transitionAt(project(), 0).moves.size(), 1u);
}

} // namespace
} // namespace virga::test::reel_test
