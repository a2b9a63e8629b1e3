#include <QLabel>
#include <QPushButton>
#include <QToolButton>

#include "app/flow/flow_panel.h"
#include "app/window/notice_bar.h"
#include "tests/app/window_fixture.h"

namespace virga::test::flow_panel_test {
namespace {

class FlowPanelTest : public WindowTest {
protected:
    bool says(const QString& words) {
        for (auto* l : m_window->findChild<FlowPanel*>()->findChildren<QLabel*>())
            if (l->isVisible() && l->text().contains(words)) return true;
        return false;
    }
    bool soonSays(const QString& words) {
        return waitFor([&] { return says(words); }, 5000);
    }
};

TEST_F(FlowPanelTest, AFindingIsToldAndMended) {
    openPlunge();
    ASSERT_TRUE(soonSays("Speed drops at the cut"));
    ASSERT_TRUE(button("Match speed"));
    QTest::mouseClick(button("Match speed"), Qt::LeftButton);
    EXPECT_TRUE(soonSays("Speed is steady through the cut"));
    EXPECT_FALSE(says("Speed drops"));
    EXPECT_EQ(document().undoStack()->undoText(), "match speed");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(soonSays("Speed drops at the cut"));
}

TEST_F(FlowPanelTest, ATurnBackIsTurnedRound) {
    open(withOwnClips(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, -90, 8, -90, 0, 8)));
    ASSERT_TRUE(soonSays("Spin turns back at the cut"));
    QTest::mouseClick(button("Turn it round"), Qt::LeftButton);
    EXPECT_EQ(curve(Side::Incoming).keys[0].value, 90);
    EXPECT_TRUE(soonSays("Spin carries on in one direction"));
}

TEST_F(FlowPanelTest, ABareEdgeIsMirrored) {
    Project p = withOwnClips(plungeProject());
    p.settings.edges = EdgeFill::Empty;
    open(p);
    ASSERT_TRUE(soonSays("A bare edge shows"));
    QTest::mouseClick(button("Mirror the edges"), Qt::LeftButton);
    EXPECT_TRUE(soonSays("No bare edge"));
    EXPECT_EQ(project().reel[0].edges, EdgeFill::Mirror);
}

TEST_F(FlowPanelTest, FindingsCanBeShownAndIgnored) {
    openPlunge();
    ASSERT_TRUE(soonSays("Speed drops"));
    document().setPlayhead(3);
    QTest::mouseClick(button("Show"), Qt::LeftButton);
    EXPECT_EQ(document().playhead(), 25);
    QToolButton* ignore = nullptr;
    for (auto* b : m_window->findChild<FlowPanel*>()->findChildren<QToolButton*>())
        if (b->toolTip().startsWith("Ignore") && b->isVisible()) ignore = b;
    ASSERT_TRUE(ignore);
    QTest::mouseClick(ignore, Qt::LeftButton);
    EXPECT_TRUE(waitFor([this] { return !says("Speed drops"); }, 5000));
    EXPECT_FALSE(transitionAt(project(), 0).ignored.empty());
}

TEST_F(FlowPanelTest, WhatCannotBeDoneIsSaid) {
    open(withOwnClips(withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 90, 2, 1.1, 1, 30)));
    key(Qt::Key_M, Qt::ControlModifier);
    EXPECT_TRUE(m_window->notice()->text().contains("would have to be")) << m_window->notice()->text().toStdString();
    EXPECT_EQ(document().undoStack()->count(), 0);
}

} // namespace
} // namespace virga::test::flow_panel_test
