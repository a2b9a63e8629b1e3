// Forty lanes with two thousand keys: how long a redraw takes while keys are dragged, the axis is zoomed or the
// playhead moves; beside the same curves, speeds and keys as items of Qt's own QGraphicsView in the same run. Usage:
// lanes_benchmark   (under Xvfb, or with QT_QPA_PLATFORM=offscreen)
#include <QApplication>
#include <QElapsedTimer>
#include <QGraphicsPathItem>
#include <QGraphicsScene>
#include <QGraphicsView>
#include <QMouseEvent>
#include <QTemporaryDir>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>

#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lanes_view.h"
#include "app/style/theme.h"
#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"

using namespace virga;

namespace {

constexpr int keysASide = 25;

// Two long stills, 13 zooms, 13 spins and 7 slides at their cut: 40 lanes of 50 keys.
Project manyLanes() {
    Project p;
    p.settings = {.size = {1280, 720}, .rate = 25};
    Media still{.id = "media-1", .path = "/nowhere.png", .size = {1280, 720}, .still = true};
    p.media = {still};
    for (int i = 0; i < 2; ++i) {
        Clip clip;
        clip.mediaId = still.id;
        clip.name = i ? "Second heat" : "First heat";
        clip.length = 200;
        p = withClip(p, i, clip);
    }
    int lane = 0;
    for (const auto& [kind, count] :
         {std::pair(MoveKind::Zoom, 13), std::pair(MoveKind::Spin, 13), std::pair(MoveKind::Slide, 7)})
        for (int n = 0; n < count; ++n) {
            p = withMoveAdded(p, 0, kind);
            const int move = int(transitionAt(p, 0).moves.size()) - 1;
            const auto& info = moveInfo(kind).channels;
            for (int c = 0; c < int(info.size()); ++c, ++lane)
                for (const Side side : {Side::Outgoing, Side::Incoming}) {
                    Curve curve;
                    curve.space = info[std::size_t(c)].space;
                    for (int k = 0; k < keysASide; ++k) {
                        const double wave = std::sin(k * 0.9 + lane);
                        curve.keys.push_back({(side == Side::Outgoing ? k - keysASide + 1 : k) * 4.0,
                                              kind == MoveKind::Zoom   ? std::exp2(0.05 * wave)
                                              : kind == MoveKind::Spin ? 5 * wave
                                                                       : 0.05 * wave,
                                              Interpolation::Eased,
                                              {},
                                              {}});
                    }
                    p = withCurve(p, {0, move, c, side}, smoothed(curve, allKeys(curve)));
                }
        }
    return p;
}

struct Times {
    std::vector<double> milliseconds;
    double at(double part) {
        std::sort(milliseconds.begin(), milliseconds.end());
        return milliseconds[std::size_t(part * double(milliseconds.size() - 1))];
    }
};

Times timed(int count, const std::function<void(int)>& step) {
    Times times;
    QElapsedTimer clock;
    for (int i = 0; i < count; ++i) {
        clock.start();
        step(i);
        QApplication::processEvents();
        times.milliseconds.push_back(double(clock.nsecsElapsed()) * 1e-6);
    }
    return times;
}

void tell(const char* what, Times times) {
    fmt::print("{:<58} {:6.2f} ms (median), {:6.2f} ms (99th of {})\n", what, times.at(0.5), times.at(0.99),
               times.milliseconds.size());
}

void mouse(QWidget* widget, QEvent::Type type, QPointF at) {
    QMouseEvent event(type, at, widget->mapToGlobal(at), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                      type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, Qt::ShiftModifier);
    QApplication::sendEvent(widget, &event);
}

void measure(LanesView& lanes, Document& document, const char* how) {
    LaneContext& context = *lanes.context();
    LaneChart* chart = lanes.chart(0, 0);
    fmt::print("{}\n", how);
    const auto drag = [&](const KeySet& keys, const char* what) {
        context.select(keys);
        QApplication::processEvents();
        const QPointF from = chart->keyPoint(Side::Outgoing, 12) + QPointF(0, -9);
        mouse(chart, QEvent::MouseButtonPress, from);
        tell(what,
             timed(200, [&](int i) { mouse(chart, QEvent::MouseMove, from + QPointF(0, 8 + 6 * std::sin(i * 0.3))); }));
        mouse(chart, QEvent::MouseButtonRelease, from);
        document.undoStack()->undo();
    };
    drag({{{0, 0, 0, Side::Outgoing}, 12}}, "one key dragged");
    context.select(keysOfStack(*document.project(), 0));
    // All keys a little to and fro in time: every lane changes.
    const Project before = *document.project();
    tell("all 2,000 keys dragged in time", timed(200, [&](int i) {
             document.drag(withGroupsChanged(before, context.selected(),
                                             [&](const Curve& c, const KeyGroup& g, const CurveAddress&) {
                                                 return withGroupMoved(c, g, 0.4 * std::sin(i * 0.3), 0);
                                             }));
         }));
    document.cancelDrag();
    context.select({});
    tell("the axis zoomed",
         timed(200, [&](int i) { context.setFrames(context.frames().zoomed(i % 20 < 10 ? 1.02 : 1 / 1.02, 500)); }));
    tell("the playhead moved", timed(200, [&](int i) { document.setPlayhead(150 + i % 100); }));
}

} // namespace

