#include "app/lanes/lanes_view.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QWheelEvent>

#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/picture/picture_view.h"
#include "tests/app/window_fixture.h"

namespace virga::test::lanes_test {
namespace {

class Lanes : public WindowTest {
protected:
    LaneChart* chart(int move = 0, int channel = 0) { return m_window->views().lanes->chart(move, channel); }
    LaneHeader* header(int move = 0, int channel = 0) { return m_window->views().lanes->header(move, channel); }
    double perFrame() { return m_window->views().lanes->context()->frames().pixelsPerFrame; }
    // A drop is held by its body, so that the tip stays in sight.
    QPointF body(Side side, int k) { return chart()->keyPoint(side, k) + QPointF(0, -9); }
};

TEST_F(Lanes, DraggingADropChangesTimeAndValueAndThePicture) {
    openPlunge();
    document().setPlayhead(24);
    settle();
    const QImage before = m_window->views().picture->image();
    const double shapeBefore = shapeOf(curve(Side::Outgoing), 0)->y2;
    drag(chart(), body(Side::Outgoing, 0), body(Side::Outgoing, 0) + QPointF(-3 * perFrame(), -20));
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -8) << "whole frames";
    EXPECT_GT(curve(Side::Outgoing).keys[0].value, 1.05);
    EXPECT_NEAR(shapeOf(curve(Side::Outgoing), 0)->y2, shapeBefore, 1e-9) << "the shape is kept";
    EXPECT_EQ(document().undoStack()->undoText(), "move key");
    EXPECT_EQ(document().undoStack()->count(), 1);
    settle();
    EXPECT_NE(m_window->views().picture->image(), before);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -5);
    settle();
    EXPECT_EQ(m_window->views().picture->image(), before) << "undone to the pixel";
}

TEST_F(Lanes, WorksAtAnotherZoomToo) {
    openPlunge();
    m_window->views().lanes->context()->setFrames(m_window->views().lanes->context()->frames().zoomed(2.2, 500));
    ASSERT_GT(m_window->views().lanes->context()->frames().xOf(0), 0);
    drag(chart(), body(Side::Incoming, 0), body(Side::Incoming, 0) + QPointF(2 * perFrame(), 0));
    EXPECT_EQ(curve(Side::Incoming).keys[0].time, 2);
    EXPECT_EQ(curve(Side::Incoming).keys[0].value, 0.62) << "a level drag leaves the value alone";
}

TEST_F(Lanes, SnapsToRestAndShiftFreesTime) {
    openPlunge();
    drag(chart(), body(Side::Incoming, 0), QPointF(body(Side::Incoming, 0).x(), chart()->values().yOf(1) - 9 + 2));
    EXPECT_EQ(curve(Side::Incoming).keys[0].value, 1) << "to rest, within four pixels";
    key(Qt::Key_Z, Qt::ControlModifier);
    drag(chart(), body(Side::Incoming, 1), body(Side::Incoming, 1) + QPointF(-2.5 * perFrame(), 0), Qt::ShiftModifier);
    EXPECT_NEAR(curve(Side::Incoming).keys[1].time, 9.5, 0.1) << "fractions of a frame";
}

TEST_F(Lanes, AKeyMayLiePastTheCut) {
    openPlunge();
    drag(chart(), body(Side::Outgoing, 1), body(Side::Outgoing, 1) + QPointF(perFrame(), 0));
    EXPECT_EQ(curve(Side::Outgoing).keys[1].time, 1);
    EXPECT_LT(evaluate(curve(Side::Outgoing), -1), 2.5);
}

TEST_F(Lanes, HandlesBendTheCurve) {
    openPlunge();
    click(chart(), body(Side::Outgoing, 0));
    const auto ring = chart()->handlePoint(Side::Outgoing, 0, true);
    ASSERT_TRUE(ring);
    drag(chart(), *ring, *ring + QPointF(-1.5 * perFrame(), 0));
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].leave.reach, 0.3, 0.03);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].leave.rise, 0);
    EXPECT_EQ(document().undoStack()->undoText(), "bend curve");
    const auto again = chart()->handlePoint(Side::Outgoing, 0, true);
    drag(chart(), *again, *again + QPointF(0, 15));
    EXPECT_LT(curve(Side::Outgoing).keys[0].leave.rise, -0.1) << "down: it draws back first";
}

TEST_F(Lanes, ArrowsNudgeTheSelectedKeyAndStepFramesOtherwise) {
    openPlunge();
    click(chart(), body(Side::Outgoing, 0));
    const auto head = document().playhead();
    key(Qt::Key_Left);
    key(Qt::Key_Left);
    key(Qt::Key_Up);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -7);
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].value, 1.05, 1e-9);
    EXPECT_EQ(document().playhead(), head);
    EXPECT_EQ(document().undoStack()->count(), 1) << "nudges in a row are one step";
    key(Qt::Key_Escape);
    key(Qt::Key_Right);
    EXPECT_EQ(document().playhead(), head + 1);
}

TEST_F(Lanes, DoubleClickOnTheCurveAddsAKeyAndDeleteRemovesIt) {
    openPlunge();
    const FrameScale f = m_window->views().lanes->context()->frames();
    const double value = evaluate(curve(Side::Outgoing), -2);
    doubleClick(chart(), {f.xOf(-2), chart()->values().yOf(value)});
    ASSERT_EQ(curve(Side::Outgoing).keys.size(), 3u);
    EXPECT_EQ(curve(Side::Outgoing).keys[1].time, -2);
    EXPECT_NEAR(curve(Side::Outgoing).keys[1].value, value, 1e-9) << "the curve is not bent";
    key(Qt::Key_Delete);
    EXPECT_EQ(curve(Side::Outgoing).keys.size(), 2u);
}

