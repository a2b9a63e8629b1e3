// The shots' own speed in the real window: ramps by key, menu, lane and panel; pictures in between; held frames,
// backwards, landing.
#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QPushButton>
#include <QUndoStack>

#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lanes_view.h"
#include "app/lanes/move_menu.h"
#include "app/picture/picture_view.h"
#include "app/style/controls.h"
#include "app/style/moving_tile.h"
#include "app/window/tab_panel.h"
#include "core/edit/speed_edits.h"
#include "core/project/beats.h"
#include "tests/app/window_fixture.h"

namespace virga::test::speed_test {
namespace {

class ShotSpeed : public WindowTest {
protected:
    // Two clips of 25 frames out of 75, so that a ramp finds what it needs.
    void openTwo() {
        Project p = withOwnClips(twoClips());
        for (Media& m : p.media) m.duration = 3;
        for (Clip& c : p.reel) c.sourceIn = Rational(20, 25);
        open(p);
    }
    LaneChart* lane() { return m_window->views().lanes->chart(shotSpeed, 0); }
    LaneHeader* header() { return m_window->views().lanes->header(shotSpeed, 0); }
    const Clip& out() { return project().reel[0]; }
    const Clip& in() { return project().reel[1]; }
    template <typename Widget> Widget* named(const QString& name) {
        for (Widget* w : m_window->findChildren<Widget*>())
            if (w->accessibleName() == name && w->isVisible()) return w;
        ADD_FAILURE() << name.toStdString() << " is not to be seen";
        return nullptr;
    }
    void choose(const QString& text) {
        for (QAbstractButton* b : m_window->findChildren<QAbstractButton*>())
            if (b->text() == text && b->isVisible()) return QTest::mouseClick(b, Qt::LeftButton);
        ADD_FAILURE() << text.toStdString() << " is not to be seen";
    }
    int steps() { return document().undoStack()->count(); }
};

TEST_F(ShotSpeed, AKeyRampsThroughTheCutAndTheLaneShowsIt) {
    openTwo();
    EXPECT_FALSE(lane()) << "no lane where nothing is ramped";
    const auto length = reelLength(project());
    key(Qt::Key_R, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_EQ(rampOf(out(), Side::Outgoing), (Ramp{100, 800, 12}));
    EXPECT_EQ(rampOf(in(), Side::Incoming), (Ramp{100, 800, 12}));
    EXPECT_EQ(reelLength(project()), length) << "the reel and its beats stay";
    EXPECT_EQ(steps(), 1);
    ASSERT_TRUE(lane());
    EXPECT_EQ(header()->field(Side::Outgoing, true)->value(), 800);
    EXPECT_EQ(header()->field(Side::Incoming, false)->value(), 800);
    EXPECT_EQ(header()->field(Side::Incoming, true)->value(), 100);
    // Beside the curve stand the pictures of the source: fewer frames apart where it is slow.
    const auto& below = lane()->picture().below;
    ASSERT_GT(below.size(), 6u);
    EXPECT_EQ(document().undoStack()->undoText(), "ramp through the cut");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(hasSpeedKeys(out()));
    EXPECT_FALSE(lane()) << "and the lane goes with the ramp";
}

TEST_F(ShotSpeed, KeysAreDraggedTypedAndBentLikeOthers) {
    openTwo();
    key(Qt::Key_R, Qt::ControlModifier | Qt::AltModifier);
    const double frame = m_window->views().lanes->context()->frames().pixelsPerFrame;
    // The ramp's beginning dragged three frames nearer to the cut.
    const QPointF far = lane()->keyPoint(Side::Outgoing, 0) + QPointF(0, -9);
    drag(lane(), far, far + QPointF(3 * frame, 0));
    EXPECT_EQ(rampOf(out(), Side::Outgoing)->frames, 9);
    EXPECT_EQ(steps(), 2) << "one step for a drag";
    type(header()->field(Side::Outgoing, true), "600");
    EXPECT_EQ(rampOf(out(), Side::Outgoing)->to, 600);
    type(header()->field(Side::Incoming, false), "300*2");
    EXPECT_EQ(rampOf(in(), Side::Incoming)->to, 600) << "arithmetic, as everywhere";
    type(header()->field(Side::Incoming, true), "5000");
    EXPECT_EQ(rampOf(in(), Side::Incoming)->from, 100) << "nothing beyond 1000 %";
    // A key is added on the curve without changing it.
    const Curve before = out().speedCurve.outgoing;
    const QPointF on(m_window->views().lanes->context()->frames(Side::Outgoing).xOf(-4),
                     lane()->values().yOf(evaluate(before, -4)));
    doubleClick(lane(), on);
    ASSERT_EQ(out().speedCurve.outgoing.keys.size(), 3u);
    for (double t = -9; t <= 0; t += 0.5)
        EXPECT_NEAR(evaluate(out().speedCurve.outgoing, t), evaluate(before, t), 1e-6);
    key(Qt::Key_Delete);
    EXPECT_EQ(out().speedCurve.outgoing.keys.size(), 2u) << "the selected key is deleted";
}

TEST_F(ShotSpeed, TheCutPanelTakesNumbersFramesAndBeats) {
    openTwo();
    Project p = project();
    Media song;
    song.id = "song";
    song.path = m_folder / "a.mp4";
    song.duration = 3;
    song.sound = true;
    song.size = {};
    p.media.push_back(song);
    Music music;
    music.id = "music-1";
    music.mediaId = "song";
    music.tempo = Tempo();
    music.tempo->beatsPerMinute = 150; // ten frames at 25
    p.music.push_back(music);
    document().apply("music", p);
    m_window->views().tabs->showTab(Layout::ClipTab);
    document().select({Selection::CutSelected, 0, {}});
    QCoreApplication::processEvents();
    auto* presets = named<QComboBox>("Ramps of the shots' speed");
    ASSERT_TRUE(presets);
    EXPECT_EQ(presets->currentText(), "none");
    type(named<NumberField>("Speed of the outgoing shot at the cut"), "600");
    EXPECT_EQ(rampOf(out(), Side::Outgoing), (Ramp{100, 600, 12})) << "the rest as usual";
    EXPECT_FALSE(rampOf(in(), Side::Incoming));
    EXPECT_EQ(presets->currentText(), "by hand");
    type(named<NumberField>("Length of the ramp into the cut; also in beats, as 1 b"), "1 b");
    EXPECT_EQ(rampOf(out(), Side::Outgoing)->frames, 10) << "a beat";
    presets->setFocus();
    presets->setCurrentIndex(2);
    emit presets->activated(2);
    EXPECT_EQ(rampOf(in(), Side::Incoming), rampPresets()[1].in);
    EXPECT_EQ(presets->currentText(), "short");
    emit presets->activated(0);
    EXPECT_FALSE(hasSpeedKeys(out()) || hasSpeedKeys(in()));
}

TEST_F(ShotSpeed, KeepingTheSourceTheClipBecomesShorter) {
    openTwo();
    m_window->views().tabs->showTab(Layout::ClipTab);
    document().select({Selection::CutSelected, 0, {}});
    QCoreApplication::processEvents();
    choose("source");
    const double end = ClipTime(project(), out()).secondsAt(25);
    type(named<NumberField>("Speed of the outgoing shot at the cut"), "400");
    EXPECT_LT(out().length, 20);
    EXPECT_NEAR(ClipTime(project(), out()).secondsAt(double(out().length)), end, 2.0 / 25);
}

TEST_F(ShotSpeed, ItIsAmongTheMovesAndHasItsLaneOverAClip) {
    openTwo();
    document().select({Selection::ClipSelected, 0, {}});
    QCoreApplication::processEvents();
    MoveMenu* menu = nullptr;
    m_window->views().lanes->offerMoves(reinterpret_cast<QWidget*>(m_window->views().lanes->addButton()));
    ASSERT_TRUE(
        waitFor([&] { return (menu = qobject_cast<MoveMenu*>(QApplication::activePopupWidget())) != nullptr; }, 2000));
    ASSERT_TRUE(menu->tile(MoveKind::ShotSpeed));
    QTest::mouseClick(menu->tile(MoveKind::ShotSpeed), Qt::LeftButton);
    QCoreApplication::processEvents();
    EXPECT_EQ(rampOf(out(), Side::Incoming), (Ramp{100, 800, 12}));
    EXPECT_EQ(rampOf(out(), Side::Outgoing), (Ramp{100, 800, 12}));
    ASSERT_TRUE(lane());
    EXPECT_EQ(lane()->picture().clipTo, 25);
    EXPECT_NEAR(lane()->keyPoint(Side::Outgoing, 1).x(), m_window->views().lanes->context()->frames().xOf(25), 1e-6)
        << "the one at its end lies at its end";
    // Shift: an empty lane, to be shaped by hand.
    document().undoStack()->undo();
    m_window->views().lanes->context()->wantSpeed();
    ASSERT_TRUE(lane());
    doubleClick(lane(), {m_window->views().lanes->context()->frames().xOf(6), lane()->height() / 2.0});
    EXPECT_EQ(out().speedCurve.incoming.keys.size(), 1u);
}

TEST_F(ShotSpeed, FramesAreHeldClipsRunBackwardsAndMomentsLand) {
    openTwo();
    m_window->views().tabs->showTab(Layout::ClipTab);
    document().select({Selection::ClipSelected, 0, {}});
    document().setPlayhead(10); // where 10 - 0.01 is less than a hundredth away
    const auto seen = sourceTime(project(), out(), 10);
    action("Hold this frame for 12 frames")->trigger();
    EXPECT_EQ(out().length, 37);
    for (int n = 10; n < 22; ++n) EXPECT_EQ(sourceTime(project(), out(), n), seen);
    key(Qt::Key_Z, Qt::ControlModifier);
    const auto first = sourceTime(project(), out(), 0), last = sourceTime(project(), out(), 24);
    choose("Backwards");
    EXPECT_EQ(sourceTime(project(), out(), 0), last);
    EXPECT_EQ(sourceTime(project(), out(), 24), first);
    EXPECT_EQ(named<NumberField>("Speed")->value(), -100);
    key(Qt::Key_Z, Qt::ControlModifier);
    Project p = project();
    Media song;
    song.id = "song", song.path = m_folder / "b.mp4", song.duration = 3, song.sound = true;
    p.media.push_back(song);
    Music music;
    music.id = "music-1", music.mediaId = "song";
    music.tempo = Tempo();
    music.tempo->beatsPerMinute = 125; // twelve frames
    p.music.push_back(music);
    document().apply("music", p);
    document().setPlayhead(10);
    key(Qt::Key_Right, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_EQ(document().playhead(), 12) << "the moment is followed to its beat";
    EXPECT_NEAR(ClipTime(project(), out()).secondsAt(12), seen.toDouble(), 1e-9);
    EXPECT_EQ(document().undoStack()->undoText(), "land moment");
    EXPECT_EQ(heldPins(project(), out()).size(), 1u);
    action("Let landed moments go")->trigger();
    EXPECT_TRUE(out().pins.empty());
}

TEST_F(ShotSpeed, PicturesInBetweenAreMadeUpComparedAndTold) {
    openTwo();
    m_window->views().tabs->showTab(Layout::ClipTab);
    document().select({Selection::ClipSelected, 0, {}});
    type(named<NumberField>("Speed"), "50");
    EXPECT_EQ(out().length, 50);
    document().setPlayhead(5);
    settle();
    const QImage nearest = m_window->views().picture->image().copy();
    choose("made up");
    EXPECT_EQ(out().inBetween, InBetween::MadeUp);
    settle();
    EXPECT_TRUE(waitFor([this] { return m_window->services().inBetweens.isIdle(); }, 60000));
    const QImage made = m_window->views().picture->image().copy();
    EXPECT_NE(made, nearest);
    action("Made-up pictures as mixed ones")->trigger();
    settle();
    EXPECT_NE(m_window->views().picture->image(), made);
    EXPECT_EQ(out().inBetween, InBetween::MadeUp) << "only compared";
    action("Made-up pictures as mixed ones")->trigger();
    settle();
    EXPECT_EQ(m_window->views().picture->image(), made);
    action("Where made-up pictures are guessed")->trigger();
    EXPECT_TRUE(waitFor([this] { return m_window->views().picture->trust().text().contains("to be trusted"); }, 20000));
    document().setPlayhead(4);
    EXPECT_TRUE(
        waitFor([this] { return m_window->views().picture->trust().text().contains("nothing is made up"); }, 20000))
        << "a picture that was filmed";
}

TEST_F(ShotSpeed, FlowTellsOfARampThatIsNotCarriedAndMendsIt) {
    openTwo();
    action("Into the cut")->trigger();
    QPushButton* fix = nullptr;
    ASSERT_TRUE(waitFor([&] {
        for (QPushButton* b : m_window->findChildren<QPushButton*>())
            if (b->isVisible() && b->text().startsWith("Let the next shot come in at")) fix = b;
        return fix != nullptr;
    }));
    QTest::mouseClick(fix, Qt::LeftButton);
    const auto ramp = rampOf(in(), Side::Incoming);
    ASSERT_TRUE(ramp);
    EXPECT_GT(ramp->to, 650) << "as fast as the last frame of the other";
}

} // namespace
} // namespace virga::test::speed_test
