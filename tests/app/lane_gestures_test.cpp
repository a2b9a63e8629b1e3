// Every gesture of the lanes with real events, at two zoom levels of the axis; the project's numbers are checked after
// each.
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QMenu>
#include <QTimer>
#include <QToolButton>
#include <QWheelEvent>
#include <cmath>

#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lanes_view.h"
#include "app/lanes/speed_lane.h"
#include "app/window/notice_bar.h"
#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"
#include "core/plan/seen_speed.h"
#include "tests/app/window_fixture.h"

namespace virga::test::lane_gestures_test {
namespace {

class LaneGestures : public WindowTest, public testing::WithParamInterface<double> {
protected:
    // A zoom, a spin and a slide, the cut where the pointer can reach both sides.
    void openStacked() {
        Project p = withMove(plungeProject(), 0, MoveKind::Spin, 0, 0, -90, 8, 60, 0, 9);
        p = withMove(p, 0, MoveKind::Slide, 0, 0, 0.5, 6, -0.4, 0, 6);
        open(withOwnClips(p));
        LaneContext* context = m_window->views().lanes->context();
        context->setFrames(context->frames().zoomed(GetParam(), context->frames().xOf(0)));
        QCoreApplication::processEvents();
    }
    LaneContext& context() { return *m_window->views().lanes->context(); }
    LaneChart* chart(int move = 0, int channel = 0) { return m_window->views().lanes->chart(move, channel); }
    LaneHeader* header(int move = 0, int channel = 0) { return m_window->views().lanes->header(move, channel); }
    double perFrame() { return context().frames().pixelsPerFrame; }
    QPointF body(Side side, int k, int move = 0) { return chart(move)->keyPoint(side, k) + QPointF(0, -9); }
    CurveAddress at(Side side, int move = 0) { return {0, move, 0, side}; }
    QPointF onCurve(Side side, double t, int move = 0) {
        return {context().frames(side).xOf(t), chart(move)->values().yOf(evaluate(curve(side, move), t))};
    }
    void wheel(QWidget* widget, QPointF where, int turned, Qt::KeyboardModifiers modifiers) {
        QWheelEvent event(where, widget->mapToGlobal(where), {}, {0, turned}, Qt::NoButton, modifiers,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(widget, &event);
    }
    void setCurve(const CurveAddress& where, const Curve& c) {
        document().apply("set", withCurve(project(), where, c));
        document().undoStack()->setClean();
    }
    int steps() { return document().undoStack()->count(); }
};

INSTANTIATE_TEST_SUITE_P(Zooms, LaneGestures, testing::Values(1.0, 0.6));

TEST_P(LaneGestures, ClicksSelectOneSeveralAndARange) {
    openStacked();
    click(chart(), body(Side::Outgoing, 0));
    EXPECT_EQ(context().selected(), (KeySet{{at(Side::Outgoing), 0}}));
    click(chart(1), body(Side::Incoming, 0, 1), Qt::ControlModifier);
    EXPECT_EQ(context().selected().size(), 2u);
    click(chart(1), body(Side::Incoming, 0, 1), Qt::ControlModifier);
    EXPECT_EQ(context().selected(), (KeySet{{at(Side::Outgoing), 0}})) << "taken out again";
    click(chart(), body(Side::Outgoing, 1), Qt::ShiftModifier);
    EXPECT_EQ(context().selected().size(), 2u) << "all from the one to the other";
    click(chart(), body(Side::Outgoing, 1));
    EXPECT_EQ(context().selected(), (KeySet{{at(Side::Outgoing), 1}}));
    click(chart(), onCurve(Side::Outgoing, -2.5));
    EXPECT_EQ(context().selectedIn(at(Side::Outgoing)), (KeyGroup{0, 1})) << "a segment is its two keys";
    key(Qt::Key_Escape);
    EXPECT_TRUE(context().selected().empty());
    EXPECT_EQ(steps(), 0) << "selecting changes nothing";
}

TEST_P(LaneGestures, ABoxSelectsAcrossLanes) {
    openStacked();
    const QPointF from(body(Side::Outgoing, 0, 1).x() - 14, 3);
    const QPoint to = chart(1)->mapTo(m_window.get(), QPoint(int(body(Side::Outgoing, 1, 1).x()) - 1, 80));
    drag(chart(), from, chart()->mapFrom(m_window.get(), to) + QPointF(4, 0));
    EXPECT_EQ(context().selectedIn(at(Side::Outgoing)).size(), 2u);
    EXPECT_EQ(context().selectedIn(at(Side::Outgoing, 1)).size(), 2u);
    EXPECT_TRUE(context().box().isNull()) << "the box is gone again";
    const auto before = context().selected().size();
    drag(chart(), body(Side::Incoming, 1) + QPointF(-20, -14), body(Side::Incoming, 1) + QPointF(15, 14),
         Qt::ControlModifier);
    EXPECT_EQ(context().selected().size(), before + 1) << "Ctrl adds";
}

TEST_P(LaneGestures, SelectAllInALaneThenInAllLanes) {
    openStacked();
    click(chart(1), body(Side::Outgoing, 0, 1));
    key(Qt::Key_A, Qt::ControlModifier);
    EXPECT_EQ(context().selected().size(), 4u);
    key(Qt::Key_A, Qt::ControlModifier);
    EXPECT_EQ(context().selected().size(), 12u);
}

TEST_P(LaneGestures, SelectedKeysMoveTogetherInTimeAndTheirLaneInValue) {
    openStacked();
    click(chart(), body(Side::Outgoing, 0));
    click(chart(1), body(Side::Outgoing, 0, 1), Qt::ControlModifier);
    const double spin = curve(Side::Outgoing, 1).keys[0].value;
    drag(chart(), body(Side::Outgoing, 0), body(Side::Outgoing, 0) + QPointF(-2 * perFrame(), -15));
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -7);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[0].time, -10);
    EXPECT_GT(curve(Side::Outgoing).keys[0].value, 1.02);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[0].value, spin) << "values are each lane's own";
    EXPECT_EQ(steps(), 1);
    EXPECT_EQ(document().undoStack()->undoText(), "move keys");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -5);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[0].time, -8);
}

