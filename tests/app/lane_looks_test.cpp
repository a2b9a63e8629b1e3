// How lanes are shown and ordered, other stacks than a cut's, and shapes tried on the piece.
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QStandardPaths>
#include <QTimer>
#include <QToolButton>

#include "app/commands/movement_commands.h"
#include "app/document/kept_shapes.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lanes_view.h"
#include "app/lanes/shape_field.h"
#include "app/lanes/shape_menu.h"
#include "app/lanes/speed_lane.h"
#include "core/check/flow.h"
#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"
#include "core/edit/layer_edits.h"
#include "core/plan/cut_match.h"
#include "tests/app/window_fixture.h"
#include "tests/support/projects.h"

namespace virga::test::lane_looks_test {
namespace {

class LaneLooks : public WindowTest {
protected:
    void openStacked() {
        Project p = withMove(plungeProject(), 0, MoveKind::Spin, 0, 0, -90, 8, 60, 0, 9);
        open(withOwnClips(withMove(p, 0, MoveKind::Slide, 0, 0, 0.5, 6, -0.4, 0, 6)));
    }
    LaneContext& context() { return *m_window->views().lanes->context(); }
    LaneChart* chart(int move = 0, int channel = 0) { return m_window->views().lanes->chart(move, channel); }
    LaneHeader* header(int move = 0, int channel = 0) { return m_window->views().lanes->header(move, channel); }
    const Stack& stack() { return *context().stack(); }
    std::string kinds() {
        std::string text;
        for (const Move& m : stack()) text += m.kindName + " ";
        return text;
    }
    ShapeField* field() { return qobject_cast<ShapeField*>(QApplication::activePopupWidget()); }
};

TEST_F(LaneLooks, FoldsAndUnfolds) {
    openStacked();
    const int tall = chart()->height();
    QTest::mouseClick(header()->fold(), Qt::LeftButton);
    EXPECT_TRUE(waitFor([&] { return chart()->height() == foldedHeight; }));
    EXPECT_EQ(header()->height(), foldedHeight);
    EXPECT_FALSE(header()->field(Side::Outgoing, true)->isVisible());
    EXPECT_GE(chart(1)->height(), laneHeight) << "the others keep their room";
    // Its keys can still be taken hold of, in time.
    const QPointF key(context().frames().xOf(-5), foldedHeight / 2);
    drag(chart(), key, key + QPointF(-2 * context().frames().pixelsPerFrame, 9));
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -7);
    EXPECT_EQ(curve(Side::Outgoing).keys[0].value, 1);
    QTest::mouseClick(header()->fold(), Qt::LeftButton);
    EXPECT_TRUE(waitFor([&] { return chart()->height() == tall; }));
    EXPECT_EQ(document().undoStack()->count(), 1) << "folding is no step";
}

TEST_F(LaneLooks, IsResizedByItsLowerEdge) {
    openStacked();
    const int tall = header()->height();
    drag(header(), {40, tall - 2.0}, {40, tall + 38.0});
    EXPECT_TRUE(waitFor([&] { return header()->height() == tall + 40; }));
    EXPECT_EQ(chart()->height(), tall + 40);
}

TEST_F(LaneLooks, MovesAreReorderedByDragAndByMenu) {
    openStacked();
    ASSERT_EQ(kinds(), "zoom spin slide ");
    const QPoint below = header()->mapFromGlobal(header(1)->mapToGlobal(QPoint(90, header(1)->height() - 12)));
    drag(header(), {90, 10}, below);
    EXPECT_EQ(kinds(), "spin zoom slide ");
    EXPECT_EQ(document().undoStack()->undoText(), "reorder moves");
    QMenu menu;
    header(1)->fillMenu(&menu);
    for (QAction* a : menu.actions())
        if (a->text() == "Move up") a->trigger();
    EXPECT_EQ(kinds(), "zoom spin slide ");
}

TEST_F(LaneLooks, SoloLeavesOnlyThatMoveAndFlowSaysSo) {
    openStacked();
    const Size size = project().settings.size;
    QTest::mouseClick(header(1)->solo(), Qt::LeftButton);
    EXPECT_TRUE(stack()[1].solo);
    EXPECT_NEAR(velocitiesAtCut(project(), 0).speedOut, seenSpeedOf({stack()[1]}, Side::Outgoing, -1, size), 1e-9);
    EXPECT_FALSE(chart()->picture().on) << "the others are dimmed";
    EXPECT_TRUE(chart(1)->picture().on);
    const CutFlow flow = flowAtCut(project(), 0);
    const auto solo =
        std::find_if(flow.findings.begin(), flow.findings.end(), [](const Finding& f) { return f.name == "solo"; });
    ASSERT_NE(solo, flow.findings.end());
    document().apply("fix", solo->fixes[0].apply(project()).value());
    EXPECT_FALSE(stack()[1].solo);
    EXPECT_TRUE(chart()->picture().on);
}

TEST_F(LaneLooks, NeighboursAreSeenAsGhosts) {
    Project p = plungeProject();
    p.reel.push_back(p.reel[0]);
    p.reel[2].id = "clip-third";
    p.reel[2].transition = {};
    p = withMove(p, 1, MoveKind::Zoom, 0, 1, 3, 6, 0.5, 1, 6);
    open(withOwnClips(p));
    document().select({Selection::CutSelected, 0, {}});
    ASSERT_EQ(chart()->picture().ghosts.size(), 1u);
    EXPECT_EQ(chart()->picture().ghosts[0].frame, 25) << "where the incoming clip ends";
    EXPECT_EQ(chart()->picture().ghosts[0].curve, curveAt(project(), {1, 0, 0, Side::Outgoing}));
    document().select({Selection::CutSelected, 1, {}});
    ASSERT_EQ(chart()->picture().ghosts.size(), 1u);
    EXPECT_EQ(chart()->picture().ghosts[0].frame, -25);
}

TEST_F(LaneLooks, AClipsOwnLanesHaveTheSameEditor) {
    openStacked();
    document().select({Selection::ClipSelected, 1, {}});
    ASSERT_EQ(context().place(), (StackPlace{StackPlace::Drift, 1}));
    EXPECT_FALSE(chart());
    QTest::mouseClick(button("Add zoom"), Qt::LeftButton);
    ASSERT_TRUE(chart());
    EXPECT_EQ(header()->field(Side::Outgoing, true), nullptr) << "a drift has one side";
    type(header()->field(Side::Incoming, true), "120%");
    const CurveAddress at{{StackPlace::Drift, 1}, 0, 0, Side::Incoming};
    EXPECT_NEAR(curveAt(project(), at).keys.back().value, 1.2, 1e-12);
    EXPECT_EQ(curveAt(project(), at).keys.back().time, 25) << "over the whole clip";
    const QPointF key = chart()->keyPoint(Side::Incoming, 1) + QPointF(0, -9);
    drag(chart(), key, key + QPointF(-5 * context().frames().pixelsPerFrame, 0));
    EXPECT_EQ(curveAt(project(), at).keys.back().time, 20);
    EXPECT_EQ(document().cut(), 0) << "the ladder and the flow stay at the clip's cut";
    document().select({Selection::CutSelected, 0, {}});
    EXPECT_TRUE(chart(2, 0)) << "and the cut's lanes are back";
    settle(); // what is drawn is what is rendered
    EXPECT_NE(movementOf(project().reel[1].drift, Side::Incoming, 10, {320, 180}), ScreenMap());
}

TEST_F(LaneLooks, AnOverlaysExitCountsFromItsEnd) {
    Project p = withOwnClips(plungeProject());
    Clip clip = p.reel[0];
    clip.id.clear();
    clip.length = 20;
    clip.transition = {};
    Overlay overlay{clip, 5, 0};
    p = withOverlayPut(p, overlay);
    p = withMoveAdded(p, {StackPlace::Overlay, 0}, MoveKind::Zoom);
    open(p);
    document().select({Selection::OverlaySelected, 0, {}});
    ASSERT_TRUE(chart());
    type(header()->field(Side::Incoming, false), "0.5");
    type(header()->field(Side::Outgoing, true), "2");
    const CurveAddress out{{StackPlace::Overlay, 0}, 0, 0, Side::Outgoing};
    EXPECT_EQ(curveAt(project(), out).keys.front().time, -8);
    EXPECT_NEAR(chart()->keyPoint(Side::Outgoing, 0).x(), context().frames().xOf(12), 1e-6)
        << "eight frames before its end at 20";
    const QPointF key = chart()->keyPoint(Side::Outgoing, 0) + QPointF(0, -9);
    drag(chart(), key, key + QPointF(-3 * context().frames().pixelsPerFrame, 0));
    EXPECT_EQ(curveAt(project(), out).keys.front().time, -11);
}

TEST_F(LaneLooks, ShapesInTheMenuAreTriedLive) {
    openStacked();
    const Curve before = curve(Side::Outgoing);
    const QPointF on(context().frames().xOf(-2.5), chart()->values().yOf(evaluate(before, -2.5)));
    Curve tried, after;
    const auto menuWith = [&](bool take) {
        whenShown<QMenu>([&, take](QMenu* menu) {
            for (QAction* a : menu->actions())
                if (a->text() == "Ease in") {
                    menu->setActiveAction(a); // as the pointer does
                    QCoreApplication::processEvents();
                    tried = curve(Side::Outgoing);
                    if (take) QTest::keyClick(menu, Qt::Key_Return);
                }
            menu->close();
        });
        QContextMenuEvent event(QContextMenuEvent::Mouse, on.toPoint(), chart()->mapToGlobal(on.toPoint()));
        QApplication::sendEvent(chart(), &event);
    };
    menuWith(false);
    EXPECT_EQ(easingLike(tried, 0, 1)->name, "ease-in") << "while it is pointed at";
    EXPECT_EQ(curve(Side::Outgoing), before) << "left without choosing";
    EXPECT_EQ(document().undoStack()->count(), 0);
    menuWith(true);
    EXPECT_EQ(easingLike(curve(Side::Outgoing), 0, 1)->name, "ease-in");
    EXPECT_EQ(document().undoStack()->undoText(), "shape ease in");
}

TEST_F(LaneLooks, TheShapeFieldTriesTakesAndBringsBack) {
    openStacked();
    const Curve before = curve(Side::Incoming);
    QTest::mouseClick(header()->chip(Side::Incoming), Qt::LeftButton);
    ASSERT_TRUE(field());
    auto* bounce = field()->tile("Bounce out");
    ASSERT_TRUE(bounce);
    QEnterEvent enter(QPointF(5, 5), QPointF(5, 5), bounce->mapToGlobal(QPointF(5, 5)));
    QApplication::sendEvent(bounce, &enter);
    EXPECT_EQ(curve(Side::Incoming).keys.size(), 5u) << "tried at once";
    EXPECT_TRUE(waitFor([this] { return field()->preview()->framesThere() == 14; }, 15000))
        << "the move itself is shown";
    auto* css = field()->findChildren<QLineEdit*>().front();
    EXPECT_TRUE(css->text().startsWith("linear(")) << css->text().toStdString();
    css->setFocus(); // on the way to the text nothing is tried any more
    EXPECT_EQ(curve(Side::Incoming), before);
    EXPECT_EQ(css->text(), "cubic-bezier(0.12, 0.5, 0.4, 1)");
    QTest::keyClick(field(), Qt::Key_Escape);
    QCoreApplication::processEvents();
    EXPECT_FALSE(field());
    EXPECT_EQ(curve(Side::Incoming), before);
    // By keyboard alone.
    context().select(keysOf(project(), {0, 0, 0, Side::Incoming}));
    key(Qt::Key_H, Qt::ControlModifier);
    ASSERT_TRUE(field());
    EXPECT_EQ(qobject_cast<QAbstractButton*>(field()->focusWidget())->text(), "Arrive") << "the present one";
    QTest::keyClick(field()->focusWidget(), Qt::Key_Right);
    QTest::keyClick(field()->focusWidget(), Qt::Key_Return);
    EXPECT_EQ(easingLike(curve(Side::Incoming), 0, 1)->name, "arrive-hard");
    EXPECT_EQ(document().undoStack()->undoText(), "shape arrive, hard");
    EXPECT_EQ(document().undoStack()->count(), 1);
}

TEST_F(LaneLooks, CssTextGoesInAndOut) {
    openStacked();
    context().select(keysOf(project(), {0, 0, 0, Side::Outgoing}));
    key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "cubic-bezier(0.6, 0, 0.88, 0.5)");
    QGuiApplication::clipboard()->setText("linear(0, 0.1 40%, 0.3 70%, 1)");
    key(Qt::Key_V, Qt::ControlModifier);
    ASSERT_EQ(curve(Side::Outgoing).keys.size(), 4u);
    EXPECT_NEAR(toSpace(curve(Side::Outgoing).keys[1].value, Space::Log2), 0.1 * toSpace(2.5, Space::Log2), 1e-9);
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_H, Qt::ControlModifier);
    ASSERT_TRUE(field());
    auto* css = field()->findChildren<QLineEdit*>().front();
    css->setFocus();
    css->setText("cubic-bezier(2, 0, 1, 1)");
    QTest::keyClick(css, Qt::Key_Return);
    ASSERT_TRUE(field()) << "what is wrong stays to be mended";
    bool said = false;
    for (auto* l : field()->findChildren<QLabel*>()) said = said || l->text().contains("between 0 and 1");
    EXPECT_TRUE(said);
    css->setText("ease-in");
    QTest::keyClick(css, Qt::Key_Return);
    EXPECT_EQ(easingLike(curve(Side::Outgoing), 0, 1)->name, "ease-in");
}

