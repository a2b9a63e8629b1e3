// Movement read from pictures, by hand in the window: a transition traced, used and kept; the shots' own movement
// switched on, seen and judged; a cut that carries on; shake taken off; the movement's sound.
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

#include "app/cut/carrying_cuts_dialog.h"
#include "app/flow/flow_panel.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/lanes_view.h"
#include "app/reel/reel_view.h"
#include "app/sound/heard_box.h"
#include "app/sound/sound_panel.h"
#include "app/trace/trace_chart.h"
#include "app/trace/trace_compare.h"
#include "app/trace/trace_dialog.h"
#include "app/window/movement_actions.h"
#include "app/window/tab_panel.h"
#include "core/edit/move_edits.h"
#include "core/edit/steady.h"
#include "core/export/export_reel.h"
#include "tests/app/window_fixture.h"
#include "tests/support/pictures.h"

namespace virga::test::trace_test {
namespace {

class TracingTest : public WindowTest {
protected:
    // A finished film with a turn at its cut, brought into a reel of two shots.
    void openWithFilm(bool panning = false) {
        const Image<Rgba8> a = detailedPicture({640, 360}, 3);
        Image<Rgba8> b = detailedPicture({640, 360}, 8); // of other colours, as another shot is
        for (int y = 0; y < 360; ++y)
            for (int x = 0; x < 640; ++x) {
                Rgba8& p = b.at(x, y);
                p = {std::uint8_t(255 - p.r), std::uint8_t(p.g / 2), std::uint8_t(p.b / 4), 255};
            }
        const auto shifted = [&](const Image<Rgba8>& picture, int by) {
            Image<Rgba8> out(640, 360);
            for (int y = 0; y < 360; ++y)
                for (int x = 0; x < 640; ++x) out.at(x, y) = picture.at(std::clamp(x + by, 0, 639), y);
            return out;
        };
        // Some frames after the cut the first one turns round, and goes as the second does.
        writeClip(m_folder / "a.mp4", {640, 360}, 25, 75,
                  [&](int i) { return shifted(a, panning ? 3 * std::min(i, 116 - i) : 0); });
        writeClip(m_folder / "b.mp4", {640, 360}, 25, 75, [&](int i) { return shifted(b, panning ? 220 - i * 3 : 0); });
        Project p = twoClips(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : p.media) m.size = {640, 360};
        p.settings.size = {640, 360};
        if (!panning) {
            ExportSettings settings;
            settings.path = m_folder / "film.mp4";
            settings.sound = false;
            settings.quality = 20;
            SourcePool pool;
            const Project turning = withMove(p, 0, MoveKind::Spin, 0, 0, -90, 8, 90, 0, 9);
            ASSERT_TRUE(exportReel(turning, settings, pool));
            Media film;
            film.id = "film";
            film.path = m_folder / "film.mp4";
            film.size = {640, 360};
            film.duration = 2;
            p.media.push_back(film);
        }
        WindowTest::open(p);
        settle();
        document().select({Selection::CutSelected, 0, {}});
    }
    static TraceDialog* tracing(QDialog* dialog) { return qobject_cast<TraceDialog*>(dialog); }
    static QPushButton* buttonIn(QDialog* dialog, const QString& text) {
        for (auto* b : dialog->findChildren<QPushButton*>())
            if (b->text() == text) return b;
        return nullptr;
    }
};

TEST_F(TracingTest, ATransitionIsReadUsedAndKept) {
    openWithFilm();
    inDialog(
        [&](QDialog* dialog) {
            TraceDialog* trace = tracing(dialog);
            ASSERT_TRUE(trace);
            EXPECT_TRUE(trace->isBusy()) << "its cuts are looked for, then the first one is read";
            const auto told = [&] {
                QString all;
                for (auto* l : dialog->findChildren<QLabel*>()) all += l->text() + " | ";
                return all.toStdString();
            };
            ASSERT_TRUE(waitFor([&] { return !trace->isBusy() && trace->trace(); }, 90000)) << told();
            EXPECT_EQ(trace->trace()->picture, 25);
            EXPECT_EQ(trace->chart()->laneCount(), 1) << "a turn, and nothing else";
            // A dot lies on the curve at the frame it was read at.
            const auto& spin = trace->trace()->out.channels.at(0);
            const QPointF dot = trace->chart()->dotAt(0, Side::Outgoing, spin.values.size() - 1);
            EXPECT_NEAR(dot.x(), trace->chart()->xOf(-1), 0.01);
            EXPECT_TRUE(trace->chart()->laneRect(0).contains(dot));
            // Both pictures play together; a click stops them, one in the chart shows its frame.
            ASSERT_TRUE(waitFor([&] { return trace->compare()->hasOwn(); }, 30000));
            EXPECT_TRUE(trace->compare()->isPlaying());
            const qint64 before = trace->compare()->frame();
            EXPECT_TRUE(waitFor([&] { return trace->compare()->frame() != before; }, 3000));
            QTest::mouseClick(trace->compare(), Qt::LeftButton, {}, {60, 80});
            EXPECT_FALSE(trace->compare()->isPlaying());
            QTest::mouseClick(trace->chart(), Qt::LeftButton, {}, QPoint(int(trace->chart()->xOf(-3)), 60));
            EXPECT_EQ(trace->compare()->frame(), -3);
            QTest::mouseClick(buttonIn(dialog, "Use at this cut"), Qt::LeftButton);
            QTest::mouseClick(buttonIn(dialog, "Keep as recipe"), Qt::LeftButton);
            EXPECT_TRUE(buttonIn(dialog, "Kept"));
            key(Qt::Key_Escape);
            dialog->close();
        },
        [&] { m_window->movement()->traceTransition("film"); });
    const Stack& moves = transitionAt(project(), 0).moves;
    ASSERT_EQ(moves.size(), 1u);
    EXPECT_EQ(moves[0].kind, MoveKind::Spin);
    EXPECT_NEAR(evaluate(moves[0].channels[0].incoming, 0), 90, 3);
    document().undoStack()->undo();
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty()) << "one step";
}

TEST_F(TracingTest, SaysWhatItCannotDo) {
    openWithFilm();
    inDialog(
        [&](QDialog* dialog) {
            TraceDialog* trace = tracing(dialog);
            ASSERT_TRUE(waitFor([&] { return !trace->isBusy(); }, 90000));
            for (auto* field : dialog->findChildren<NumberField*>())
                if (field->accessibleName() == "First picture behind the cut") type(field, "400");
            ASSERT_TRUE(waitFor([&] { return !trace->isBusy(); }, 30000));
            EXPECT_FALSE(trace->trace());
            bool told = false;
            for (auto* l : dialog->findChildren<QLabel*>()) told = told || l->text().contains("no cut before picture");
            EXPECT_TRUE(told);
            EXPECT_FALSE(buttonIn(dialog, "Use at this cut")->isEnabled());
            EXPECT_FALSE(buttonIn(dialog, "Keep as recipe")->isEnabled());
            dialog->close();
        },
        [&] { m_window->movement()->traceTransition("film"); });
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty());
}