TEST_P(LaneGestures, KeysStayAFrameApart) {
    openStacked();
    drag(chart(), body(Side::Outgoing, 0), body(Side::Outgoing, 0) + QPointF(9 * perFrame(), 0));
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -1);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].value, 1);
}

TEST_P(LaneGestures, TimeClingsToKeysOfOtherLanes) {
    openStacked();
    setCurve(at(Side::Outgoing, 1), withKeyMoved(curve(Side::Outgoing, 1), 0, -7.4, 0));
    const double x = context().frames().xOf(-7.4);
    drag(chart(), body(Side::Outgoing, 0), QPointF(x + 2, body(Side::Outgoing, 0).y()));
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].time, -7.4, 1e-12);
    EXPECT_FALSE(context().guide()) << "the guide is gone with the drag";
}

TEST_P(LaneGestures, ValuesClingToTheOtherSideAtTheCut) {
    openStacked();
    const QPointF from = body(Side::Outgoing, 1);
    drag(chart(), from, {from.x(), chart()->values().yOf(0.62) - 9 + 2});
    EXPECT_EQ(curve(Side::Outgoing).keys[1].value, 0.62);
}

TEST_P(LaneGestures, CtrlLocksAnAxisAndShiftFreesTime) {
    openStacked();
    click(chart(), body(Side::Incoming, 1));
    drag(chart(), body(Side::Incoming, 1), body(Side::Incoming, 1) + QPointF(-2 * perFrame(), -17),
         Qt::ControlModifier);
    EXPECT_EQ(curve(Side::Incoming).keys[1].time, 10);
    EXPECT_EQ(curve(Side::Incoming).keys[1].value, 1) << "only the way that has gone farther";
    drag(chart(), body(Side::Incoming, 1), body(Side::Incoming, 1) + QPointF(-0.5 * perFrame(), 0), Qt::ShiftModifier);
    EXPECT_NEAR(curve(Side::Incoming).keys[1].time, 9.5, 0.1);
}

TEST_P(LaneGestures, ADraggedSegmentMovesItsTwoKeys) {
    openStacked();
    const QPointF from = onCurve(Side::Outgoing, -2.5);
    drag(chart(), from, from + QPointF(-3 * perFrame(), 0));
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -8);
    EXPECT_EQ(curve(Side::Outgoing).keys[1].time, -3);
    EXPECT_EQ(curve(Side::Outgoing).keys[1].value, 2.5);
}

TEST_P(LaneGestures, AHandleClingsToTheOtherSidesSpeed) {
    openStacked();
    click(chart(), body(Side::Incoming, 0));
    const auto ring = chart()->handlePoint(Side::Incoming, 0, true);
    ASSERT_TRUE(ring);
    const double speed = speedBefore(curve(Side::Outgoing), 0);
    const Curve& in = curve(Side::Incoming);
    const double reach = in.keys[0].leave.reach, duration = in.keys[1].time;
    const double y = chart()->values().yOfSpace(toSpace(0.62, Space::Log2) + speed * reach * duration);
    drag(chart(), *ring, {ring->x(), y + 2});
    EXPECT_NEAR(speedAfter(curve(Side::Incoming), 0), speed, 1e-9);
    EXPECT_EQ(document().undoStack()->undoText(), "bend curve");
    EXPECT_EQ(curve(Side::Incoming).keys[0].value, 0.62);
}