TEST_F(LaneLooks, OwnShapesAreKept) {
    openStacked();
    const Easing own = easingOf(Shape{Interpolation::Eased, 0.3, 0.2, 0.6, 1.1});
    document().apply("own",
                     withCurve(project(), {0, 0, 0, Side::Outgoing}, withEasing(curve(Side::Outgoing), 0, 1, own)));
    context().select(keysOf(project(), {0, 0, 0, Side::Outgoing}));
    key(Qt::Key_H, Qt::ControlModifier);
    ASSERT_TRUE(field());
    auto* name = field()->findChildren<QLineEdit*>().back();
    name->setText("Quay swing");
    QTest::keyClick(name, Qt::Key_Return);
    ASSERT_TRUE(field()->tile("Quay swing"));
    field()->close();
    KeptShapes again(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + "/shapes.json");
    ASSERT_FALSE(again.all().empty()) << "in the file, for the next session";
    EXPECT_EQ(again.all().back().name, "Quay swing");
    EXPECT_TRUE(isLike(again.all().back().easing, own, 1e-12));
    EXPECT_TRUE(KeptShapes::instance().forget("Quay swing"));
}

TEST_F(LaneLooks, UnreadableOwnShapesArePutAside) {
    const QString path = at("shapes.json");
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(R"({"shapes":[{"name":"good","keys":[{"time":0,"way":0},{"time":1,"way":1}]},
                             {"name":"bad","keys":[{"time":0,"way":0}]}]})");
    file.close();
    KeptShapes shapes(path);
    ASSERT_EQ(shapes.all().size(), 1u);
    EXPECT_TRUE(shapes.problem().contains(path)) << shapes.problem().toStdString();
    EXPECT_TRUE(QFile::exists(path + ".unreadable"));
}