TEST_F(TracingTest, TheShotsOwnMovementIsReadJudgedAndSeen) {
    openWithFilm(true);
    document().apply("a slide", withMoveAdded(project(), 0, MoveKind::Slide));
    EXPECT_FALSE(document().shots());
    action("Judge with the shots' own movement")->trigger();
    ASSERT_TRUE(project().settings.withShots);
    ASSERT_TRUE(waitFor([&] { return document().shots() && document().shots()->size() == 2; }, 60000));
    settle();
    // One goes left, the other right: a card says so, and its fix is another cut frame.
    auto* panel = m_window->findChild<FlowPanel*>();
    const auto says = [&](const QString& words) {
        for (auto* l : panel->findChildren<QLabel*>())
            if (l->isVisible() && l->text().contains(words)) return true;
        return false;
    };
    EXPECT_TRUE(waitFor([&] { return says("The shots move against each other at the cut"); }, 10000));
    // The thin line in the Reel and the dots in the lane are there with it, and gone without.
    const auto flowLine = [&] {
        const QRectF band = m_window->views().reel->bands().flow;
        return m_window->views().reel->grab(band.toAlignedRect()).toImage();
    };
    const auto slideLane = [&] {
        for (auto* chart : m_window->views().lanes->findChildren<LaneChart*>())
            if (chart->isVisible()) return chart->grab().toImage();
        return QImage();
    };
    settle();
    const QImage line = flowLine(), lane = slideLane();
    ASSERT_FALSE(lane.isNull());
    const auto shots = document().shots();
    document().setShots(nullptr);
    settle();
    EXPECT_NE(flowLine(), line) << "the thin line";
    EXPECT_NE(slideLane(), lane) << "the dots";
    document().setShots(shots);
    settle();
    EXPECT_EQ(flowLine(), line);
    EXPECT_EQ(slideLane(), lane);
    action("Judge with the shots' own movement")->trigger();
    EXPECT_FALSE(document().shots()) << "the moves alone again";
    EXPECT_TRUE(waitFor([&] { return !says("The shots move against each other at the cut"); }, 10000));
}