TEST_F(Lanes, DoubleClickOnADropTypesFrameAndValue) {
    openPlunge();
    doubleClick(chart(), body(Side::Outgoing, 0));
    ASSERT_TRUE(waitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000));
    const auto fields = QApplication::activePopupWidget()->findChildren<NumberField*>();
    ASSERT_EQ(fields.size(), 2);
    type(fields[1], "120%");
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].value, 1.2, 1e-9);
    QApplication::activePopupWidget() ? QApplication::activePopupWidget()->close() : false;
}

TEST_F(Lanes, NumberFieldsShowAndSetBothSides) {
    openPlunge();
    EXPECT_EQ(header()->field(Side::Outgoing, true)->text(), "2.50×");
    EXPECT_EQ(header()->field(Side::Incoming, false)->text(), "0.62×");
    type(header()->field(Side::Outgoing, true), "5/2 + 0.5");
    EXPECT_EQ(curve(Side::Outgoing).keys.back().value, 3);
    type(header()->field(Side::Incoming, false), "80%");
    EXPECT_NEAR(curve(Side::Incoming).keys.front().value, 0.8, 1e-12);
    EXPECT_EQ(document().undoStack()->count(), 2);
}

TEST_F(Lanes, AMoveIsAddedAndFilledInByTyping) {
    openStill();
    ASSERT_TRUE(button("Add spin"));
    QTest::mouseClick(button("Add spin"), Qt::LeftButton);
    ASSERT_TRUE(header());
    type(header()->field(Side::Outgoing, true), "-1/4 turn");
    type(header()->field(Side::Incoming, false), "90");
    EXPECT_EQ(curve(Side::Outgoing).keys.back().value, -90);
    EXPECT_EQ(curve(Side::Outgoing).keys.front().time, -8);
    EXPECT_EQ(curve(Side::Incoming).keys.front().value, 90);
    EXPECT_EQ(curve(Side::Incoming).keys.back().value, 0);
    for (int i = 0; i < 3; ++i) key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty());
    EXPECT_FALSE(header());
}

TEST_F(Lanes, MatchSpeedMeetsTheOtherSide) {
    openPlunge();
    ASSERT_TRUE(button("match\nspeed"));
    QTest::mouseClick(button("match\nspeed"), Qt::LeftButton);
    EXPECT_NEAR(changeOver(curve(Side::Incoming), 0), changeOver(curve(Side::Outgoing), -1), 1e-8);
    EXPECT_EQ(curve(Side::Incoming).keys[0].value, 0.62);
}

TEST_F(Lanes, ASegmentsShapeIsChosenFromItsMenu) {
    openPlunge();
    const FrameScale f = m_window->views().lanes->context()->frames();
    const QPointF on(f.xOf(-2.5), chart()->values().yOf(evaluate(curve(Side::Outgoing), -2.5)));
    whenShown<QMenu>([](QMenu* menu) {
        for (QAction* a : menu->actions())
            if (a->text() == "Ease in") {
                EXPECT_FALSE(a->icon().isNull()) << "shapes are drawn";
                a->trigger();
            }
        menu->close();
    });
    QContextMenuEvent event(QContextMenuEvent::Mouse, on.toPoint(), chart()->mapToGlobal(on.toPoint()));
    QApplication::sendEvent(chart(), &event);
    EXPECT_NEAR(shapeOf(curve(Side::Outgoing), 0)->x1, 0.42, 1e-9);
}

TEST_F(Lanes, TheRulerScrubsAndCtrlWheelZooms) {
    openPlunge();
    auto* ruler = m_window->views().lanes->findChild<QWidget*>("laneRuler");
    ASSERT_TRUE(ruler);
    click(ruler, {m_window->views().lanes->context()->frames().xOf(-3), 12});
    EXPECT_EQ(document().playhead(), 22);
    const double before = perFrame(), frame = m_window->views().lanes->context()->frames().frameAt(300);
    QWheelEvent wheel(QPointF(300, 40), chart()->mapToGlobal(QPointF(300, 40)), {}, {0, 240}, Qt::NoButton,
                      Qt::ControlModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(chart(), &wheel);
    EXPECT_GT(perFrame(), before * 1.2);
    EXPECT_NEAR(m_window->views().lanes->context()->frames().frameAt(300), frame, 1e-9);
    key(Qt::Key_0, Qt::ControlModifier);
    EXPECT_NEAR(perFrame(), before, 1e-9) << "fitted again";
}

TEST_F(Lanes, SlideHasTwoLanesAndCanBeSwitchedOff) {
    open(withOwnClips(withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.5, 8, -0.5, 0, 8)));
    EXPECT_TRUE(chart(0, 0));
    EXPECT_TRUE(chart(0, 1));
    EXPECT_FALSE(chart(1, 0));
    auto* eye = header()->eye();
    QTest::mouseClick(eye, Qt::LeftButton);
    EXPECT_FALSE(transitionAt(project(), 0).moves[0].enabled);
    QTest::mouseClick(eye, Qt::LeftButton);
    EXPECT_TRUE(transitionAt(project(), 0).moves[0].enabled);
}

} // namespace
} // namespace virga::test::lanes_test