TEST_F(LaneLooks, MatchAllMakesTheWholePictureCarryOn) {
    openStacked();
    ASSERT_GT(velocitiesAtCut(project(), 0).difference, 1);
    QTest::mouseClick(button("match all"), Qt::LeftButton);
    const CutVelocities matched = velocitiesAtCut(project(), 0);
    EXPECT_LT(matched.difference, 0.01 * matched.speedOut);
    EXPECT_NEAR(matched.speedOut, matched.speedIn, 0.01 * matched.speedOut);
    EXPECT_EQ(document().undoStack()->undoText(), "match all speeds");
}

// Where the check counts what the shots do by themselves, so does the button.
TEST_F(LaneLooks, MatchAllMakesUpForTheShotsWhereTheyAreJudged) {
    openStacked();
    setWithShots(document(), true);
    auto shots = std::make_shared<ShotMovements>();
    (*shots)[project().reel[0].mediaId] = shotMovement([](int) { return TurnZoomSlide{1, 0, {-0.01, 0}}; });
    (*shots)[project().reel[1].mediaId] = shotMovement([](int) { return TurnZoomSlide{}; });
    document().setShots(shots);
    QTest::mouseClick(button("match all"), Qt::LeftButton);
    const CutVelocities seen = velocitiesAtCut(project(), reelIndex(project()), 0, shots.get());
    ASSERT_TRUE(seen.ownKnown);
    EXPECT_LT(seen.difference, 0.01 * seen.speedOut);
    EXPECT_GT(velocitiesAtCut(project(), 0).difference, 0.5) << "the moves alone are not what is judged";
}

