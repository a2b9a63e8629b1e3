// Adding, keying, ordering and setting up moves and finishing, at a cut, on a clip, an overlay and an adjustment.
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QToolButton>

#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lanes_view.h"
#include "app/lanes/move_menu.h"
#include "app/lanes/parameter_panel.h"
#include "app/playback/player.h"
#include "app/style/moving_tile.h"
#include "core/edit/layer_edits.h"
#include "core/plan/plan.h"
#include "tests/app/window_fixture.h"

namespace virga::test::finishing_test {
namespace {

class Finishing : public WindowTest {
protected:
    MoveMenu* openMenu() {
        QTest::mouseClick(m_window->views().lanes->addButton(), Qt::LeftButton);
        MoveMenu* menu = nullptr;
        waitFor([&] { return (menu = qobject_cast<MoveMenu*>(QApplication::activePopupWidget())) != nullptr; }, 2000);
        return menu;
    }
    void add(MoveKind kind, Qt::KeyboardModifiers modifiers = {}) {
        MoveMenu* menu = openMenu();
        ASSERT_TRUE(menu);
        ASSERT_TRUE(menu->tile(kind));
        QTest::mouseClick(menu->tile(kind), Qt::LeftButton, modifiers);
        QTest::qWait(20);
    }
    const Stack& stack() { return *m_window->views().lanes->context()->stack(); }
    LaneHeader* header(int move, int channel = 0) { return m_window->views().lanes->header(move, channel); }
    LaneChart* chart(int move, int channel = 0) { return m_window->views().lanes->chart(move, channel); }
    ParameterPanel* unfolded(int move) {
        QTest::mouseClick(header(move)->unfold(), Qt::LeftButton);
        QTest::qWait(30);
        return header(move)->parameters();
    }
};

TEST_F(Finishing, TheFieldAddsWhatItsPictureShows) {
    openPlunge();
    MoveMenu* menu = openMenu();
    ASSERT_TRUE(menu);
    EXPECT_TRUE(waitFor([&] { return menu->tile(MoveKind::Glow)->hasFrame(3); })) << "pictures of the cut's own shots";
    QTest::mouseClick(menu->tile(MoveKind::Blur), Qt::LeftButton);
    ASSERT_EQ(stack().size(), 2u);
    EXPECT_EQ(stack()[1].kind, MoveKind::Blur);
    EXPECT_EQ(curve(Side::Outgoing, 1).keys.back().value, moveInfo(MoveKind::Blur).channels[0].usual);
    EXPECT_EQ(curve(Side::Incoming, 1).keys.back().value, 0) << "and is gone again";
    EXPECT_EQ(document().undoStack()->undoText(), "add blur");
    const auto at = cutFrame(project(), 0);
    EXPECT_FALSE(planFrame(project(), at).layers[0].treatments.empty());
    add(MoveKind::Glow, Qt::ShiftModifier);
    ASSERT_EQ(stack().size(), 3u);
    EXPECT_TRUE(curve(Side::Outgoing, 2).isEmpty()) << "Shift: an empty lane";
}

TEST_F(Finishing, TheFieldIsWorkedByKeys) {
    openPlunge();
    MoveMenu* menu = openMenu();
    ASSERT_TRUE(menu);
    QTest::keyClick(menu, Qt::Key_Right); // the first
    EXPECT_TRUE(menu->tile(MoveKind::Zoom)->hasFocus());
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Right);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
    EXPECT_TRUE(menu->tile(MoveKind::LineBlur)->hasFocus());
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QTest::qWait(20);
    ASSERT_EQ(stack().size(), 2u);
    EXPECT_EQ(stack()[1].kind, MoveKind::LineBlur);
    menu = openMenu();
    ASSERT_TRUE(menu);
    QTest::keyClick(menu, Qt::Key_Escape);
    QTest::qWait(20);
    EXPECT_FALSE(qobject_cast<MoveMenu*>(QApplication::activePopupWidget()));
    EXPECT_EQ(stack().size(), 2u);
}

TEST_F(Finishing, ParametersUnfoldAndAreSteps) {
    openPlunge();
    add(MoveKind::Shake);
    ASSERT_EQ(stack().size(), 2u);
    const int before = header(1)->height();
    ParameterPanel* panel = unfolded(1);
    ASSERT_TRUE(panel && panel->isVisible());
    EXPECT_GT(header(1)->height(), before + 100) << "the lane makes room for them";
    type(panel->field(1), "3.5");
    EXPECT_EQ(stack()[1].parameters[1], 3.5);
    EXPECT_EQ(document().undoStack()->undoText(), "change cycles a second");
    type(panel->field(2), "64px");
    EXPECT_NEAR(stack()[1].parameters[2], 64.0 / project().settings.size.width, 1e-9) << "a share of the width";
    type(panel->field(4), "0.25 turns");
    EXPECT_NEAR(stack()[1].parameters[4], 90, 1e-9);
    type(panel->field(1), "4px");
    EXPECT_EQ(stack()[1].parameters[1], 3.5) << "what is no unit here leaves the value";
    panel->choice(0)->setFocus();
    QTest::keyClick(panel->choice(0), Qt::Key_Down);
    EXPECT_EQ(stack()[1].parameters[0], 1);
    type(panel->anchor(0), "0.25");
    EXPECT_EQ(stack()[1].anchor.x, 0.25);
    document().undoStack()->undo();
    EXPECT_EQ(stack()[1].anchor.x, 0.5);
    EXPECT_EQ(panel->anchor(0)->value(), 0.5) << "the field follows";
    QTest::mouseClick(header(1)->unfold(), Qt::LeftButton);
    QTest::qWait(30);
    EXPECT_FALSE(panel->isVisible());
}

TEST_F(Finishing, ASwitchLinksTheAxesOfABlur) {
    openPlunge();
    add(MoveKind::Blur);
    ParameterPanel* panel = unfolded(1);
    ASSERT_TRUE(panel->check(0));
    EXPECT_TRUE(panel->check(0)->isChecked());
    const auto at = cutFrame(project(), 0) - 1;
    const auto blurAt = [&] { return std::get<GaussianBlur>(planFrame(project(), at).layers[0].treatments.at(0)); };
    EXPECT_EQ(blurAt().across, blurAt().down);
    QTest::mouseClick(panel->check(0), Qt::LeftButton);
    EXPECT_EQ(blurAt().down, 0);
    EXPECT_GT(blurAt().across, 0);
}

TEST_F(Finishing, KindsThatMoveCanHoldAtTheirEnds) {
    openPlunge();
    QMenu menu;
    header(0)->fillMenu(&menu);
    for (QAction* a : menu.actions())
        if (a->text() == "Hold at its ends") a->trigger();
    EXPECT_TRUE(stack()[0].holds);
    EXPECT_EQ(document().undoStack()->undoText(), "hold at the ends");
}

TEST_F(Finishing, OrderIsChangedByCarryingAHeader) {
    openPlunge();
    add(MoveKind::Light);
    add(MoveKind::Vignette);
    ASSERT_EQ(stack().size(), 3u);
    const auto kindsAtCut = [&] {
        std::string text;
        for (const Treatment& t : planFrame(project(), cutFrame(project(), 0)).layers[0].treatments)
            text += std::to_string(t.index()) + " ";
        return text;
    };
    const std::string before = kindsAtCut();
    LaneHeader* below = header(2);
    const QPointF onto = below->mapFromGlobal(header(1)->mapToGlobal(QPointF(60, 30)));
    drag(below, {60, 12}, onto);
    QTest::qWait(30);
    EXPECT_EQ(stack()[1].kind, MoveKind::Vignette);
    EXPECT_NE(kindsAtCut(), before);
}

TEST_F(Finishing, StandsOnAllFourPlaces) {
    Project p = withOverlayAdded(withOwnClips(twoClips()), "media-2", 5);
    p = withAdjustmentAdded(p, 0, 30);
    open(p);
    const Selection places[] = {{Selection::CutSelected, 0, {}},
                                {Selection::ClipSelected, 1, {}},
                                {Selection::OverlaySelected, 0, {}},
                                {Selection::AdjustmentSelected, 0, {}}};
    for (const Selection& place : places) {
        document().select(place);
        QTest::qWait(20);
        add(MoveKind::Defocus);
        add(MoveKind::Push);
        ASSERT_EQ(stack().size(), 2u) << int(place.kind);
        EXPECT_FALSE(curve(Side::Incoming, 0).isEmpty() && place.kind == Selection::CutSelected);
        // Keyed by its header's fields.
        const bool clip = place.kind == Selection::ClipSelected;
        NumberField* start = header(0)->field(Side::Incoming, false);
        ASSERT_TRUE(start) << int(place.kind);
        type(start, "4");
        EXPECT_EQ(stack()[0].channels[0].incoming.keys.front().value, 4) << int(place.kind);
        EXPECT_EQ(header(0)->field(Side::Outgoing, true) == nullptr, clip) << "a drift has one side";
    }
    const FramePlan plan = planFrame(project(), 6);
    EXPECT_EQ(plan.treats.size(), 1u) << "the adjustment";
    EXPECT_FALSE(plan.layers.back().treatments.empty()) << "the overlay's own";
    EXPECT_FALSE(planFrame(project(), 30).layers[0].treatments.empty()) << "the clip's";
    settle();
}

TEST_F(Finishing, CanBeLeftOutWhilePlaying) {
    openPlunge();
    QAction* a = action("Finishing");
    ASSERT_TRUE(a);
    EXPECT_TRUE(m_window->services().player.quality().finishing);
    a->trigger();
    EXPECT_FALSE(m_window->services().player.quality().finishing);
    a->trigger();
    EXPECT_TRUE(m_window->services().player.quality().finishing);
}

} // namespace
} // namespace virga::test::finishing_test