TEST_P(LaneGestures, TheSpeedIsPulledAndTheValuesFollow) {
    openStacked();
    const double t = -1, before = speedBefore(curve(Side::Outgoing), t);
    const QPointF on = chart()->speedPoint(Side::Outgoing, t);
    ASSERT_EQ(chart()->childAt(on.toPoint()), nullptr);
    const double perUnit = (chart()->height() - 1 - on.y()) / before;
    drag(chart(), on, on + QPointF(0, -10), Qt::ShiftModifier);
    EXPECT_NEAR(speedBefore(curve(Side::Outgoing), t), before + 10 / perUnit, 0.05 * before);
    EXPECT_GT(curve(Side::Outgoing).keys[1].value, 2.6);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].value, 1) << "where it rests stays";
    EXPECT_EQ(document().undoStack()->undoText(), "pull speed");
    EXPECT_EQ(steps(), 1);
}

TEST_P(LaneGestures, PulledAtTheCutTheSpeedClingsToTheOtherSide) {
    openStacked();
    const double out = speedBefore(curve(Side::Outgoing), 0);
    const QPointF on = chart()->speedPoint(Side::Incoming, 0.2 / perFrame() * 36);
    const double t = context().frames().frameAt(std::round(on.x()));
    ASSERT_LT(t, 0.5);
    const double height = (chart()->height() - 1 - on.y()) / speedAfter(curve(Side::Incoming), t) * out;
    drag(chart(), on, {on.x(), chart()->height() - 1 - height + 1});
    EXPECT_NEAR(speedAfter(curve(Side::Incoming), t), out, 1e-6);
    EXPECT_EQ(curve(Side::Incoming).keys.back().value, 1);
}

TEST_P(LaneGestures, TheOverallSpeedIsPulledAndEveryMoveFollows) {
    openStacked();
    SpeedChart* speeds = m_window->views().lanes->speedChart();
    const auto speed = [&](double t) { return SeenSpeeds(project(), context().place()).at(Side::Outgoing, t); };
    const double before = speed(-1);
    const double spin = curve(Side::Outgoing, 1).keys[1].value, slide = curve(Side::Outgoing, 2).keys[1].value;
    const QPointF on = speeds->pointAt(Side::Outgoing, -1);
    drag(speeds, on, on + QPointF(0, 8), Qt::ShiftModifier);
    EXPECT_LT(speed(-1), 0.95 * before);
    EXPECT_LT(curve(Side::Outgoing).keys[1].value, 2.5);
    EXPECT_GT(curve(Side::Outgoing, 1).keys[1].value, spin);
    EXPECT_LT(curve(Side::Outgoing, 2).keys[1].value, slide);
    EXPECT_EQ(steps(), 1);
    EXPECT_EQ(document().undoStack()->undoText(), "pull speed");
}

TEST_P(LaneGestures, ArrowsNudgeAllSelectedKeys) {
    openStacked();
    click(chart(), body(Side::Outgoing, 0));
    click(chart(1), body(Side::Outgoing, 0, 1), Qt::ControlModifier);
    key(Qt::Key_Left);
    key(Qt::Key_Left);
    key(Qt::Key_Up);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -7);
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].value, 1.05, 1e-9);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[0].time, -10);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[0].value, 5) << "a step of each channel";
    EXPECT_EQ(steps(), 1) << "nudges in a row are one step";
}

TEST_P(LaneGestures, TypedValuesGoToAllSelectedAndTimesToOne) {
    openStacked();
    click(chart(), body(Side::Outgoing, 0));
    click(chart(), body(Side::Incoming, 1), Qt::ControlModifier);
    for (const auto& [field, text] : {std::pair(1, "16/9"), std::pair(0, "14")}) {
        key(Qt::Key_Return);
        ASSERT_TRUE(waitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000));
        const auto fields = QApplication::activePopupWidget()->findChildren<NumberField*>();
        ASSERT_EQ(fields.size(), 2);
        type(fields[field], text); // Enter takes it and closes the fields
        ASSERT_TRUE(waitFor([] { return QApplication::activePopupWidget() == nullptr; }, 3000));
        chart()->setFocus();
    }
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].value, 16.0 / 9, 1e-12);
    EXPECT_NEAR(curve(Side::Incoming).keys[1].value, 16.0 / 9, 1e-12);
    EXPECT_EQ(curve(Side::Incoming).keys[1].time, 14);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -5);
    type(header(2)->field(Side::Outgoing, true), "5*320px"); // the frame is 320 wide
    EXPECT_EQ(curve(Side::Outgoing, 2).keys.back().value, 5);
    type(header(1)->field(Side::Incoming, false), "2 turns");
    EXPECT_EQ(curve(Side::Incoming, 1).keys.front().value, 720);
}

