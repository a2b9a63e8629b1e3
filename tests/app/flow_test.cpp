// Flow in the window: fixes tried out by pointing, the list of the reel, mending, carrying on, limits, the flow line.
#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QTreeWidget>

#include "app/flow/finding_card.h"
#include "app/flow/flow_panel.h"
#include "app/ladder/ladder_view.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/window/notice_bar.h"
#include "core/recipe/recipe.h"
#include "tests/app/window_fixture.h"

namespace virga::test::flow_test {
namespace {

class FlowWindow : public WindowTest {
protected:
    FlowPanel* panel() { return m_window->findChild<FlowPanel*>(); }
    bool says(const QString& words) {
        for (auto* l : panel()->findChildren<QLabel*>())
            if (l->isVisible() && l->text().contains(words)) return true;
        return false;
    }
    bool soonSays(const QString& words) {
        return waitFor([&] { return says(words); }, 5000);
    }
    // Three clips; the second and third cut have no moves yet.
    Project threeClips() {
        Project p = withRecipe(withOwnClips(twoClips()), 0, *findRecipe("half-slide"));
        for (const char* id : {"clip-98", "clip-99"}) {
            Clip more = p.reel[0];
            more.id = id, more.transition = {};
            p.reel.push_back(more);
        }
        return p;
    }
};

TEST_F(FlowWindow, PointingAtAFixTriesItOutAndLeavingItTakesItBack) {
    openPlunge();
    ASSERT_TRUE(soonSays("Speed drops at the cut"));
    settle();
    auto* picture = m_window->findChild<PictureView*>();
    document().setPlayhead(25);
    settle();
    const QImage before = picture->image().copy();
    const Snapshot project = document().project();
    auto* fix = qobject_cast<FixButton*>(button("By start value"));
    ASSERT_TRUE(fix);
    QEnterEvent enter(QPointF(5, 5), QPointF(5, 5), fix->mapToGlobal(QPointF(5, 5)));
    QApplication::sendEvent(fix, &enter);
    ASSERT_TRUE(waitFor([&] { return document().isTrying(); }, 5000));
    settle();
    EXPECT_EQ(document().project()->reel, project->reel) << "nothing is changed";
    EXPECT_EQ(document().undoStack()->count(), 0);
    EXPECT_NE(picture->image(), before) << "and it is seen in the Picture";
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(fix, &leave);
    EXPECT_FALSE(document().isTrying());
    settle();
    EXPECT_EQ(picture->image(), before);
    QTest::mouseClick(fix, Qt::LeftButton);
    EXPECT_EQ(document().undoStack()->undoText(), "by start value");
    EXPECT_FALSE(document().isTrying());
}

TEST_F(FlowWindow, AKeyboardUserTriesFixesByGoingThroughThem) {
    openPlunge();
    ASSERT_TRUE(soonSays("Speed drops at the cut"));
    auto* fix = qobject_cast<FixButton*>(button("Match speed"));
    ASSERT_TRUE(fix);
    fix->setFocus(Qt::TabFocusReason);
    EXPECT_TRUE(waitFor([&] { return document().isTrying(); }, 5000));
    m_window->findChild<PictureView*>()->setFocus();
    fix->clearFocus();
    EXPECT_FALSE(document().isTrying());
}

TEST_F(FlowWindow, TheWholeReelIsAListThatArrowKeysGoThrough) {
    Project p = threeClips();
    Transition turned = transitionAt(p, 0);
    Curve& in = turned.moves[0].channels[1].incoming;
    in.keys[0].value = -in.keys[0].value, in.keys[0].leave.rise *= -1, in.keys[1].arrive.rise *= -1;
    for (int cut : {0, 2}) p = withTransition(p, cut, turned);
    open(p);
    ASSERT_TRUE(soonSays("turns back"));
    m_window->activateWindow();
    action("All findings of the reel")->trigger();
    EXPECT_TRUE(panel()->showsReel());
    EXPECT_TRUE(says("Flow of the reel"));
    auto* list = m_window->findChild<QTreeWidget*>("findings");
    ASSERT_GE(list->topLevelItemCount(), 2);
    EXPECT_TRUE(list->topLevelItem(0)->text(0).contains("turns back")) << "the gravest first";
    list->setCurrentItem(list->topLevelItem(0));
    EXPECT_EQ(document().cut(), 0);
    QTest::keyClick(list, Qt::Key_Down);
    EXPECT_EQ(document().cut(), 2);
    EXPECT_EQ(document().playhead(), cutFrame(project(), 2));
    EXPECT_TRUE(button("Turn it round")) << "with its fixes beneath";
    QTest::mouseClick(button("Turn it round"), Qt::LeftButton);
    EXPECT_TRUE(waitFor([&] { return list->topLevelItem(0)->text(0).startsWith("cut 1"); }, 5000));
    action("Findings at this cut")->trigger();
    EXPECT_FALSE(panel()->showsReel());
}

// A finding of an overlay stands in the list of the reel; it leads there, and its fixes hold.
TEST_F(FlowWindow, AnOverlayFullOfCopiesIsFoundAndMended) {
    Project p = withOwnClips(twoClips());
    Overlay lamp;
    lamp.clip = p.reel[1];
    lamp.clip.id = "above", lamp.clip.name = "Lamp", lamp.clip.length = 12;
    lamp.clip.edges = EdgeFill::Mirror, lamp.clip.placement.scale = 0.5;
    lamp.start = 5;
    p.overlays.push_back(lamp);
    open(p);
    m_window->activateWindow();
    action("All findings of the reel")->trigger();
    auto* list = m_window->findChild<QTreeWidget*>("findings");
    const auto row = [&]() -> QTreeWidgetItem* {
        for (int i = 0; i < list->topLevelItemCount(); ++i)
            if (list->topLevelItem(i)->text(0).contains("Copies fill 75 % of Lamp")) return list->topLevelItem(i);
        return nullptr;
    };
    ASSERT_TRUE(waitFor([&] { return row() != nullptr; }, 5000));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(row()).center());
    EXPECT_EQ(document().selection().kind, Selection::OverlaySelected);
    EXPECT_EQ(document().playhead(), 5);
    QTest::mouseClick(button("Leave its edges empty"), Qt::LeftButton);
    EXPECT_EQ(project().overlays[0].clip.edges, EdgeFill::Empty);
    EXPECT_TRUE(waitFor([&] { return row() == nullptr; }, 5000));
}

TEST_F(FlowWindow, MendsAllThatIsSafeAsOneStepAndSaysWhatItDid) {
    Project p = withOwnClips(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, -90, 8, -90, 0, 8));
    p.settings.edges = EdgeFill::Empty;
    open(p);
    ASSERT_TRUE(soonSays("Spin turns back"));
    ASSERT_TRUE(soonSays("A bare edge shows"));
    QTest::mouseClick(button("Mend all that is safe"), Qt::LeftButton);
    ASSERT_TRUE(soonSays("Mended 3 faults")) << "turned round, it jumps, and is matched";
    EXPECT_TRUE(says("Turn it round"));
    EXPECT_EQ(document().undoStack()->count(), 1);
    EXPECT_TRUE(soonSays("Spin carries on in one direction"));
    EXPECT_FALSE(button("Mend all that is safe")->isEnabled()) << "nothing is left to mend";
    QTest::mouseClick(button("Undo"), Qt::LeftButton);
    EXPECT_TRUE(soonSays("Spin turns back"));
}

