// The robot: random work in the real window, by mouse and keys and by whatever command a menu has, with the piece's
// invariants checked on the way. A run is a list of steps made from a seed. It is performed by a program of its own, so
// that a crash is a finding too; a list that fails is shrunk to the shortest one that still does.
//   VIRGA_ROBOT_STEPS=100000 VIRGA_ROBOT_SEED=1 build/dev/tests/app_tests --gtest_filter=Robot.*    the long run
//   VIRGA_ROBOT_FILE=seed:1004:2231 build/dev/tests/app_tests --gtest_filter=RobotWindow.*     2231 steps of a seed
//   VIRGA_ROBOT_FILE=steps.txt build/dev/tests/app_tests --gtest_filter=RobotWindow.*          a list once more
#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QElapsedTimer>
#include <QMenu>
#include <QProcess>
#include <QTimer>
#include <QUndoStack>
#include <QWheelEvent>
#include <fstream>
#include <map>
#include <random>
#include <set>
#include <sstream>

#include "app/export/export_queue.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/playback/player.h"
#include "app/reel/reel_view.h"
#include "app/window/project_files.h"
#include "core/edit/edits.h"
#include "core/project/limits.h"
#include "core/project/project_json.h"
#include "core/recipe/recipe.h"
#include "core/render/render_frame.h"
#include "tests/app/window_fixture.h"
#include "tests/support/pictures.h"

namespace virga::test::robot_test {
namespace {

struct Step {
    int kind = 0;
    unsigned a = 0, b = 0;
};

enum Kind {
    Joint,
    ClipChosen,
    ClipDragged,
    EdgeDragged,
    JointDragged,
    LaneKeyDragged,
    LaneAdded,
    LaneKeyRemoved,
    PictureDragged,
    Wheel,
    Arrows,
    Split,
    Delete,
    Duplicate,
    CopyPaste,
    Undo,
    Redo,
    Command,
    RecipePut,
    MovePut,
    Play,
    Save,
    Reopen,
    ExportBegun,
    ExportStopped,
    SelectAll,
    Nudge,
    Escape,
    Walk,
    Kinds
};
// How often each comes, in their order.
constexpr int shares[Kinds] = {8, 5, 4, 4, 4, 6, 3, 2, 4, 2, 4, 3, 2, 1, 3, 7, 4, 12, 3, 4, 1, 1, 1, 1, 1, 1, 4, 2, 3};

// The first line in which two projects' files would differ.
std::string firstDifference(const Project& a, const Project& b) {
    std::istringstream one(toJson(a, "/nowhere").dump(1)), other(toJson(b, "/nowhere").dump(1));
    std::string here, there, before;
    while (std::getline(one, here) && std::getline(other, there)) {
        if (here != there) return before + "\n" + here + "\n" + there;
        before = here;
    }
    return "nothing that is saved";
}

// Without what was found out in the background, which is found out again: an undone step may not know of it yet.
Project asMade(Project p) {
    for (Media& m : p.media) m.bars.reset();
    for (Clip& c : p.reel) c.guess.reset(), c.shot.reset();
    for (Overlay& o : p.overlays) o.clip.guess.reset();
    return p;
}

std::vector<Step> stepsFrom(unsigned seed, int count) {
    std::mt19937 draw(seed);
    std::vector<int> urn;
    for (int kind = 0; kind < Kinds; ++kind) urn.insert(urn.end(), std::size_t(shares[kind]), kind);
    std::vector<Step> steps;
    for (int i = 0; i < count; ++i) {
        const int kind = urn[draw() % urn.size()];
        const unsigned a = draw() % 10000, b = draw() % 10000;
        steps.push_back({kind, a, b});
    }
    return steps;
}

void write(const std::vector<Step>& steps, const fs::path& file) {
    std::ofstream out(file);
    for (const Step& s : steps) out << s.kind << ' ' << s.a << ' ' << s.b << '\n';
}

std::vector<Step> read(const fs::path& file) {
    std::vector<Step> steps;
    std::ifstream in(file);
    for (Step s; in >> s.kind >> s.a >> s.b;) steps.push_back(s);
    return steps;
}

// What every piece must be, whatever was done to it.
void expectSound(const Project& p) {
    std::vector<std::string> problems;
    EXPECT_TRUE(withinLimits(p, &problems) == p) << (problems.empty() ? "" : problems[0]);
    std::set<std::string> ids;
    for (const Clip& clip : p.reel) {
        EXPECT_GT(clip.length, 0) << clip.id;
        EXPECT_TRUE(ids.insert(clip.id).second) << clip.id << " is there twice";
        EXPECT_TRUE(clip.isGap() || findMedia(p, clip.mediaId)) << clip.id << " shows " << clip.mediaId;
        for (const Stack* stack : {&clip.drift, &clip.transition.moves})
            for (const Move& move : *stack) EXPECT_TRUE(ids.insert(move.id).second) << move.id << " is there twice";
        if (clip.transition.link)
            EXPECT_NE(findRecipe(p, clip.transition.link->recipe), nullptr) << "follows a recipe that is not there";
    }
    const auto back = fromJson(toJson(p, "/nowhere"), "/nowhere", "again");
    EXPECT_TRUE(back && *back == p) << (back ? "it is read back as another" : describe(back.error()));
}

class RobotWindow : public WindowTest {
protected:
    void perform(const Step& step);
    void performCommand(const Step& step);
    bool expectShownIsRendered();
    void walkUndo();
    // A key of a lane that is there now, where it has any.
    std::optional<QPointF> keyOf(LaneChart* lane, unsigned a, unsigned b) {
        const Side side = a % 2 ? Side::Outgoing : Side::Incoming;
        const CurveAddress at = lane->address(side);
        if (!hasCurve(project(), at)) return std::nullopt;
        const auto keys = curveAt(project(), at).keys.size();
        if (keys == 0) return std::nullopt;
        return lane->keyPoint(side, int(b % keys));
    }
    LaneChart* chart(unsigned n) { return m_window->views().lanes->chart(int(n % 3), 0); }

