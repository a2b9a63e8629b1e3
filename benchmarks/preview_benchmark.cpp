// How the picture keeps up with editing: from a drag's event to the changed picture painted; frames left out while the
// demo's cuts loop; a 4K shot with and without its light copy; memory over an hour of scripted editing. Beside it Qt's
// own painter turning and scaling one picture, and FFmpeg decoding the 4K shot alone, in the same run.
// Usage: preview_benchmark DEMO.virga [--hour | --only-hour]   (under Xvfb, or with QT_QPA_PLATFORM=offscreen)
#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QPainter>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fstream>
#include <malloc.h>
#include <random>

#include "app/document/edit_focus.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/style/theme.h"
#include "app/window/heap.h"
#include "app/window/main_window.h"
#include "app/window/project_files.h"
#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/edit/key_edits.h"
#include "core/encode/encoder.h"
#include "core/project/project_file.h"

using namespace virga;

namespace {

double residentMegabytes() {
    std::ifstream status("/proc/self/statm");
    long pages = 0, resident = 0;
    status >> pages >> resident;
    return double(resident) * 4096 / 1e6;
}

// What is in use of what malloc() and new gave: the rest that is resident are freed blocks, code and libraries'
// mappings.
double askedFor() {
    const auto all = mallinfo2();
    return double(all.uordblks + all.hblkhd) / 1e6;
}

// Sleeps until something happens: a loop that spins would take a core from the rendering.
void waitForEvents() {
    static QTimer wake;
    if (!wake.isActive()) wake.start(5);
    QApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents);
}

void settle(MainWindow& window) {
    for (int calm = 0; calm < 3;) {
        waitForEvents();
        calm = window.isSettled() ? calm + 1 : 0;
    }
}

struct Times {
    std::vector<double> milliseconds;
    double at(double part) {
        std::sort(milliseconds.begin(), milliseconds.end());
        return milliseconds.empty() ? 0 : milliseconds[std::size_t(part * double(milliseconds.size() - 1))];
    }
};

void send(QWidget* widget, QEvent::Type type, QPointF at, Qt::MouseButton button, Qt::MouseButtons held) {
    QMouseEvent event(type, at, widget->mapToGlobal(at), button, held, {});
    QApplication::sendEvent(widget, &event);
}

// Tells when the picture was painted.
class PaintedAt : public QObject {
public:
    explicit PaintedAt(QWidget* widget) { widget->installEventFilter(this); }
    int painted = 0;
    bool eventFilter(QObject*, QEvent* event) override {
        painted += event->type() == QEvent::Paint;
        return false;
    }
};

void openProject(MainWindow& window, const QString& path) {
    window.document()->undoStack()->setClean();
    window.files()->open(path, false);
    QApplication::processEvents();
    settle(window);
}

// A key of the first lane dragged up and down; from each event until a picture of that edit has been painted.
void measureDrags(MainWindow& window, const char* what) {
    LaneChart* chart = window.views().lanes->findChild<LaneChart*>();
    if (!chart) return;
    // At the playhead beside the cut, where the moves are fastest.
    window.document()->setPlayhead(cutFrame(*window.document()->project(), window.document()->cut()) - 1);
    settle(window);
    const Curve& curve = curveAt(*window.document()->project(), chart->address(Side::Outgoing));
    const QPointF from = chart->keyPoint(Side::Outgoing, int(curve.keys.size()) - 1);
    PictureView* picture = window.views().picture;
    PaintedAt painted(picture);
    int shown = 0;
    int paints = 0; // before the picture that came last
    const auto seen = QObject::connect(picture, &PictureView::shown, [&] { ++shown, paints = painted.painted; });
    Times times, events;
    send(chart, QEvent::MouseButtonPress, from, Qt::LeftButton, Qt::LeftButton);
    for (int i = 1; i <= 160; ++i) {
        const QPointF at = from + QPointF(0, 26 * std::sin(i * 0.17));
        const int before = shown;
        const Snapshot was = window.document()->shown();
        QElapsedTimer clock;
        clock.start();
        send(chart, QEvent::MouseMove, at, Qt::NoButton, Qt::LeftButton);
        const double handled = double(clock.nsecsElapsed()) * 1e-6;
        if (window.document()->shown() == was) continue; // it clings to the value that it had
        // The first picture that comes after the event may still be the one before's; what counts is the next painting
        // behind a picture of this edit.
        while (shown == before && clock.elapsed() < 2000) waitForEvents();
        while (painted.painted == paints && clock.elapsed() < 2000) waitForEvents();
        if (i > 10)
            times.milliseconds.push_back(double(clock.nsecsElapsed()) * 1e-6), events.milliseconds.push_back(handled);
    }
    send(chart, QEvent::MouseButtonRelease, from, Qt::LeftButton, Qt::NoButton);
    QObject::disconnect(seen);
    fmt::print(
        "{}: drag event to picture painted {:.1f} ms (median), {:.1f} ms (95th of 100); of it the event {:.1f} and "
        "{:.1f} ms; picture {} x {}\n",
        what, times.at(0.5), times.at(0.95), events.at(0.5), events.at(0.95), picture->width(), picture->height());
    window.document()->undoStack()->undo();
    settle(window);
}

