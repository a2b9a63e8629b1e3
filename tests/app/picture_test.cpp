// Handles, surround and faces on the Picture, by real mouse and key events.
#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QHelpEvent>
#include <QPushButton>
#include <QSettings>
#include <QTimer>
#include <QToolButton>
#include <QWheelEvent>

#include "app/document/edit_focus.h"
#include "app/ladder/contact_sheet.h"
#include "app/ladder/ladder_view.h"
#include "app/picture/picture_view.h"
#include "app/picture/transport.h"
#include "app/style/controls.h"
#include "app/window/piece_dialog.h"
#include "app/window/settings_dialog.h"
#include "core/edit/layer_edits.h"
#include "tests/app/window_fixture.h"

namespace virga::test::picture_test {
namespace {

constexpr Shape straight{Interpolation::Linear};

class PictureWindow : public WindowTest {
protected:
    PictureView* picture() { return m_window->findChild<PictureView*>(); }
    Project stacked() {
        Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.4, 8, 0.8, 1, 8, straight, straight);
        p = withMove(p, 0, MoveKind::Spin, 0, 0, 20, 8, -20, 0, 8, straight, straight);
        p = withMove(p, 0, MoveKind::Slide, 0, 0, 0.1, 8, -0.1, 0, 8, straight, straight);
        p = withMove(p, 0, MoveKind::Tilt, 0, 0, 10, 8, -10, 0, 8, straight, straight);
        return withOwnClips(p);
    }
    QPointF placeOf(PictureHandles::Hit hit) {
        picture()->handles()->setFrame(picture()->outline());
        return picture()->handles()->placeOf(hit);
    }
    const Move& move(MoveKind kind) {
        for (const Move& m : transitionAt(project(), 0).moves)
            if (m.kind == kind) return m;
        static const Move none;
        return none;
    }
};

TEST_F(PictureWindow, EveryHandleSetsAKeyOnTheSideThatIsSeenAsOneStep) {
    for (const QSize& size : {QSize(1280, 800), QSize(1600, 1000)}) {
        m_window->resize(size);
        open(stacked());
        document().setPlayhead(29); // 4 frames after the cut
        settle();
        const auto in = [&](MoveKind kind, int channel = 0) -> const Curve& {
            return move(kind).channels[std::size_t(channel)].incoming;
        };
        const Project before = project();
        // The body slides.
        const QPointF middle = picture()->outline().center() + QPointF(-60, 40);
        drag(picture(), middle, middle + QPointF(40, 0));
        EXPECT_EQ(document().undoStack()->undoText(), "slide on the picture");
        EXPECT_EQ(document().undoStack()->count(), 1);
        ASSERT_EQ(in(MoveKind::Slide).keys.size(), 3u);
        EXPECT_EQ(in(MoveKind::Slide).keys[1].time, 4);
        EXPECT_GT(evaluate(in(MoveKind::Slide), 4),
                  evaluate(before.reel[1].transition.moves[2].channels[0].incoming, 4));
        // A corner zooms.
        const QPointF corner = placeOf({PictureHandles::Corner, 2}), away = corner - picture()->outline().center();
        drag(picture(), corner, corner - away * 0.3);
        EXPECT_EQ(document().undoStack()->undoText(), "zoom on the picture");
        EXPECT_LT(evaluate(in(MoveKind::Zoom), 4), 0.89);
        // The ring spins.
        const QPointF knob = placeOf({PictureHandles::Ring, 0});
        drag(picture(), knob, knob + QPointF(-10, 60));
        EXPECT_EQ(document().undoStack()->undoText(), "spin on the picture");
        EXPECT_GT(evaluate(in(MoveKind::Spin), 4), 0) << "downwards at the right is clockwise";
        // An edge tilts.
        const QPointF edge = placeOf({PictureHandles::Edge, 0});
        drag(picture(), edge, edge + QPointF(0, 25));
        EXPECT_EQ(document().undoStack()->undoText(), "tilt on the picture");
        EXPECT_EQ(in(MoveKind::Tilt).keys.size(), 3u);
        // The cross is the anchor.
        const QPointF cross = placeOf({PictureHandles::Anchor, 0});
        drag(picture(), cross, cross + QPointF(-70, -37));
        EXPECT_EQ(document().undoStack()->undoText(), "move the anchor");
        EXPECT_LT(move(MoveKind::Tilt).anchor.x, 0.5);
        EXPECT_EQ(document().undoStack()->count(), 5) << "one step a drag";
        // The outgoing side is as it was.
        for (std::size_t m = 0; m < 4; ++m)
            EXPECT_EQ(transitionAt(project(), 0).moves[m].channels[0].outgoing,
                      transitionAt(before, 0).moves[m].channels[0].outgoing);
        for (int i = 0; i < 5; ++i) document().undoStack()->undo();
        EXPECT_EQ(project().reel, before.reel);
    }
}

TEST_F(PictureWindow, ItClingsAndShiftFreesAndEscapeTakesBack) {
    open(withOwnClips(withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.4, 8, -0.4, 0, 8, straight, straight)));
    document().setPlayhead(29);
    settle();
    const auto value = [&] { return evaluate(move(MoveKind::Slide).channels[0].incoming, 4); };
    const QRectF r = picture()->outline();
    ASSERT_NEAR(value(), -0.2, 1e-9);
    // Within a few pixels of no slide at all.
    drag(picture(), r.center(), r.center() + QPointF(0.2 * r.width() + 3, 2));
    EXPECT_EQ(value(), 0);
    document().undoStack()->undo();
    drag(picture(), r.center(), r.center() + QPointF(80, 0), Qt::ShiftModifier);
    EXPECT_NEAR(value(), -0.2 + 10 / r.width(), 0.003) << "an eighth of the way";
    document().undoStack()->undo();
    press(picture(), r.center());
    moveTo(picture(), r.center() + QPointF(50, 0));
    moveTo(picture(), r.center() + QPointF(90, 0));
    EXPECT_NE(value(), -0.2);
    EXPECT_FALSE(picture()->handles()->told().isEmpty()) << "the value is told beside the pointer";
    QTest::keyClick(picture(), Qt::Key_Escape);
    release(picture(), r.center() + QPointF(90, 0));
    EXPECT_NEAR(value(), -0.2, 1e-9);
    EXPECT_EQ(document().undoStack()->index(), 0);
}