TEST_F(FlowWindow, CarriesTheMovementOnToTheNextCut) {
    open(threeClips());
    settle();
    QPushButton* on = nullptr;
    ASSERT_TRUE(waitFor(
        [&] {
            for (auto* b : panel()->findChildren<QPushButton*>())
                if (b->isVisible() && b->text().startsWith("Continue at cut 2")) on = b;
            return on != nullptr;
        },
        5000));
    EXPECT_TRUE(on->text().contains("slide y goes up")) << on->text().toStdString();
    QTest::mouseClick(on, Qt::LeftButton);
    EXPECT_EQ(document().cut(), 1);
    ASSERT_EQ(transitionAt(project(), 1).moves.size(), 1u);
    EXPECT_EQ(transitionAt(project(), 1).moves[0].kind, MoveKind::Slide);
    EXPECT_EQ(document().undoStack()->undoText(), "continue the movement");
}

TEST_F(FlowWindow, AKindIsIgnoredInTheWholeProjectAndReportedAgain) {
    openPlunge();
    ASSERT_TRUE(soonSays("Speed drops at the cut"));
    auto* card = panel()->findChild<FindingCard*>();
    QContextMenuEvent menu(QContextMenuEvent::Mouse, QPoint(20, 10), card->mapToGlobal(QPoint(20, 10)));
    QApplication::sendEvent(card, &menu);
    QAction* everywhere = nullptr;
    for (auto* a : card->findChildren<QAction*>())
        if (a->text().contains("whole project")) everywhere = a;
    ASSERT_TRUE(everywhere);
    everywhere->trigger();
    EXPECT_TRUE(waitFor([&] { return !says("Speed drops"); }, 5000));
    EXPECT_EQ(project().settings.ignored.size(), 1u);
    for (QWidget* w : QApplication::topLevelWidgets()) // the menu
        if (w->inherits("QMenu")) w->close();
    inDialog(
        [&](QDialog* dialog) {
            for (auto* b : dialog->findChildren<QPushButton*>())
                if (b->text() == "Report all again") QTest::mouseClick(b, Qt::LeftButton);
            dialog->accept();
        },
        [&] { action("Limits of the check…")->trigger(); });
    EXPECT_TRUE(soonSays("Speed drops at the cut"));
}

