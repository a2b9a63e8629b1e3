#include <QToolButton>
#include <QPainter>
#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lanes_view.h"
#include "app/lanes/speed_lane.h"
#include "tests/app/window_fixture.h"
namespace virga::test {
class Tmp : public WindowTest {};
TEST_F(Tmp, Shots) {
    ASSERT_TRUE(document().open(QString(VIRGA_SOURCE_DIR) + "/demo/lantern-regatta.virga"));
    document().select({Selection::CutSelected, 5, {}});
    document().setPlayhead(cutFrame(project(), 5) - 2);
    m_window->setLanesHeight(456);
    QTest::qWait(200);
    settle();
    auto* l = m_window->lanes();
    QTest::mouseClick(l->header(1,0)->fold(), Qt::LeftButton);
    QTest::mouseClick(l->header(0,0)->solo(), Qt::LeftButton);
    QTest::qWait(100);
    click(l->chart(0,0), l->chart(0,0)->keyPoint(Side::Incoming,0)+QPointF(0,-9));
    // box in progress
    press(l->chart(2,0), {250, 10});
    moveTo(l->chart(2,0), {300, 40});
    moveTo(l->chart(2,0), {540, 120});
    settle();
    m_window->grab().save("/tmp/s1.png");
    release(l->chart(2,0), {540, 120});
    key(Qt::Key_Z, Qt::ControlModifier);
    // zoomed out: ghosts
    l->context()->setFrames({520, 4.5});
    QTest::qWait(50);
    settle();
    m_window->grab().save("/tmp/s2.png");
    l->fit();
    // pull speed in progress
    auto at = l->chart(0,0)->speedPoint(Side::Incoming, 2.5);
    press(l->chart(0,0), at); moveTo(l->chart(0,0), at + QPointF(0,-5)); moveTo(l->chart(0,0), at + QPointF(0,-12));
    settle();
    m_window->grab().save("/tmp/s3.png");
    release(l->chart(0,0), at + QPointF(0,-12));
    document().select({Selection::CutSelected, 1, {}});
    QTest::mouseClick(l->header(0,0)->fold(), Qt::LeftButton);
    QTest::mouseClick(l->header(1,0)->fold(), Qt::LeftButton);
    m_window->setTheme("day");
    settle();
    m_window->grab().save("/tmp/s4.png");
    m_window->setTheme("night");
}
}
