// A reel of 300 clips: how long it takes to open, to scroll, and how much memory it takes; beside the same number of
// pictures and names scrolled in Qt's own QGraphicsView in the same run.
// Usage: reel_benchmark SHOT...   (under Xvfb, or with QT_QPA_PLATFORM=offscreen)
#include <QApplication>
#include <QElapsedTimer>
#include <QGraphicsPixmapItem>
#include <QGraphicsScene>
#include <QGraphicsView>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fstream>

#include "app/reel/reel_view.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/project_files.h"
#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/project/project_file.h"

using namespace virga;

namespace {

double residentMegabytes() {
    std::ifstream status("/proc/self/statm");
    long pages = 0, resident = 0;
    status >> pages >> resident;
    return double(resident) * 4096 / 1e6;
}

void settle(MainWindow& window) {
    for (int calm = 0; calm < 3;) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        calm = window.isSettled() ? calm + 1 : 0;
    }
}

struct Times {
    std::vector<double> milliseconds;
    double at(double part) {
        std::sort(milliseconds.begin(), milliseconds.end());
        return milliseconds[std::size_t(part * double(milliseconds.size() - 1))];
    }
};

} // namespace

int main(int argc, char** argv) {
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    qputenv("XDG_DATA_HOME", home.path().toUtf8());
    qputenv("XDG_CACHE_HOME", home.path().toUtf8());
    QApplication::setStyle("Fusion");
    QApplication app(argc, argv);
    useTheme("night");
    Project project;
    project.settings.size = {1280, 720};
    project.settings.rate = 25;
    std::vector<std::string> ids;
    for (int i = 1; i < argc; ++i) {
        const auto info = probe(std::filesystem::absolute(argv[i]));
        if (!info || !info->video) continue;
        std::string id;
        project = withMedia(project, mediaFrom(*info), &id);
        ids.push_back(id);
    }
    if (ids.empty()) {
        fmt::print("no shots given\n");
        return 2;
    }
    for (int i = 0; i < 300; ++i) {
        Clip clip = clipFor(project, *findMedia(project, ids[std::size_t(i) % ids.size()]));
        clip.length = std::min<std::int64_t>(clip.length, 20 + i % 30);
        clip.sourceIn = Rational(i % 25, 25);
        project = withClip(project, i, clip);
    }
    const std::string path = (home.path() + "/long.virga").toStdString();
    if (!saveProject(project, path)) return 2;

    const double before = residentMegabytes();
    for (const char* which : {"first", "second", "third"}) {
        MainWindow window;
        window.resize(1600, 900);
        window.show();
        window.windowLayout()->setAssembling(true);
        QApplication::processEvents();
        QElapsedTimer clock;
        clock.start();
        window.files()->open(QString::fromStdString(path), false);
        QApplication::processEvents();
        window.views().reel->repaint();
        const double shown = double(clock.nsecsElapsed()) * 1e-6;
        // Thumbnails in sight, waveforms; the flow check and the exact picture go on behind.
        QElapsedTimer rest;
        rest.start();
        window.views().reel->zoomBy(12);
        window.views().reel->repaint();
        while (!window.services().thumbnails.isIdle()) QApplication::processEvents(QEventLoop::AllEvents, 5);
        const double filled = double(clock.nsecsElapsed()) * 1e-6;
        settle(window);
        fmt::print("open, {} time: shown after {:.0f} ms, all thumbnails in sight after {:.0f} ms, all at rest after "
                   "{:.1f} s\n",
                   which, shown, filled, double(clock.nsecsElapsed()) * 1e-9);
        if (std::string(which) != "third") continue;

        Times scroll, whole;
        ReelView* reel = window.views().reel;
        const auto wheel = [&](int steps) {
            const QPointF at(800, 150);
            QWheelEvent event(at, reel->mapToGlobal(at), {}, {0, steps * 120}, Qt::NoButton, {}, Qt::NoScrollPhase,
                              false);
            QApplication::sendEvent(reel, &event);
        };
        for (int round = 0; round < 2; ++round) // the second time everything has been in sight once
            for (int i = 0; i < 300; ++i) {
                wheel(i < 150 ? -1 : 1);
                QElapsedTimer frame;
                frame.start();
                reel->repaint();
                if (round == 1) scroll.milliseconds.push_back(double(frame.nsecsElapsed()) * 1e-6);
                QApplication::processEvents();
            }
        reel->fit();
        settle(window);
        for (int i = 0; i < 100; ++i) {
            QElapsedTimer frame;
            frame.start();
            reel->repaint();
            whole.milliseconds.push_back(double(frame.nsecsElapsed()) * 1e-6);
        }
        fmt::print("Reel {} x {}: scrolling at 12 x {:.2f} ms a redraw (median), {:.2f} ms (99th of 100); all 300 "
                   "clips in sight {:.2f} ms\n",
                   reel->width(), reel->height(), scroll.at(0.5), scroll.at(0.99), whole.at(0.5));
        fmt::print("memory: {:.0f} MB more than before; thumbnails {:.1f} of at most {} MB\n",
                   residentMegabytes() - before, double(window.services().thumbnails.bytes()) / 1e6,
                   96 * 1048576 / 1000000);
    }

    // The same many pictures and names in a general-purpose view.
    QGraphicsScene scene;
    QPixmap picture(270, 152);
    picture.fill(Qt::darkCyan);
    double x = 0;
    for (int i = 0; i < 300; ++i) {
        const double width = (20 + i % 30) * 9.0;
        for (double at = 0; at < width; at += 270) scene.addPixmap(picture)->setPos(x + at, 20);
        scene.addSimpleText(QStringLiteral("clip %1").arg(i))->setPos(x + 8, 2);
        scene.addRect(x, 0, width, 180);
        x += width;
    }
    QGraphicsView view(&scene);
    view.resize(1600, 350);
    view.show();
    QApplication::processEvents();
    Times general;
    for (int i = 0; i < 300; ++i) {
        view.horizontalScrollBar()->setValue(i * 80);
        QElapsedTimer frame;
        frame.start();
        view.viewport()->repaint();
        general.milliseconds.push_back(double(frame.nsecsElapsed()) * 1e-6);
    }
    fmt::print("QGraphicsView, pictures, names and frames alone: {:.2f} ms a redraw (median)\n", general.at(0.5));
    return 0;
}