TEST_P(LaneGestures, KeysAreCopiedBetweenSidesLanesAndCuts) {
    openStacked();
    const Curve out = curve(Side::Outgoing);
    click(chart(), onCurve(Side::Outgoing, -2.5));
    key(Qt::Key_C, Qt::ControlModifier);
    key(Qt::Key_Escape);
    // Mirrored onto the other side: what was clicked last says where.
    click(chart(), {context().frames().xOf(8), 4});
    key(Qt::Key_V, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_EQ(curve(Side::Incoming).keys.front().value, 2.5);
    EXPECT_EQ(curve(Side::Incoming).keys.front().time, 0);
    EXPECT_EQ(context().selectedIn(at(Side::Incoming)), (KeyGroup{0, 1})) << "what was pasted is selected";
    key(Qt::Key_Z, Qt::ControlModifier);
    // At the playhead, on the incoming side.
    document().setPlayhead(25 + 3);
    key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(curve(Side::Incoming).keys[1].time, 3);
    EXPECT_EQ(curve(Side::Incoming).keys[2].value, 2.5);
    key(Qt::Key_Z, Qt::ControlModifier);
    // Into a lane of another unit: said, and nothing is changed.
    click(chart(1), {context().frames().xOf(-10), 4});
    key(Qt::Key_V, Qt::ControlModifier);
    EXPECT_TRUE(m_window->notice()->text().contains("do not fit")) << m_window->notice()->text().toStdString();
    EXPECT_EQ(curve(Side::Outgoing), out);
    // Pasted at another cut the move comes along.
    Project more = project();
    more.reel.push_back(more.reel[0]);
    more.reel[2].id = "clip-third";
    more.reel[2].transition.moves = {makeMove(MoveKind::Spin, "move-90")};
    document().apply("third", more);
    document().select({Selection::CutSelected, 1, {}});
    ASSERT_EQ(context().place(), StackPlace(1));
    key(Qt::Key_V, Qt::ControlModifier);
    ASSERT_EQ(transitionAt(project(), 1).moves.size(), 2u) << "a zoom beside the spin that was there";
    EXPECT_EQ(curveAt(project(), {1, 1, 0, Side::Outgoing}), out);
}

TEST_P(LaneGestures, CutOutAndDeleteTakeTheSelectedKeys) {
    openStacked();
    click(chart(), body(Side::Outgoing, 0));
    click(chart(1), body(Side::Incoming, 1, 1), Qt::ControlModifier);
    key(Qt::Key_Delete);
    EXPECT_EQ(curve(Side::Outgoing).keys.size(), 1u);
    EXPECT_EQ(curve(Side::Incoming, 1).keys.size(), 1u);
    EXPECT_EQ(project().reel.size(), 2u) << "and no clip";
    key(Qt::Key_Z, Qt::ControlModifier);
    click(chart(), body(Side::Outgoing, 0));
    key(Qt::Key_X, Qt::ControlModifier);
    EXPECT_EQ(curve(Side::Outgoing).keys.size(), 1u);
    EXPECT_TRUE(holdsKeys(QGuiApplication::clipboard()->text().toStdString()));
}

TEST_P(LaneGestures, TheAxisZoomsPansAndFits) {
    openStacked();
    const double frame = context().frames().frameAt(300), before = perFrame();
    wheel(chart(), {300, 40}, 240, Qt::ControlModifier);
    EXPECT_GT(perFrame(), 1.2 * before);
    EXPECT_NEAR(context().frames().frameAt(300), frame, 1e-9);
    const double zero = context().frames().zeroX;
    wheel(chart(), {300, 40}, 120, Qt::ShiftModifier);
    EXPECT_EQ(context().frames().zeroX, zero + 60);
    press(chart(), {400, 30}, {}, Qt::MiddleButton);
    QMouseEvent move(QEvent::MouseMove, QPointF(370, 30), chart()->mapToGlobal(QPointF(370, 30)), Qt::NoButton,
                     Qt::MiddleButton, {});
    QApplication::sendEvent(chart(), &move);
    release(chart(), {370, 30}, {}, Qt::MiddleButton);
    EXPECT_EQ(context().frames().zeroX, zero + 30);
    context().select(keysOf(project(), at(Side::Outgoing)));
    key(Qt::Key_9, Qt::ControlModifier);
    EXPECT_NEAR(context().frames().frameAt(0), -6, 1e-6);
    EXPECT_NEAR(context().frames().frameAt(m_window->views().lanes->width() - laneHeaderWidth), 1, 0.02)
        << "a frame around the selection";
    key(Qt::Key_0, Qt::ControlModifier);
    EXPECT_LT(context().frames().frameAt(0), -14);
}

TEST_P(LaneGestures, TheValueAxisIsHeldAndFitsItselfAgain) {
    openStacked();
    const ValueScale before = chart()->values();
    wheel(chart(), {300, 50}, 240, Qt::AltModifier);
    EXPECT_LT(chart()->values().high - chart()->values().low, 0.8 * (before.high - before.low));
    const ValueScale held = chart()->values();
    type(header()->field(Side::Outgoing, true), "6");
    EXPECT_EQ(chart()->values().high, held.high) << "held whatever the values are";
    QMenu menu;
    header()->fillMenu(&menu);
    for (QAction* a : menu.actions())
        if (a->text() == "Hold the value axis") {
            EXPECT_TRUE(a->isChecked());
            a->trigger();
        }
    EXPECT_GT(chart()->values().high, toSpace(6, Space::Log2)) << "fits itself again";
}

TEST_P(LaneGestures, ByKeyboardAlone) {
    openStacked();
    document().setPlayhead(25 - 5);
    key(Qt::Key_F7);
    EXPECT_EQ(context().selected(), (KeySet{{at(Side::Outgoing), 0}})) << "the key nearest to the playhead";
    key(Qt::Key_Right, Qt::AltModifier);
    EXPECT_EQ(context().active(), (KeyAddress{at(Side::Outgoing), 1}));
    key(Qt::Key_Left, Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(context().selected().size(), 2u);
    key(Qt::Key_Down, Qt::AltModifier);
    ASSERT_TRUE(context().active());
    EXPECT_EQ(context().active()->curve.move, 1) << "the lane below";
    key(Qt::Key_Up);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[0].value, 5);
    key(Qt::Key_Insert);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys.size(), 3u) << "a key at the playhead";
    EXPECT_EQ(curve(Side::Outgoing, 1).keys[1].time, -5);
    key(Qt::Key_Delete);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys.size(), 2u);
    // Handles: H takes hold of one, arrows bend, Escape lets go.
    key(Qt::Key_Up, Qt::AltModifier);
    const Key was = curve(Side::Outgoing).keys[0];
    key(Qt::Key_H);
    key(Qt::Key_Right);
    key(Qt::Key_Up);
    EXPECT_NEAR(curve(Side::Outgoing).keys[0].leave.reach, was.leave.reach + 0.02, 1e-9);
    EXPECT_GT(curve(Side::Outgoing).keys[0].leave.rise, was.leave.rise);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, was.time);
    key(Qt::Key_Escape);
    key(Qt::Key_Left);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, was.time - 1) << "the arrows are the key's again";
    // Speed.
    document().setPlayhead(25 - 1);
    const double speed = speedBefore(curve(Side::Outgoing), -1);
    key(Qt::Key_PageUp);
    EXPECT_GT(speedBefore(curve(Side::Outgoing), -1), speed);
    EXPECT_TRUE(chart()->accessibleDescription().contains("selected: frame −6") ||
                chart()->accessibleDescription().contains("selected: frame -6"))
        << chart()->accessibleDescription().toStdString();
    EXPECT_EQ(document().playhead(), 24) << "the window's own arrows were not moved";
    // The axes.
    const FrameScale frames = context().frames();
    key(Qt::Key_Plus, Qt::ControlModifier);
    EXPECT_NEAR(perFrame(), 1.25 * frames.pixelsPerFrame, 1e-9);
    EXPECT_NEAR(context().frames().xOf(-1), frames.xOf(-1), 1e-9) << "about the playhead";
    key(Qt::Key_Minus, Qt::ControlModifier);
    key(Qt::Key_PageDown, Qt::ControlModifier);
    EXPECT_LT(context().frames().zeroX, frames.zeroX - 100);
    const ValueScale values = chart()->values();
    key(Qt::Key_PageUp, Qt::AltModifier);
    EXPECT_NEAR(chart()->values().high - chart()->values().low, (values.high - values.low) / 1.2, 1e-9);
}

} // namespace
} // namespace virga::test::lane_gestures_test