struct Pass {
    int shown = 0, left = 0;
    double seconds = 0;
};

// Plays one round of what is played; from scratch or again.
Pass playRound(MainWindow& window) {
    Player* player = &window.services().player;
    const auto [from, to] = player->range();
    Pass pass;
    int shown = 0;
    const auto seen = QObject::connect(window.views().picture, &PictureView::shown, [&] { ++shown; });
    player->play();
    while (player->isStarting()) waitForEvents();
    QElapsedTimer clock;
    clock.start();
    const double length = double(to - from) / window.document()->project()->settings.rate.toDouble();
    while (double(clock.elapsed()) * 1e-3 < length) waitForEvents();
    pass.left = player->dropped();
    pass.shown = shown;
    pass.seconds = double(clock.elapsed()) * 1e-3;
    player->stop();
    QObject::disconnect(seen);
    return pass;
}

Image<Rgba8> drawn(int n) { // a 4K picture that moves
    Image<Rgba8> picture(3840, 2160);
    for (int y = 0; y < 2160; ++y)
        for (int x = 0; x < 3840; ++x) {
            const int u = x + 9 * n, v = y + 3 * n;
            picture.at(x, y) = {std::uint8_t((u ^ v) & 255), std::uint8_t((u * 3 + v) >> 3 & 255),
                                std::uint8_t((v + u / 5) & 255), 255};
        }
    return picture;
}

// 4. An hour of editing, an edit a second in fast-forward: keys, cuts, playheads, undo.
void editForAnHour(MainWindow& window, const char* project) {
    Document* d = window.document();
    openProject(window, QString::fromLocal8Bit(project));
    std::mt19937 draw(1);
    const double start = residentMegabytes();
    double most = start;
    for (int second = 1; second <= 3600; ++second) {
        const Project& p = *d->project();
        d->select({Selection::CutSelected, int(draw() % unsigned(cutCount(p)))});
        d->setPlayhead(cutFrame(p, d->cut()) - 6 + std::int64_t(draw() % 12));
        const LaneChart* chart = window.views().lanes->findChild<LaneChart*>();
        if (chart && draw() % 3) {
            const Curve curve = curveAt(p, chart->address(Side::Outgoing));
            if (!curve.keys.empty()) {
                Curve next = curve;
                next.keys[draw() % next.keys.size()].value *= 0.9 + 0.2 * double(draw() % 100) / 100;
                d->apply("value", withCurve(p, chart->address(Side::Outgoing), next));
            }
        } else if (d->undoStack()->canUndo()) {
            d->undoStack()->undo();
        }
        QApplication::processEvents(QEventLoop::AllEvents, 30);
        // What a running event loop does by itself: rows of lanes that were replaced go.
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        if (second % 12 == 0) settle(window);
        most = std::max(most, residentMegabytes());
        if (second % 60 == 0)
            fmt::print(
                "after {} minutes: {:.0f} MB resident, pictures {:.0f} of at most {:.0f} MB, {:.0f} MB asked for, {} "
                "steps to undo\n",
                second / 60, residentMegabytes(), double(window.services().memoryUsed()) / 1e6,
                double(window.services().memory()) / 1e6, askedFor(), d->undoStack()->count());
    }
    fmt::print("memory over the hour: {:.0f} MB at its start, {:.0f} MB at most\n", start, most);
}

} // namespace