TEST_F(PictureWindow, TheWheelZoomsAndWithoutAMoveTheClipIsPlaced) {
    openStill();
    settle();
    document().setPlayhead(30);
    const QRectF r = picture()->outline();
    drag(picture(), r.center(), r.center() + QPointF(0.21 * r.width(), 0), Qt::NoModifier);
    EXPECT_NEAR(project().reel[1].placement.position.x, 0.21, 0.01);
    QWheelEvent wheel(r.center(), picture()->mapToGlobal(r.center()), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(picture(), &wheel);
    EXPECT_NEAR(project().reel[1].placement.scale, std::exp2(0.1), 1e-6);
    QApplication::sendEvent(picture(), &wheel);
    EXPECT_EQ(document().undoStack()->count(), 2) << "turns of the wheel are one step";
}

TEST_F(PictureWindow, TheLanesAndThePictureSteerTheSameMove) {
    Project p = stacked();
    p = withOwnClips(withMove(p, 0, MoveKind::Zoom, 0, 1, 1.2, 8, 0.9, 1, 8, straight, straight));
    open(p);
    document().setPlayhead(29);
    document().focus()->setCurrent({StackPlace(0), 0, 0, Side::Incoming}); // the first zoom, not the outermost
    settle();
    const QPointF corner = placeOf({PictureHandles::Corner, 2}), away = corner - picture()->outline().center();
    drag(picture(), corner, corner - away * 0.2);
    EXPECT_EQ(transitionAt(project(), 0).moves[0].channels[0].incoming.keys.size(), 3u);
    EXPECT_EQ(transitionAt(project(), 0).moves[4].channels[0].incoming.keys.size(), 2u);
}

TEST_F(PictureWindow, SurroundShowsWhatLiesBeyondTheFrame) {
    Project p = withOwnClips(plungeProject());
    p.settings.copies = 1;
    open(p);
    document().setPlayhead(25);
    settle();
    const QImage frame = picture()->image().copy();
    auto* modes = m_window->findChild<Transport*>()->modes();
    QTest::mouseClick(modes->button(1), Qt::LeftButton);
    EXPECT_EQ(picture()->mode(), PictureView::SurroundMode);
    settle();
    EXPECT_NE(picture()->image(), frame);
    EXPECT_LT(picture()->outline().width(), 0.5 * picture()->width());
    EXPECT_TRUE(picture()->coverText().startsWith("copies 6")) << picture()->coverText().toStdString();
    // The frame's own middle is where it was, smaller: the same colour within what sampling gives.
    const QColor a = frame.pixelColor(frame.width() / 2, frame.height() / 2),
                 b = picture()->image().pixelColor(frame.width() / 2, frame.height() / 2);
    EXPECT_NEAR(a.lightness(), b.lightness(), 40);
    action("Frame")->trigger();
    settle();
    EXPECT_EQ(picture()->image(), frame);
    EXPECT_TRUE(project().adjustments.empty()) << "looking changes nothing";
    EXPECT_EQ(document().undoStack()->count(), 0);
}

TEST_F(PictureWindow, FacesLineUpTheSubjects) {
    openStill();
    settle();
    action("Faces")->trigger();
    ASSERT_TRUE(waitFor([&] { return picture()->faces()->isReady(); }, 10000));
    const QPointF out = picture()->faces()->markOf(Side::Outgoing), in = picture()->faces()->markOf(Side::Incoming);
    drag(picture(), out, out + QPointF(20, 12));
    drag(picture(), in, in + QPointF(-14, -10));
    EXPECT_TRUE(project().reel[0].subjectOut);
    ASSERT_TRUE(project().reel[1].subjectIn);
    EXPECT_EQ(document().undoStack()->undoText(), "mark the subject");
    EXPECT_NEAR(picture()->faces()->markOf(Side::Outgoing).x(), out.x() + 20, 1.5);
    QTest::mouseClick(button("Line up"), Qt::LeftButton);
    EXPECT_EQ(document().undoStack()->undoText(), "line up");
    EXPECT_LT(QLineF(picture()->faces()->markOf(Side::Outgoing), picture()->faces()->markOf(Side::Incoming)).length(),
              0.1);
    auto* ways = picture()->ways();
    QImage last;
    for (const int way : {1, 2, 3, 0}) {
        QTest::mouseClick(ways->button(way), Qt::LeftButton);
        settle();
        const QImage now = picture()->grab().toImage();
        EXPECT_NE(now, last) << way;
        last = now;
    }
    action("Frame")->trigger();
    EXPECT_EQ(picture()->mode(), PictureView::FrameMode);
}

TEST_F(PictureWindow, TheLadderHasAsManyFramesAsItsWidthHoldsAndTheyAreThePicturesOwn) {
    openPlunge();
    settle();
    auto* ladder = m_window->findChild<LadderView*>();
    const int narrow = ladder->count();
    m_window->resize(1920, 1080);
    QTest::qWait(50);
    EXPECT_GT(ladder->count(), narrow);
    EXPECT_EQ(ladder->firstFrame(), -ladder->count() / 2);
    settle();
    const int fourth = ladder->count() / 2 + 1; // frame +1
    click(ladder, ladder->frameRect(fourth).center());
    EXPECT_EQ(document().playhead(), 26);
    settle();
    const QImage rung = ladder->image(fourth), whole = picture()->image();
    ASSERT_FALSE(rung.isNull());
    const QImage small = whole.scaled(rung.size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    double apart = 0;
    for (int y = 0; y < rung.height(); ++y)
        for (int x = 0; x < rung.width(); ++x) apart += std::abs(qGray(rung.pixel(x, y)) - qGray(small.pixel(x, y)));
    EXPECT_LT(apart / rung.width() / rung.height(), 6) << "but for how they were scaled";
    QHelpEvent help(QEvent::ToolTip, ladder->frameRect(fourth).center().toPoint(), QPoint());
    EXPECT_TRUE(QApplication::sendEvent(ladder, &help));
}

TEST_F(PictureWindow, TheContactSheetIsWalkedAndWritten) {
    openPlunge();
    settle();
    auto* ladder = m_window->findChild<LadderView*>();
    doubleClick(ladder, ladder->frameRect(1).center());
    ContactSheet* sheet = m_window->views().sheet;
    ASSERT_TRUE(sheet->isVisible());
    EXPECT_EQ(sheet->count(), 24);
    ASSERT_TRUE(waitFor([&] { return sheet->isReady(); }, 20000));
    click(sheet, sheet->frameRect(14).center());
    EXPECT_EQ(document().playhead(), 25 + 2);
    key(Qt::Key_Left);
    EXPECT_EQ(document().playhead(), 25 + 1) << "arrows walk";
    ASSERT_TRUE(sheet->write(at("sheet.png")));
    const QImage written(at("sheet.png"));
    EXPECT_EQ(written.size(), sheet->size() * sheet->devicePixelRatioF());
    EXPECT_FALSE(sheet->write(at("no/such/folder.png")));
    QTest::keyClick(sheet, Qt::Key_Escape);
    EXPECT_FALSE(sheet->isVisible());
}

TEST_F(PictureWindow, ActualSizeShowsTheExportedPixelsAndTellsTheirValues) {
    openPlunge();
    document().setPlayhead(30);
    settle();
    ASSERT_TRUE(picture()->isExact());
    action("Actual size, with a magnifier")->trigger();
    EXPECT_TRUE(picture()->isActualSize());
    const QImage exact = picture()->image();
    const QImage seen = picture()->grab().toImage();
    // The middle of the view is the middle of the frame, pixel for pixel.
    const QPoint centre = (picture()->outline().center() * seen.devicePixelRatio()).toPoint();
    const Size size = project().settings.size;
    for (int dy = -20; dy <= 20; dy += 4)
        for (int dx = -20; dx <= 20; dx += 4) {
            bool same = false; // the view's own middle may lie half a pixel off
            for (int ox = -1; ox <= 1 && !same; ++ox)
                for (int oy = -1; oy <= 1 && !same; ++oy)
                    same = seen.pixelColor(centre + QPoint(dx, dy)).rgb() ==
                           exact.pixelColor(size.width / 2 + dx + ox, size.height / 2 + dy + oy).rgb();
            ASSERT_TRUE(same) << dx << ' ' << dy;
        }
    EXPECT_TRUE(picture()->pixelText(picture()->outline().center()).contains("R ")) << "the value under the pointer";
    const QString before = picture()->pixelText(picture()->outline().center());
    drag(picture(), picture()->outline().center(), picture()->outline().center() + QPointF(-30, -10));
    EXPECT_NE(picture()->pixelText(picture()->outline().center()), before) << "it is dragged about";
    EXPECT_EQ(document().undoStack()->count(), 0);
    action("Actual size, with a magnifier")->trigger();
    const QImage plain = picture()->grab().toImage();
    action("Thirds")->trigger();
    EXPECT_NE(picture()->grab().toImage(), plain);
    action("Safe areas")->trigger();
    EXPECT_TRUE(picture()->showsSafeAreas());
}

TEST_F(PictureWindow, BeforeAndAfterOfTheSelectedMoveAndFullScreen) {
    openPlunge();
    document().setPlayhead(24);
    settle();
    const QImage with = picture()->image().copy();
    action("Without the selected move")->trigger();
    settle();
    EXPECT_NE(picture()->image(), with);
    EXPECT_TRUE(transitionAt(project(), 0).moves[0].enabled);
    action("Without the selected move")->trigger();
    settle();
    EXPECT_EQ(picture()->image(), with);
    action("Full screen")->trigger();
    QWidget* full = nullptr;
    for (QWidget* w : QApplication::topLevelWidgets())
        if (w->objectName() == "picture" || w->objectName() == "fullScreen") full = w;
    ASSERT_TRUE(full);
    ASSERT_TRUE(waitFor([&] { return qobject_cast<PictureView*>(full)->isExact(); }, 10000));
    EXPECT_EQ(qobject_cast<PictureView*>(full)->image(), with) << "the same frame";
    QTest::keyClick(full, Qt::Key_Escape);
    EXPECT_TRUE(waitFor(
        [] {
            for (QWidget* w : QApplication::topLevelWidgets())
                if (w->objectName() == "fullScreen" && w->isVisible()) return false;
            return true;
        },
        3000));
}

TEST_F(PictureWindow, MemoryForPicturesHasOneLimitThatIsKept) {
    QSettings().remove("cacheMegabytes");
    openPlunge();
    settle();
    EXPECT_GT(m_window->services().frames.bytes(), std::size_t(2) << 20);
    bool done = false;
    whenShown<SettingsDialog>([&](SettingsDialog* dialog) {
        type(dialog->findChild<NumberField*>(), "64");
        dialog->accept();
        done = true;
    });
    action("Settings of the program…")->trigger();
    ASSERT_TRUE(done);
    EXPECT_EQ(m_window->services().memory(), std::size_t(64) << 20);
    for (int n = 0; n < 50; n += 7) {
        document().setPlayhead(n);
        settle();
    }
    EXPECT_LE(m_window->services().memoryUsed(), std::size_t(64) << 20);
    EXPECT_EQ(QSettings().value("cacheMegabytes").toInt(), 64);
    QSettings().remove("cacheMegabytes");
    EXPECT_LE(FrameService::usualBudget(), std::size_t(512) << 20) << "with the program a gigabyte";
}

TEST_F(PictureWindow, TheFullScreenPictureGoesWithItsWindow) {
    openPlunge();
    settle();
    action("Full screen")->trigger();
    const auto isThere = [] {
        for (QWidget* w : QApplication::topLevelWidgets())
            if (w->objectName() == "fullScreen") return true;
        return false;
    };
    ASSERT_TRUE(isThere());
    m_window.reset();
    EXPECT_FALSE(isThere());
}

TEST_F(PictureWindow, ThePiecesSizeAndRateAreChangedAndTimesInSecondsStay) {
    openPlunge();
    settle();
    const double seconds = double(reelLength(project())) / project().settings.rate.toDouble();
    bool done = false;
    whenShown<PieceDialog>([&](PieceDialog* dialog) {
        const auto boxes = dialog->findChildren<QComboBox*>();
        ASSERT_EQ(boxes.size(), 2);
        QTest::keyClick(boxes[0], Qt::Key_Home); // 1920 x 1080
        QTest::keyClick(boxes[1], Qt::Key_End);  // 60 a second
        for (auto* b : dialog->findChildren<QPushButton*>())
            if (b->text() == "Change the piece") QTest::mouseClick(b, Qt::LeftButton), done = true;
    });
    action("The piece's size, rate, background…")->trigger();
    ASSERT_TRUE(done);
    EXPECT_EQ(project().settings.size, (Size{1920, 1080}));
    EXPECT_EQ(project().settings.rate, FrameRate(60));
    EXPECT_NEAR(double(reelLength(project())) / 60, seconds, 1.0 / 60);
    EXPECT_NEAR(curve(Side::Outgoing).keys.front().time, -5 * 60 / 25.0, 1e-9);
    EXPECT_EQ(document().undoStack()->undoText(), "change the piece");
}

} // namespace
} // namespace virga::test::picture_test
