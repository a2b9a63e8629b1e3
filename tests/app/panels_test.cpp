#include <QCheckBox>
#include <QLineEdit>
#include <QSlider>
#include <QToolButton>

#include "app/clip/clip_panel.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/shutter/shutter_panel.h"
#include "app/window/tab_panel.h"
#include "tests/app/window_fixture.h"

namespace virga::test::panels_test {
namespace {

class Panels : public WindowTest {
protected:
    void choose(QWidget* panel, const QString& name) {
        for (auto* b : panel->findChildren<QToolButton*>())
            if (b->text() == name || b->toolTip() == name) {
                QTest::mouseClick(b, Qt::LeftButton);
                return;
            }
        FAIL() << name.toStdString();
    }
    NumberField* field(QWidget* panel, const QString& name) {
        for (auto* f : panel->findChildren<NumberField*>())
            if (f->accessibleName() == name) return f;
        return nullptr;
    }
};

TEST_F(Panels, TheShutterIsSetByTypingAndBySlider) {
    openPlunge();
    key(Qt::Key_6, Qt::ControlModifier);
    EXPECT_EQ(m_window->views().tabs->current(), Layout::ShutterTab);
    auto* panel = m_window->findChild<ShutterPanel*>();
    type(field(panel, "Shutter angle in degrees"), "360");
    EXPECT_EQ(project().settings.shutter.angle, 360);
    panel->findChild<QSlider*>()->setFocus();
    QTest::keyClick(panel->findChild<QSlider*>(), Qt::Key_PageDown);
    EXPECT_EQ(project().settings.shutter.angle, 270);
    type(field(panel, "Shutter phase"), "0");
    EXPECT_EQ(project().settings.shutter.phase, 0.0);
    type(field(panel, "Samples per frame"), "16");
    EXPECT_EQ(project().settings.shutter.samples, 16);
    choose(panel, "this cut");
    type(field(panel, "Shutter angle in degrees"), "90");
    EXPECT_EQ(project().settings.shutter.angle, 270);
    EXPECT_EQ(transitionAt(project(), 0).shutter->angle, 90);
}

// What a file may hold can be typed in, and no more.
TEST_F(Panels, FieldsTakeWhatAFileMayHold) {
    openPlunge();
    m_window->views().tabs->showTab(Layout::ClipTab);
    document().select({Selection::ClipSelected, 0, {}});
    auto* panel = m_window->findChild<ClipPanel*>();
    const auto enter = [&](const QString& name, const QString& text) {
        NumberField* f = field(panel, name);
        ASSERT_TRUE(f) << name.toStdString();
        bringIntoSight(f);
        type(f, text);
    };
    enter("Own scale", "50000");
    EXPECT_EQ(project().reel[0].placement.scale, 500);
    enter("Own scale", "99999999");
    EXPECT_EQ(project().reel[0].placement.scale, 500) << "refused, and the field says what may be typed";
    EXPECT_TRUE(field(panel, "Own scale")->toolTip().contains("100000"))
        << field(panel, "Own scale")->toolTip().toStdString();
    enter("Own angle, clockwise", "7200");
    EXPECT_EQ(project().reel[0].placement.angle, 7200);
}

TEST_F(Panels, EdgesForThePieceAndForACut) {
    openPlunge();
    m_window->views().tabs->showTab(Layout::ShutterTab);
    auto* panel = m_window->findChild<ShutterPanel*>();
    document().setPlayhead(25);
    settle();
    const QImage mirrored = m_window->views().picture->image();
    choose(panel, "repeat");
    EXPECT_EQ(project().settings.edges, EdgeFill::Repeat);
    settle();
    EXPECT_NE(m_window->views().picture->image(), mirrored);
    choose(panel, "this cut");
    choose(panel, "mirror");
    EXPECT_EQ(project().reel[0].edges, EdgeFill::Mirror);
    EXPECT_EQ(project().settings.edges, EdgeFill::Repeat);
    settle();
    EXPECT_EQ(m_window->views().picture->image(), mirrored);
    choose(panel, "whole piece");
    choose(panel, "hold");
    EXPECT_FALSE(project().reel[0].edges.has_value()) << "the whole piece is the whole piece";
}

TEST_F(Panels, CopiesAreLimitedForThePiece) {
    openPlunge();
    m_window->views().tabs->showTab(Layout::ShutterTab);
    auto* panel = m_window->findChild<ShutterPanel*>();
    NumberField* copies = field(panel, "Copies on each side at most");
    ASSERT_TRUE(copies);
    EXPECT_TRUE(copies->isEnabled());
    type(copies, "2");
    EXPECT_EQ(project().settings.copies, 2);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(project().settings.copies, 0);
    choose(panel, "hold");
    EXPECT_FALSE(copies->isEnabled()) << "a held border has no copies";
}

TEST_F(Panels, TheClipIsNamedTrimmedAndFitted) {
    openPlunge();
    click(m_window->views().reel, m_window->views().reel->clipRect(1).center());
    m_window->views().tabs->showTab(Layout::ClipTab);
    auto* panel = m_window->findChild<ClipPanel*>();
    auto* name = panel->findChild<QLineEdit*>(QString(), Qt::FindDirectChildrenOnly);
    ASSERT_TRUE(name);
    name->selectAll();
    QTest::keyClicks(name, "Second heat");
    QTest::keyClick(name, Qt::Key_Return);
    EXPECT_EQ(project().reel[1].name, "Second heat");
    type(field(panel, "Length in frames"), "2*20");
    EXPECT_EQ(project().reel[1].length, 40);
    type(field(panel, "Length in frames"), "99");
    EXPECT_EQ(project().reel[1].length, 40) << "longer than the source: marked, not done";
    EXPECT_TRUE(field(panel, "Length in frames")->property("wrong").toBool());
    choose(panel, "stretch");
    EXPECT_EQ(project().reel[1].fit, Fit::Stretch);
    EXPECT_FALSE(panel->findChild<QCheckBox*>("muted")->isEnabled()) << "it has no sound";
    choose(panel, "Empty");
    EXPECT_EQ(project().reel[1].edges, EdgeFill::Empty);
    choose(panel, "piece");
    EXPECT_FALSE(project().reel[1].edges.has_value());
}

TEST_F(Panels, AnInterlacedShotMayKeepItsLines) {
    openPlunge();
    Project p = project();
    ASSERT_FALSE(p.media.empty());
    for (Media& m : p.media) m.interlaced = m.id == p.reel[1].mediaId, m.colour = m.interlaced ? "HLG, BT.2020" : "";
    open(p);
    m_window->views().tabs->showTab(Layout::ClipTab);
    auto* panel = m_window->findChild<ClipPanel*>();
    auto* lines = panel->findChild<QCheckBox*>("deinterlace");
    ASSERT_TRUE(lines);
    click(m_window->views().reel, m_window->views().reel->clipRect(0).center());
    EXPECT_TRUE(lines->isHidden()) << "there is nothing to make whole";
    click(m_window->views().reel, m_window->views().reel->clipRect(1).center());
    EXPECT_FALSE(lines->isHidden());
    EXPECT_TRUE(lines->isChecked());
    QTest::mouseClick(lines, Qt::LeftButton, {}, QPoint(8, lines->height() / 2));
    EXPECT_FALSE(project().reel[1].deinterlace);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(project().reel[1].deinterlace);
}

} // namespace
} // namespace virga::test::panels_test