int main(int argc, char** argv) {
    giveMemoryBack(); // as the program does
    std::setvbuf(stdout, nullptr, _IOLBF, 0);
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    qputenv("XDG_DATA_HOME", home.path().toUtf8());
    qputenv("XDG_CACHE_HOME", home.path().toUtf8());
    QApplication::setStyle("Fusion");
    QApplication app(argc, argv);
    useTheme("night");
    if (argc < 2) {
        fmt::print("no project given\n");
        return 2;
    }
    const bool hour = argc > 2 && std::string(argv[2]) == "--hour";
    MainWindow window;
    window.services().player.useStandIn(true);
    window.resize(1280, 800);
    window.show();
    window.windowLayout()->setAssembling(false);
    if (argc > 2 && std::string(argv[2]) == "--only-hour") {
        editForAnHour(window, argv[1]);
        window.document()->undoStack()->setClean();
        return 0;
    }
    openProject(window, QString::fromLocal8Bit(argv[1]));
    Document* d = window.document();

    // 1. Drags, of what the demo has and of a heavier stack.
    d->select({Selection::CutSelected, 1});
    settle(window);
    measureDrags(window, "the demo's second cut");
    {
        Project p = *d->project();
        Move zoom = makeMove(MoveKind::Zoom, "bench-zoom"), spin = makeMove(MoveKind::Spin, "bench-spin"),
             warp = makeMove(MoveKind::Warp, "bench-warp"), glow = makeMove(MoveKind::Glow, "bench-glow");
        zoom.channels[0].outgoing.keys = {Key{-8, 1}, Key{0, 2.2}};
        spin.channels[0].outgoing.keys = {Key{-8, 0}, Key{0, 40}};
        warp.channels[0].outgoing.keys = {Key{-8, 0}, Key{0, 0.6}};
        glow.channels[0].outgoing.keys = {Key{-8, 0}, Key{0, 0.5}};
        p.reel[2].transition.moves = {zoom, spin, warp, glow};
        d->apply("stack", std::move(p));
        settle(window);
        measureDrags(window, "zoom, spin, warp and glow");
        d->undoStack()->undo();
        settle(window);
    }
    { // a general-purpose painter, one picture turned and scaled
        const QSize size = window.views().picture->image().size();
        QImage from(1280, 720, QImage::Format_RGBX8888), to(size, QImage::Format_RGB32);
        from.fill(Qt::darkCyan);
        Times times;
        for (int i = 0; i < 60; ++i) {
            QElapsedTimer clock;
            clock.start();
            QPainter p(&to);
            p.setRenderHint(QPainter::SmoothPixmapTransform);
            p.translate(size.width() / 2.0, size.height() / 2.0);
            p.rotate(i);
            p.scale(2.2, 2.2);
            p.drawImage(QPointF(-640, -360), from);
            p.end();
            times.milliseconds.push_back(double(clock.nsecsElapsed()) * 1e-6);
        }
        fmt::print("QPainter, one turned and scaled picture of {} x {} without blur: {:.1f} ms (median)\n",
                   size.width(), size.height(), times.at(0.5));
    }

    // 2. Each of the demo's cuts, twice, from nothing.
    for (int cut = 0; cut < cutCount(*d->project()); ++cut) {
        window.services().setMemory(64); // forgets everything
        window.services().setMemory(FrameService::usualBudget());
        d->select({Selection::CutSelected, cut});
        settle(window);
        window.services().player.setSpan(Player::CutSpan);
        window.services().frames.drop("ahead-");
        const Pass first = playRound(window);
        const Pass second = playRound(window);
        fmt::print("cut {}: first pass {} left out ({:.1f} shown a second), second pass {} left out\n", cut + 1,
                   first.left, first.shown / first.seconds, second.left);
    }

    // 3. A 4K shot.
    const std::filesystem::path shot = (home.path() + "/4k.mp4").toStdString();
    {
        EncoderSettings settings;
        settings.size = {3840, 2160};
        settings.rate = 25;
        settings.preset = "veryfast";
        settings.quality = 28;
        settings.keyInterval = 100;
        auto encoder = Encoder::open(shot, settings);
        if (!encoder) return 2;
        for (int n = 0; n < 150; ++n)
            if (!(*encoder)->addFrame(drawn(n).view())) return 2;
        if (!(*encoder)->finish()) return 2;
        Project p;
        p.settings.size = {1920, 1080};
        std::string id;
        p = withMedia(p, mediaFrom(*probe(shot)), &id);
        p = withClip(p, 0, clipFor(p, *findMedia(p, id)));
        if (!saveProject(p, (home.path() + "/4k.virga").toStdString())) return 2;
    }
    window.services().proxies.setOn(false);
    openProject(window, home.path() + "/4k.virga");
    window.services().player.setSpan(Player::ReelSpan);
    const Pass without = playRound(window);
    window.services().proxies.setOn(true);
    QElapsedTimer making;
    making.start();
    while (window.services().proxies.stateOf(d->project()->media[0]).kind != Proxies::State::Ready &&
           making.elapsed() < 300000)
        waitForEvents();
    const double made = double(making.elapsed()) * 1e-3;
    window.services().setMemory(64);
    window.services().setMemory(FrameService::usualBudget());
    const Pass with = playRound(window);
    fmt::print(
        "4K, 25 frames a second: {:.1f} shown a second; with its light copy {:.1f}, {} left out (made in {:.1f} s "
        "for 6 s of the shot)\n",
        without.shown / without.seconds, with.shown / with.seconds, with.left, made);
    QElapsedTimer bare;
    bare.start();
    if (std::system(("ffmpeg -v error -i '" + shot.string() + "' -f null -").c_str()) == 0)
        fmt::print("FFmpeg decoding it alone: {:.1f} a second\n", 150 / (double(bare.elapsed()) * 1e-3));
    if (!hour) return 0;

    editForAnHour(window, argv[1]);
    d->undoStack()->setClean();
    return 0;
}