int main(int argc, char** argv) {
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    QApplication::setStyle("Fusion");
    QApplication app(argc, argv);
    useTheme("night");
    Document document;
    document.apply("open", manyLanes());
    document.select({Selection::CutSelected, 0, {}});
    int keys = 0;
    for (const Move& move : transitionAt(*document.project(), 0).moves)
        for (const Channel& c : move.channels) keys += int(c.outgoing.keys.size() + c.incoming.keys.size());
    fmt::print("{} keys\n", keys);
    {
        LanesView lanes(&document, nullptr);
        lanes.resize(1600, 700); // as many as a window of 1600 x 1000 shows; the others are scrolled away
        lanes.show();
        QApplication::processEvents();
        measure(lanes, document, "a band of 1600 x 700, the others scrolled away:");
    }
    if (argc > 1) return 0; // the band only, for a profile
    LanesView lanes(&document, nullptr);
    lanes.resize(1600, 24 + 40 * laneHeight + laneHeight);
    lanes.show();
    QApplication::processEvents();
    measure(lanes, document, "all 40 lanes in sight, 1600 x 3550:");

    // The same drawn by Qt's own canvas: two curves, two speeds and fifty drops a lane, all changed for each redraw.
    QGraphicsScene scene;
    QGraphicsView view(&scene);
    view.setRenderHint(QPainter::Antialiasing);
    view.setBackgroundBrush(theme().chart);
    view.resize(1600, 24 + 41 * laneHeight);
    struct Item {
        QGraphicsPathItem* item;
        QPainterPath path;
        double dx;
    };
    std::vector<Item> items;
    QPainterPath drop(QPointF(0, 0));
    drop.cubicTo(QPointF(-1.2, -3.4), QPointF(-4.6, -5.2), QPointF(-4.6, -9));
    drop.arcTo(QRectF(-4.6, -13.6, 9.2, 9.2), 180, -180);
    drop.cubicTo(QPointF(4.6, -5.2), QPointF(1.2, -3.4), QPointF(0, 0));
    std::vector<QGraphicsPathItem*> drops;
    int lane = 0;
    for (const Move& move : transitionAt(*document.project(), 0).moves)
        for (const Channel& c : move.channels) {
            const double top = 24 + laneHeight * lane++;
            for (const Curve* curve : {&c.outgoing, &c.incoming}) {
                const ValueScale values{curve->space, -1, 1, top + 20, top + 76};
                const auto x = [](double t) { return 918 + t * 6.5; };
                QPainterPath path(QPointF(x(curve->keys[0].time), values.yOf(curve->keys[0].value)));
                QPolygonF speed;
                for (std::size_t i = 0; i + 1 < curve->keys.size(); ++i) {
                    const Key &a = curve->keys[i], &b = curve->keys[i + 1];
                    path.cubicTo(
                        x(a.time + 4 * a.leave.reach), values.yOfSpace(toSpace(a.value, curve->space) + a.leave.rise),
                        x(b.time - 4 * b.arrive.reach), values.yOfSpace(toSpace(b.value, curve->space) - b.arrive.rise),
                        x(b.time), values.yOf(b.value));
                    for (int k = 0; k < 6; ++k) speed << QPointF(x(a.time + k * 4.0 / 6), top + 80 - (k * 5) % 17);
                }
                QPainterPath fill;
                fill.addPolygon(speed);
                items.push_back({scene.addPath(path, QPen(theme().outgoing, 2)), path, 0});
                items.push_back({scene.addPath(fill, Qt::NoPen, theme().grid), fill, 0});
                for (const Key& k : curve->keys) {
                    auto* item = scene.addPath(drop, QPen(theme().chart), theme().outgoing);
                    item->setPos(x(k.time), values.yOf(k.value));
                    drops.push_back(item);
                }
            }
        }
    scene.setSceneRect(0, 0, 1590, 24 + 41 * laneHeight - 10);
    view.show();
    QApplication::processEvents();
    fmt::print("QGraphicsView, curves, fills and drops alone, 1600 x 3550:\n");
    tell("all moved", timed(100, [&](int i) {
             const double dx = 3 * std::sin(i * 0.3) - 3 * std::sin((i - 1) * 0.3);
             for (Item& item : items) {
                 item.path.translate(dx, 0);
                 item.item->setPath(item.path);
             }
             for (QGraphicsPathItem* d : drops) d->moveBy(dx, 0);
         }));
    return 0;
}
