// Every gesture of the Reel, with real mouse and key events, and what it does to the project.
#include "app/reel/reel_view.h"

#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QMimeData>
#include <QPushButton>
#include <QTimer>
#include <QWheelEvent>

#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "tests/app/window_fixture.h"

namespace virga::test::reel_gestures_test {
namespace {

class ReelGestures : public WindowTest {
protected:
    // Six clips of 25 frames with a second spare at both ends, music at 120 a minute, in the tall Reel.
    void SetUp() override {
        WindowTest::SetUp();
        Project p = withOwnClips(twoClips());
        for (const char* name : {"C", "D", "E", "F"}) {
            Clip c = p.reel[p.reel.size() % 2];
            c.name = name;
            p = withClip(p, int(p.reel.size()), c);
        }
        Media song;
        song.path = (m_folder / "song.wav").string();
        song.sound = true;
        song.duration = 20;
        std::string id;
        p = withMusic(withMedia(p, song, &id), id);
        p.music[0].tempo = Tempo{125, 0, 4, {}}; // a beat every 12 frames
        open(p);
        m_window->windowLayout()->setAssembling(true);
        QTest::qWait(30);
    }
    ReelView* reel() { return m_window->views().reel; }
    std::string order() {
        std::string names;
        for (const Clip& c : project().reel) names += c.isGap() ? "-" : c.name;
        return names;
    }
    QPointF body(int clip) { return {reel()->clipRect(clip).center().x() - 20, reel()->clipRect(clip).bottom() - 20}; }
    QPointF edge(int clip, bool tail) {
        const QRectF r = reel()->clipRect(clip);
        return {tail ? r.right() - 2 : r.left() + 2, r.bottom() - 20};
    }
    QPointF across(double frames) { return {frames * reel()->scale().pixelsPerFrame, 0}; }
    QString undo() { return document().undoStack()->undoText(); }
};

TEST_F(ReelGestures, SeveralClipsAreSelectedAndMovedTogether) {
    click(reel(), body(1));
    click(reel(), body(3), Qt::ControlModifier);
    EXPECT_EQ(document().selection().all(), (std::vector<int>{1, 3}));
    click(reel(), body(3), Qt::ControlModifier);
    EXPECT_EQ(document().selection().all(), (std::vector<int>{1})) << "taken out again";
    click(reel(), body(3), Qt::ShiftModifier);
    EXPECT_EQ(document().selection().all(), (std::vector<int>{1, 2, 3}));
    drag(reel(), body(2), {reel()->clipRect(5).right() - 5, body(2).y()});
    EXPECT_EQ(order(), "AEFBCD");
    EXPECT_EQ(undo(), "move 3 clips");
    EXPECT_EQ(document().selection().all(), (std::vector<int>{3, 4, 5}));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(order(), "ABCDEF");
}

TEST_F(ReelGestures, ABoxSelects) {
    const QRectF second = reel()->clipRect(1), third = reel()->clipRect(2);
    const double below = reel()->bands().spare.center().y();
    drag(reel(), {second.left() + 6, below}, {third.right() - 6, third.bottom() - 30});
    EXPECT_EQ(document().selection().all(), (std::vector<int>{1, 2}));
    click(reel(), {second.center().x(), below});
    EXPECT_EQ(document().selection().kind, Selection::Nothing) << "a click beside everything lets go";
}

TEST_F(ReelGestures, AJointMovesTheCut) {
    const QPointF joint = reel()->jointCentre(1);
    drag(reel(), joint, joint + across(7), Qt::ShiftModifier); // Shift at a joint overlaps
    EXPECT_EQ(transitionAt(project(), 1).overlap, (Overlap{7, 7}));
    EXPECT_EQ(undo(), "overlap");
    key(Qt::Key_Z, Qt::ControlModifier);
    drag(reel(), joint, joint + across(5));
    EXPECT_EQ(project().reel[1].length + project().reel[2].length, 50) << "the rest stays in its place";
    EXPECT_EQ(project().reel[1].length, 30);
    EXPECT_EQ(project().reel[2].sourceIn, Rational(30, 25));
    EXPECT_EQ(undo(), "move cut");
    EXPECT_EQ(document().undoStack()->count(), 1);
    key(Qt::Key_Left, Qt::ControlModifier);
    EXPECT_EQ(project().reel[1].length, 29) << "and by keys";
}

TEST_F(ReelGestures, EdgesClingToBeatsUnlessFree) {
    // Beats at 0, 12, 24, 36 ...
    drag(reel(), edge(0, true), edge(0, true) + across(-2));
    EXPECT_EQ(project().reel[0].length, 24) << "pulled onto the beat";
    key(Qt::Key_Z, Qt::ControlModifier);
    press(reel(), edge(0, true));
    for (int i = 1; i <= 4; ++i) moveTo(reel(), edge(0, true) + across(-0.5 * i), Qt::ShiftModifier);
    const QPointF end = QPointF(reel()->scale().xOf(23) - 2, edge(0, true).y());
    moveTo(reel(), end, Qt::ShiftModifier);
    release(reel(), end, Qt::ShiftModifier);
    EXPECT_EQ(project().reel[0].length, 23) << "free with Shift";
    key(Qt::Key_J, Qt::ControlModifier);
    EXPECT_FALSE(reel()->snaps());
    const QRectF status = reel()->bands().status;
    click(reel(), {status.right() - 100, status.center().y()});
    EXPECT_TRUE(reel()->snaps()) << "a click on the words switches it";
}

TEST_F(ReelGestures, AltSlipsTheSource) {
    drag(reel(), body(2), body(2) + across(-6), Qt::AltModifier);
    EXPECT_EQ(project().reel[2].sourceIn, Rational(31, 25)) << "to the left: later pictures";
    EXPECT_EQ(project().reel[2].length, 25);
    EXPECT_EQ(undo(), "slip clip");
    click(reel(), body(2));
    key(Qt::Key_Left, Qt::AltModifier);
    EXPECT_EQ(project().reel[2].sourceIn, Rational(30, 25));
}

TEST_F(ReelGestures, ControlDragsACopy) {
    drag(reel(), body(0), {reel()->clipRect(1).right() - 4, body(0).y()}, Qt::ControlModifier);
    EXPECT_EQ(order(), "ABACDEF");
    EXPECT_EQ(undo(), "duplicate");
    click(reel(), body(0));
    key(Qt::Key_D, Qt::ControlModifier);
    EXPECT_EQ(order(), "AABACDEF");
}

TEST_F(ReelGestures, SplitDeleteAndLeaveAGap) {
    document().setPlayhead(35);
    key(Qt::Key_X);
    ASSERT_EQ(project().reel.size(), 7u);
    EXPECT_EQ(project().reel[1].length, 10);
    EXPECT_EQ(project().reel[2].length, 15);
    EXPECT_EQ(document().selection(), (Selection{Selection::CutSelected, 1, {}}))
        << "the new cut is there to be shaped";
    click(reel(), body(2));
    key(Qt::Key_Delete, Qt::ControlModifier);
    EXPECT_TRUE(project().reel[2].isGap());
    EXPECT_EQ(reelLength(project()), 150) << "nothing moved";
    key(Qt::Key_Z, Qt::ControlModifier);
    click(reel(), body(2));
    key(Qt::Key_Delete);
    EXPECT_EQ(reelLength(project()), 135) << "closed up";
}

TEST_F(ReelGestures, CopyAndPaste) {
    click(reel(), body(0));
    click(reel(), body(1), Qt::ShiftModifier);
    key(Qt::Key_C, Qt::ControlModifier);
    click(reel(), body(5));
    key(Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(order(), "ABCDEFAB");
    EXPECT_EQ(document().selection().all(), (std::vector<int>{6, 7}));
    // A cut's moves go to another cut.
    document().select({Selection::CutSelected, 0, {}});
    action("Crossfade")->trigger();
    key(Qt::Key_C, Qt::ControlModifier);
    click(reel(), reel()->jointCentre(3));
    key(Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(transitionAt(project(), 3).overlap, (Overlap{6, 6}));
    EXPECT_EQ(undo(), "paste moves");
}

TEST_F(ReelGestures, OverlaysAreLiftedMovedTrimmedAndDeleted) {
    // A clip dragged up into the row above becomes an overlay; the reel keeps a gap.
    const double row = reel()->bands().over.center().y();
    drag(reel(), body(2), {body(2).x(), row});
    ASSERT_EQ(project().overlays.size(), 1u);
    EXPECT_TRUE(project().reel[2].isGap());
    EXPECT_EQ(project().overlays[0].start, 50);
    QRectF r = reel()->overlayRect(0);
    drag(reel(), r.center(), r.center() + across(10), {});
    EXPECT_EQ(project().overlays[0].start, 60) << "clings to the beat at 60";
    EXPECT_EQ(undo(), "move overlay");
    r = reel()->overlayRect(0);
    drag(reel(), {r.right() - 1, r.center().y()}, QPointF(r.right() - 1, r.center().y()) + across(-5), {});
    EXPECT_LT(project().overlays[0].clip.length, 25);
    EXPECT_EQ(undo(), "trim overlay");
    key(Qt::Key_Delete);
    EXPECT_TRUE(project().overlays.empty());
}

TEST_F(ReelGestures, AdjustmentsMusicMarkersAndBeatsAreDragged) {
    click(reel(), body(1));
    action("Add adjustment")->trigger();
    ASSERT_EQ(project().adjustments.size(), 1u);
    EXPECT_EQ(project().adjustments[0].start, 25) << "over the chosen clip";
    const ReelLayout l = reel()->bands();
    const auto x = [&](double frame) { return reel()->scale().xOf(frame); };
    drag(reel(), {x(50) - 2, l.adjust.center().y()}, {x(60) - 2, l.adjust.center().y()});
    EXPECT_EQ(project().adjustments[0].length, 35);
    drag(reel(), {x(40), l.music.center().y()}, {x(47), l.music.center().y()});
    EXPECT_NEAR(double(project().music[0].start), 7, 1);
    EXPECT_EQ(undo(), "move music");
    key(Qt::Key_Z, Qt::ControlModifier);
    document().setPlayhead(77);
    key(Qt::Key_K, Qt::ControlModifier);
    ASSERT_EQ(project().markers.size(), 1u);
    EXPECT_EQ(project().markers[0].frame, 77);
    QTest::keyClicks(QApplication::focusWidget(), "second gun");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    EXPECT_EQ(project().markers[0].name, "second gun") << "the field for its name was ready";
    drag(reel(), {x(77) + 3, l.ruler.bottom() - 15}, {x(90) + 3, l.ruler.bottom() - 15});
    EXPECT_NE(project().markers[0].frame, 77);
    EXPECT_EQ(undo(), "move marker");
    drag(reel(), {x(48), l.beats.top() + 6}, {x(50), l.beats.top() + 6});
    ASSERT_TRUE(project().music[0].tempo->placed.contains(4));
    EXPECT_NEAR(project().music[0].tempo->placed.at(4), 2.0, 0.05) << "frame 50 is two seconds in";
    EXPECT_EQ(undo(), "move beat");
}

TEST_F(ReelGestures, TheWheelZoomsAndPansAndTheOverviewShowsWhere) {
    const auto wheel = [&](QPointF at, int steps, Qt::KeyboardModifiers keys) {
        QWheelEvent event(at, reel()->mapToGlobal(at), {}, {0, steps * 120}, Qt::NoButton, keys, Qt::NoScrollPhase,
                          false);
        QApplication::sendEvent(reel(), &event);
    };
    EXPECT_TRUE(reel()->bands().overview.isEmpty());
    const QPointF at(600, 200);
    const double frame = reel()->scale().frameAt(at.x());
    wheel(at, 4, Qt::ControlModifier);
    EXPECT_TRUE(reel()->isZoomedIn());
    EXPECT_NEAR(reel()->scale().frameAt(at.x()), frame, 0.01) << "about the pointer";
    EXPECT_FALSE(reel()->bands().overview.isEmpty());
    const double before = reel()->scale().left;
    wheel(at, -1, {});
    EXPECT_LT(reel()->scale().left, before);
    // Gestures work at this scale too.
    const int clip = clipAt(project(), std::int64_t(frame));
    click(reel(), {at.x(), reel()->clipRect(clip).bottom() - 20});
    EXPECT_EQ(document().selection().kind, Selection::ClipSelected);
    const QRectF overview = reel()->bands().overview;
    click(reel(), {overview.right() - 4, overview.center().y()});
    EXPECT_GT(reel()->scale().frameAt(reel()->width()), 140) << "the end is in sight";
    document().setPlayhead(2);
    EXPECT_GE(reel()->scale().xOf(2), 0) << "the playhead is never lost";
    wheel(at, -12, Qt::ControlModifier);
    EXPECT_FALSE(reel()->isZoomedIn());
}

TEST_F(ReelGestures, LengthIsTypedOrSetToBeats) {
    click(reel(), body(1));
    const auto answer = [&](const QString& field, const QString& text) {
        whenShown<QDialog>([=, this](QDialog* popup) {
            for (auto* f : popup->findChildren<NumberField*>())
                if (f->accessibleName() == field) type(f, text);
            if (field.contains("beats"))
                for (auto* b : popup->findChildren<QPushButton*>())
                    if (b->text() == "End on beat") QTest::mouseClick(b, Qt::LeftButton);
        });
        m_window->activateWindow();
        action("Set length…")->trigger();
    };
    answer("Length in frames", "2*9");
    EXPECT_EQ(project().reel[1].length, 18);
    answer("Length in beats", "2");
    EXPECT_EQ(clipStart(project(), 2) % 12, 0) << "ends on a beat";
}

TEST_F(ReelGestures, ACascadeIsOneCommand) {
    key(Qt::Key_A, Qt::ControlModifier);
    whenShown<QDialog>([](QDialog* dialog) {
        for (auto* b : dialog->findChildren<QPushButton*>())
            if (b->text() == "Stack them") QTest::mouseClick(b, Qt::LeftButton);
    });
    action("Cascade…")->trigger();
    EXPECT_EQ(clipStarts(project()), (std::vector<std::int64_t>{0, 3, 6, 9, 12, 15, 40}));
    EXPECT_EQ(undo(), "cascade");
    EXPECT_EQ(transitionAt(project(), 0).moves[0].kind, MoveKind::Slide);
}

TEST_F(ReelGestures, FilesAndTrayItemsGoWhereTheyAreDropped) {
    QMimeData data;
    data.setData(mediaMimeType, "media-2\n");
    const QPointF over(reel()->scale().xOf(30), reel()->bands().over.center().y());
    QDragEnterEvent enter(over.toPoint(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(reel(), &enter);
    ASSERT_TRUE(enter.isAccepted());
    QDragMoveEvent move(over.toPoint(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(reel(), &move);
    QDropEvent drop(over, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(reel(), &drop);
    ASSERT_EQ(project().overlays.size(), 1u);
    EXPECT_EQ(project().overlays[0].start, 30);
    EXPECT_EQ(entranceOf(project().overlays[0], Side::Incoming), Entrance::PopUp);
    const QPointF between(reel()->scale().xOf(25), body(0).y());
    QApplication::sendEvent(reel(), &enter);
    QDragMoveEvent move2(between.toPoint(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(reel(), &move2);
    QDropEvent drop2(between, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(reel(), &drop2);
    ASSERT_EQ(project().reel.size(), 7u);
    EXPECT_EQ(project().reel[1].mediaId, "media-2");
}

} // namespace
} // namespace virga::test::reel_gestures_test