    int m_export = 0;
};

void RobotWindow::performCommand(const Step& step) {
    QList<QAction*> all;
    for (QAction* action : m_window->findChildren<QAction*>()) {
        const QString text = action->text();
        // Those with dots ask something; these leave the piece, or take the window away.
        static const QStringList never{"Quit", "New", "Close", "Full screen", "The demo", "Empty the list",
                                       // What the Picture shows beside the frame itself:
                                       "Without the selected", "Where made-up", "Made-up pictures as", "Surround",
                                       "Faces"};
        if (text.isEmpty() || action->isSeparator() || action->menu() || text.endsWith(QChar(0x2026))) continue;
        const auto names = [plain = QString(text).remove('&')](const QString& name) { return plain.startsWith(name); };
        if (std::any_of(never.begin(), never.end(), names)) continue;
        all.push_back(action);
    }
    ASSERT_FALSE(all.isEmpty()) << "the window has no commands";
    QAction* action = all[qsizetype(step.a) % all.size()];
    if (action->isEnabled()) action->trigger();
}

void RobotWindow::perform(const Step& step) {
    ReelView* reel = m_window->views().reel;
    const unsigned a = step.a, b = step.b;
    const int clips = int(project().reel.size()), cuts = cutCount(project());
    const auto small = [](unsigned n) { return int(n % 61) - 30; };
    switch (step.kind) {
    case Joint:
        if (cuts > 0) reel->reveal(cutFrame(project(), int(a) % cuts)), click(reel, reel->jointCentre(int(a) % cuts));
        break;
    case ClipChosen:
        if (clips > 0)
            click(reel, reel->clipRect(int(a) % clips).center(), b % 3 ? Qt::NoModifier : Qt::ControlModifier);
        break;
    case ClipDragged:
        if (clips > 0) {
            const QPointF from = reel->clipRect(int(a) % clips).center();
            drag(reel, from, from + QPointF(small(b) * 8, 0), b % 5 ? Qt::NoModifier : Qt::ControlModifier);
        }
        break;
    case EdgeDragged:
        if (clips > 0) {
            const QRectF r = reel->clipRect(int(a) % clips);
            const QPointF from(b % 2 ? r.left() + 8 : r.right() - 8, r.center().y());
            drag(reel, from, from + QPointF(small(b / 2), 0));
        }
        break;
    case JointDragged:
        if (cuts > 0) {
            const QPointF from = reel->jointCentre(int(a) % cuts);
            drag(reel, from, from + QPointF(small(b), 0), b % 7 ? Qt::NoModifier : Qt::ShiftModifier);
        }
        break;
    case LaneKeyDragged:
        if (LaneChart* lane = chart(a); lane && lane->isVisible()) {
            if (const auto from = keyOf(lane, a, b); from && lane->rect().contains(from->toPoint()))
                drag(lane, *from, *from + QPointF(small(b), small(a * 7 + b)));
        }
        break;
    case LaneAdded:
        if (LaneChart* lane = chart(a); lane && lane->isVisible())
            doubleClick(lane, {double(b) / 10000 * lane->width(), double(a) / 10000 * lane->height()});
        break;
    case LaneKeyRemoved:
        if (LaneChart* lane = chart(a); lane && lane->isVisible()) {
            if (const auto from = keyOf(lane, a, b)) click(lane, *from), key(Qt::Key_Delete);
        }
        break;
    case PictureDragged: {
        PictureView* picture = m_window->views().picture;
        const QPointF from = picture->outline().center() + QPointF(small(a) * 4, small(b) * 2);
        drag(picture, from, from + QPointF(small(b / 3), small(a / 3)), a % 4 ? Qt::NoModifier : Qt::ShiftModifier);
        break;
    }
    case Wheel: {
        QWidget* at = a % 2 ? static_cast<QWidget*>(reel) : m_window->views().picture;
        const QPointF where(double(b) / 10000 * at->width(), at->height() / 2.0);
        QWheelEvent event(where, at->mapToGlobal(where), {}, {0, a % 4 < 2 ? 120 : -120}, Qt::NoButton,
                          a % 3 ? Qt::NoModifier : Qt::ControlModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(at, &event);
        break;
    }
    case Arrows:
        key(a % 2 ? Qt::Key_Left : Qt::Key_Right, b % 3 ? Qt::NoModifier : Qt::ShiftModifier);
        break;
    case Split:
        key(Qt::Key_X);
        break;
    case Delete:
        if (clips > 2) key(Qt::Key_Delete, a % 3 ? Qt::NoModifier : Qt::ControlModifier);
        break;
    case Duplicate:
        if (clips < 24) key(Qt::Key_D, Qt::ControlModifier);
        break;
    case CopyPaste:
        key(Qt::Key_C, Qt::ControlModifier);
        if (clips < 24) key(Qt::Key_V, Qt::ControlModifier);
        break;
    case Undo:
        for (unsigned n = 0; n <= a % 4; ++n) key(Qt::Key_Z, Qt::ControlModifier);
        break;
    case Redo:
        for (unsigned n = 0; n <= a % 4; ++n) key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        break;
    case Command:
        performCommand(step);
        break;
    case RecipePut:
        if (cuts > 0) {
            const auto& recipes = builtInRecipes();
            const Recipe& recipe = recipes[b % recipes.size()];
            RecipeUse use;
            use.mirrored = a % 3 == 0;
            document().apply("recipe", withRecipe(project(), placeFor(recipe, int(a) % cuts), recipe, use, a % 2));
        }
        break;
    case MovePut:
        if (cuts > 0 && transitionAt(project(), int(a) % cuts).moves.size() < 6)
            document().apply("move", withMoveAdded(project(), {StackPlace::Cut, int(a) % cuts},
                                                   allMoves()[b % allMoves().size()].kind));
        break;
    case Play:
        key(Qt::Key_Space);
        QTest::qWait(15);
        key(Qt::Key_Space);
        break;
    case Save:
        key(Qt::Key_S, Qt::ControlModifier);
        break;
    case Reopen: {
        m_window->files()->save();
        const Project before = asMade(project());
        ASSERT_TRUE(document().open(at("p.virga")));
        const Project now = asMade(project());
        EXPECT_TRUE(now == before) << "what is opened is not what was saved: " << firstDifference(before, now);
        break;
    }
    case ExportBegun:
        if (!m_window->services().exports.isBusy() && reelLength(project()) > 0) {
            PartsSettings settings;
            settings.path = (m_folder / "out.mp4").string();
            m_export = m_window->services().exports.add(document().project(), settings);
        }
        break;
    case ExportStopped:
        if (m_export > 0) m_window->services().exports.cancelAll();
        break;
    case SelectAll:
        key(Qt::Key_A, Qt::ControlModifier);
        break;
    case Nudge: {
        static const int keys[] = {Qt::Key_Left, Qt::Key_Right, Qt::Key_BracketLeft, Qt::Key_BracketRight};
        static const Qt::KeyboardModifiers with[] = {Qt::ControlModifier, Qt::AltModifier,
                                                     Qt::ControlModifier | Qt::AltModifier,
                                                     Qt::ControlModifier | Qt::ShiftModifier};
        key(keys[a % 4], with[b % 4]);
        break;
    }
    case Escape:
        key(Qt::Key_Escape);
        break;
    case Walk:
        document().setPlayhead(std::int64_t(a) % std::max<std::int64_t>(1, reelLength(project())));
        break;
    default:
        break;
    }
}

// False where what is shown is no frame of the piece that could be compared.
bool RobotWindow::expectShownIsRendered() {
    if (reelLength(project()) == 0) return false;
    m_window->services().player.stop();
    settle();
    PictureView* picture = m_window->views().picture;
    if (!picture->isExact() || picture->image().isNull() || picture->shownFrame() != document().playhead())
        return false;
    const Snapshot what = document().shown(); // the piece, or what is tried out in its place
    if (document().playhead() >= reelLength(*what) || !picture->image().textKeys().isEmpty())
        return false; // "mixed for now"
    SourcePool pool;
    const auto anew = renderFrame(*what, document().playhead(), what->settings.size, exactQuality, pool);
    EXPECT_TRUE(anew) << describe(anew.error());
    if (!anew) return false;
    const QImage shown = picture->image();
    const ImageView<const Rgba8> view{reinterpret_cast<const Rgba8*>(shown.constBits()), shown.width(), shown.height(),
                                      shown.bytesPerLine() / 4};
    if (view.width != anew->width()) return false;
    EXPECT_EQ(compare(view, anew->view()).most, 0) << "frame " << document().playhead();
    return true;
}

// Back as far as it goes and forth again, the piece is the same.
void RobotWindow::walkUndo() {
    QUndoStack* undo = document().undoStack();
    const Project now = asMade(project());
    const int index = undo->index(), back = std::max(0, index - 12);
    undo->setIndex(back);
    expectSound(project());
    undo->setIndex(index);
    const Project again = asMade(project());
    EXPECT_TRUE(again == now) << "undone and done again it is another: " << firstDifference(now, again);
}

TEST_F(RobotWindow, PerformsAList) {
    const QString file = qEnvironmentVariable("VIRGA_ROBOT_FILE");
    if (file.isEmpty()) GTEST_SKIP() << "run by Robot.*";
    openPlunge();
    m_window->services().player.useStandIn(true);
    QApplication::setDoubleClickInterval(1); // no two clicks are one
    QTimer closer;                           // whatever asks something is told no
    QObject::connect(&closer, &QTimer::timeout, [] {
        if (auto* popup = QApplication::activePopupWidget()) popup->close();
        if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) dialog->reject();
    });
    closer.start(20);
    const QStringList drawn = file.split(':'); // "seed:1004:2231", or a file
    const std::vector<Step> steps =
        drawn[0] == "seed" ? stepsFrom(drawn.value(1).toUInt(), drawn.value(2).toInt()) : read(file.toStdString());
    int done = 0, asked = 0, compared = 0;
    std::map<int, std::pair<int, double>> took; // by kind: how often, milliseconds
    for (const Step& step : steps) {
        SCOPED_TRACE("step " + std::to_string(done) + ": " + std::to_string(step.kind) + " " + std::to_string(step.a) +
                     " " + std::to_string(step.b));
        QElapsedTimer clock;
        clock.start();
        perform(step);
        took[step.kind].first++, took[step.kind].second += double(clock.nsecsElapsed()) * 1e-6;
        QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
        expectSound(project());
        if (++done % 97 == 0) walkUndo();
        if (done % 250 == 0) ++asked, compared += expectShownIsRendered();
        if (HasFailure()) break;
    }
    if (qEnvironmentVariableIsSet("VIRGA_ROBOT_TIMES"))
        for (const auto& [kind, times] : took)
            std::printf("kind %d: %d times, %.1f ms each\n", kind, times.first, times.second / times.first);
    std::printf("robot: %d steps, %d undo steps, %d clips at the end, %d of %d frames compared\n", done,
                document().undoStack()->count(), int(project().reel.size()), compared, asked);
    if (asked > 2 && !HasFailure()) EXPECT_GT(compared, 0) << "what is shown was never compared";
    m_window->services().exports.cancelAll();
    closer.stop();
    if (!HasFailure()) settle();
}

class Robot : public testing::Test {
protected:
    // Whether the list fails, in a program of its own. `told` receives what it says.
    bool fails(const std::vector<Step>& steps, QString* told = nullptr) {
        write(steps, m_folder / "steps.txt");
        QProcess child;
        QProcessEnvironment with = QProcessEnvironment::systemEnvironment();
        with.insert("VIRGA_ROBOT_FILE", QString::fromStdString((m_folder / "steps.txt").string()));
        child.setProcessEnvironment(with);
        child.setProcessChannelMode(QProcess::MergedChannels);
        child.start(QCoreApplication::applicationFilePath(), {"--gtest_filter=RobotWindow.*"});
        const int stepMost =
            qEnvironmentVariableIsSet("VIRGA_ROBOT_STEPS") ? 1500 : 200; // ms; long runs share the machine
        const bool ended = child.waitForFinished(120000 + int(steps.size()) * stepMost);
        const QString text = QString::fromUtf8(child.readAll());
        if (!ended) child.kill(), child.waitForFinished();
        if (told) *told = (ended ? QString() : QStringLiteral("it did not end\n")) + text;
        return !ended || child.exitStatus() != QProcess::NormalExit || child.exitCode() != 0;
    }
    // Fewer steps that still fail: halves, quarters, ... left out (delta debugging, Zeller and Hildebrandt 2002).
    std::vector<Step> shrunk(std::vector<Step> steps, int tries = 60) {
        for (std::size_t part = std::max<std::size_t>(1, steps.size() / 2); tries > 0;) {
            bool less = false;
            for (std::size_t from = 0; from < steps.size() && tries > 0;) {
                std::vector<Step> fewer = steps;
                fewer.erase(fewer.begin() + long(from), fewer.begin() + long(std::min(from + part, steps.size())));
                if (--tries, !fewer.empty() && fails(fewer))
                    steps = fewer, less = true;
                else
                    from += part;
            }
            if (part == 1 && !less) break;
            part = std::max<std::size_t>(1, part / 2);
        }
        return steps;
    }
    TemporaryFolder m_folder;
};

TEST_F(Robot, WhateverIsDoneThePieceStaysSound) {
    const int all =
        qEnvironmentVariableIsSet("VIRGA_ROBOT_STEPS") ? qEnvironmentVariableIntValue("VIRGA_ROBOT_STEPS") : 800;
    const unsigned first = qEnvironmentVariableIsSet("VIRGA_ROBOT_SEED")
                               ? unsigned(qEnvironmentVariableIntValue("VIRGA_ROBOT_SEED"))
                               : 20261128;
    constexpr int aRun = 2500; // then a window begins anew
    int done = 0;
    for (unsigned seed = first; done < all; ++seed) {
        const auto steps = stepsFrom(seed, std::min(aRun, all - done));
        QString told;
        if (fails(steps, &told)) {
            std::printf("robot: seed %u fails, its list is made shorter:\n%s\n", seed,
                        told.right(4000).toUtf8().constData());
            std::fflush(stdout);
            // What comes after the failure is left out first.
            std::vector<Step> part = steps;
            if (const auto at = told.lastIndexOf("step "); at >= 0) {
                const int number = told.mid(at + 5, told.indexOf(':', at) - at - 5).toInt();
                std::vector<Step> head(steps.begin(), steps.begin() + std::min<long>(number + 1, long(steps.size())));
                if (!head.empty() && fails(head)) part = head;
            }
            part = shrunk(part);
            fails(part, &told);
            QString list;
            for (const Step& s : part) list += QStringLiteral("%1 %2 %3\n").arg(s.kind).arg(s.a).arg(s.b);
            FAIL() << "seed " << seed << ", the shortest list that fails:\n"
                   << list.toStdString() << told.right(4000).toStdString();
        }
        done += int(steps.size());
        std::printf("robot: seed %u, %d of %d steps\n", seed, done, all), std::fflush(stdout);
    }
}

} // namespace
} // namespace virga::test::robot_test