TEST_F(FlowWindow, LimitsAreSetInTheProject) {
    openPlunge();
    ASSERT_TRUE(soonSays("Speed drops at the cut"));
    inDialog(
        [&](QDialog* dialog) {
            NumberField* step = nullptr;
            for (auto* f : dialog->findChildren<NumberField*>())
                if (f->accessibleName() == "a step in speed") step = f;
            ASSERT_TRUE(step);
            type(step, "9");
            dialog->accept();
        },
        [&] { action("Limits of the check…")->trigger(); });
    EXPECT_EQ(project().settings.flow.step, 9);
    EXPECT_TRUE(waitFor([&] { return !says("Speed drops"); }, 5000));
    document().undoStack()->undo();
    EXPECT_EQ(project().settings.flow.step, FlowLimits().step);
}

TEST_F(FlowWindow, MovesArePlannedForTheReelAndTakenCutByCut) {
    Project p = threeClips();
    p.reel[1].transition.moves.clear();
    open(p);
    settle();
    inDialog(
        [&](QDialog* dialog) {
            auto* list = dialog->findChild<QListWidget*>();
            ASSERT_TRUE(waitFor([&] { return list->count() == 3; })) << "planned in the background";
            list->setCurrentRow(1);
            EXPECT_TRUE(document().isTrying()) << "it is shown before it is taken";
            list->item(2)->setCheckState(Qt::Unchecked);
            for (auto* b : dialog->findChildren<QPushButton*>())
                if (b->text() == "Take the ticked ones") QTest::mouseClick(b, Qt::LeftButton);
        },
        [&] { action("Plan moves…")->trigger(); });
    EXPECT_FALSE(document().isTrying());
    EXPECT_FALSE(transitionAt(project(), 0).moves.empty());
    EXPECT_FALSE(transitionAt(project(), 1).moves.empty());
    EXPECT_TRUE(transitionAt(project(), 2).moves.empty());
    EXPECT_EQ(document().undoStack()->undoText(), "plan moves");
}

TEST_F(FlowWindow, TheFlowLineShowsSpeedsAndAClickGoesThere) {
    openPlunge();
    settle();
    auto* reel = m_window->findChild<ReelView*>();
    const QRectF band = reel->bands().flow;
    ASSERT_FALSE(band.isEmpty());
    const double x = reel->scale().xOf(24.5);
    const QImage shown = reel->grab().toImage();
    // The line at the cut is amber or aqua, and stands higher than at the reel's start.
    const auto topOf = [&](double at) {
        for (int y = int(band.top()); y < int(band.bottom()); ++y)
            for (int dx = -2; dx <= 2; ++dx) {
                const QColor c = shown.pixelColor(int(at) + dx, y);
                if (c.saturation() > 110 && c.value() > 150) return y;
            }
        return int(band.bottom());
    };
    EXPECT_LT(topOf(x), topOf(reel->scale().xOf(5)) - 4);
    click(reel, {reel->scale().xOf(12.5), band.center().y()});
    EXPECT_NEAR(double(document().playhead()), 12, 1);
    const QRectF clips = reel->bands().clips;
    action("Flow line")->trigger();
    EXPECT_TRUE(reel->bands().flow.isEmpty());
    EXPECT_GT(reel->bands().clips.height(), clips.height()) << "its room goes to the clips";
    action("Flow line")->trigger();
    action("Flow line of each channel")->trigger();
    EXPECT_NE(reel->grab().toImage(), shown);
}

// The check runs behind: what is painted meanwhile is of a longer reel, or of shorter clips.
TEST_F(FlowWindow, AReelThatBecomesShorterIsPaintedBeforeItIsCheckedAnew) {
    openPlunge();
    Project longer = project();
    for (int i = 0; i < 6; ++i) {
        Clip more = longer.reel[1];
        more.id = "more-" + std::to_string(i);
        longer.reel.push_back(more);
    }
    document().apply("lengthen", longer);
    settle();
    Project shorter = longer;
    shorter.reel.resize(2);
    document().apply("shorten", shorter);
    m_window->views().reel->repaint();
    document().undoStack()->undo();
    m_window->views().reel->repaint();
    Project extended = longer;
    extended.reel[0].length += 20;
    document().apply("extend", extended);
    const QRectF r = m_window->views().reel->clipRect(0);
    moveTo(m_window->views().reel, {r.right() - 3, m_window->views().reel->bands().flow.center().y()});
    m_window->views().reel->repaint();
    settle();
    EXPECT_EQ(int(project().reel.size()), 8);
}

} // namespace
} // namespace virga::test::flow_test