TEST_F(TracingTest, ACutThatCarriesOnIsFoundTriedAndPut) {
    openWithFilm(true);
    const Project before = project();
    inDialog(
        [&](QDialog* dialog) {
            auto* carrying = qobject_cast<CarryingCutsDialog*>(dialog);
            ASSERT_TRUE(carrying);
            ASSERT_TRUE(waitFor([&] { return !carrying->isBusy(); }, 60000));
            ASSERT_FALSE(carrying->found().empty());
            EXPECT_GE(carrying->found().front().out, 7) << "not before the first shot has turned round";
            EXPECT_TRUE(document().isTrying()) << "the best one is shown";
            carrying->list()->setFocus();
            QTest::keyClick(carrying->list(), Qt::Key_Down);
            QTest::mouseClick(buttonIn(dialog, "Put the cut there"), Qt::LeftButton);
        },
        [&] { action("Find a cut that carries on…")->trigger(); });
    EXPECT_FALSE(document().isTrying());
    EXPECT_FALSE(project() == before);
    EXPECT_EQ(reelLength(project()), reelLength(before));
}

TEST_F(TracingTest, AShotsShakeIsTakenOffAndGivenBack) {
    openWithFilm(true);
    document().select({Selection::ClipSelected, 0, {}});
    action("Take the shot's shake off")->trigger();
    ASSERT_TRUE(waitFor([&] { return isSteadied(project().reel[0]); }, 60000));
    EXPECT_EQ(project().reel[0].drift.size(), 3u);
    m_window->movement()->steadyShot();
    EXPECT_FALSE(isSteadied(project().reel[0]));
    document().undoStack()->undo();
    EXPECT_TRUE(isSteadied(project().reel[0]));
}

TEST_F(TracingTest, TheMovementIsHeardByItsSwitchAndWrittenAsAStem) {
    openPlunge();
    settle();
    key(Qt::Key_3, Qt::ControlModifier);
    auto* box = m_window->findChild<SoundPanel*>()->heard();
    bringIntoSight(box);
    auto* on = box->findChild<QCheckBox*>();
    QTest::mouseClick(on, Qt::LeftButton, {}, {8, on->height() / 2});
    ASSERT_TRUE(project().settings.heard.on);
    document().setPlayhead(25);
    ASSERT_TRUE(waitFor([&] { return box->curve()->isIdle() && !box->curve()->strengths().empty(); }));
    const auto& strengths = box->curve()->strengths();
    EXPECT_GT(*std::max_element(strengths.begin(), strengths.end()), 0.2) << "the plunge is drawn";
    EXPECT_EQ(strengths.front(), 0);
    for (auto* field : box->findChildren<NumberField*>())
        if (field->property("field") == "thud") type(field, "70");
    EXPECT_NEAR(project().settings.heard.thud, 0.7, 1e-9);
    // A row of the Reel follows the moves; a click on it leads back to what the sound is made of.
    ReelView* reel = m_window->views().reel;
    ASSERT_FALSE(reel->bands().heard.isEmpty());
    settle();
    const double loud = reel->heard()->strengthAt(25);
    EXPECT_GT(loud, 0.2);
    EXPECT_LT(reel->heard()->strengthAt(2), 0.01);
    const QPoint row(int(reel->scale().xOf(10)), int(reel->bands().heard.center().y()));
    key(Qt::Key_1, Qt::ControlModifier);
    EXPECT_FALSE(box->isVisible());
    QTest::mouseClick(reel, Qt::LeftButton, {}, row);
    EXPECT_TRUE(box->isVisible());
    document().apply("gentler", withMove(withOwnClips(twoClips()), 0, MoveKind::Zoom, 0, 1, 1.2, 5, 0.9, 1, 12));
    EXPECT_TRUE(reel->bands().heard.isEmpty()) << "another piece, which is not heard";
    document().undoStack()->undo();
    Project gentle = project();
    gentle.reel[1].transition = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.2, 5, 0.9, 1, 12).reel[1].transition;
    document().apply("gentler", gentle);
    settle();
    EXPECT_LT(reel->heard()->strengthAt(25), 0.6 * loud);
    document().undoStack()->undo();
    m_window->movement()->writeStemsBeside(at("piece.wav"));
    EXPECT_TRUE(waitFor([&] { return fs::exists(m_folder / "piece-movement.wav"); }));
}

} // namespace
} // namespace virga::test::trace_test