TEST_F(LaneLooks, MatchesByTheStartValueToo) {
    openStacked();
    QMenu menu;
    header()->fillMenu(&menu);
    for (QAction* a : menu.actions())
        if (a->text() == "Match speed by the start value") a->trigger();
    EXPECT_NEAR(changeOver(curve(Side::Incoming), 0), changeOver(curve(Side::Outgoing), -1), 1e-8);
    EXPECT_LT(curve(Side::Incoming).keys[0].value, 0.62);
    EXPECT_EQ(curve(Side::Incoming).keys[1].value, 1);
}

TEST_F(LaneLooks, KeyCommandsOfTheMenu) {
    openStacked();
    const CurveAddress out{0, 0, 0, Side::Outgoing};
    const auto run = [this](const char* text) {
        ASSERT_TRUE(action(text)) << text;
        action(text)->trigger();
    };
    EXPECT_FALSE(action("Reverse in time")->isEnabled()) << "nothing is selected";
    context().select(keysOf(project(), out));
    EXPECT_TRUE(action("Reverse in time")->isEnabled());
    run("Reverse in time");
    EXPECT_EQ(curve(Side::Outgoing).keys[0].value, 2.5);
    run("Reverse in time");
    run("Flip in value");
    EXPECT_NEAR(curve(Side::Outgoing).keys[1].value, 0.4, 1e-12);
    run("Flip in value");
    run("To double");
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -10) << "about the key at the cut";
    run("Spread to the whole clip");
    EXPECT_EQ(curve(Side::Outgoing).keys[0].time, -25);
    EXPECT_EQ(curve(Side::Outgoing).keys[1].time, 0);
    run("Last key one frame past the cut");
    EXPECT_EQ(curve(Side::Outgoing).keys[1].time, 1);
    run("Carry on at the other side");
    EXPECT_NEAR(curve(Side::Incoming).keys[0].value, 0.4, 1e-12);
    EXPECT_EQ(curve(Side::Incoming).keys[0].time, -1);
}

} // namespace
} // namespace virga::test::lane_looks_test
