#include "app/lanes/lane_picture.h"

#include "app/document/words.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPainterPath>
#include <QPixmap>
#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

#include "app/style/theme.h"

namespace virga {
namespace {

constexpr Side bothSides[] = {Side::Outgoing, Side::Incoming};

QColor sideColour(const LanePicture& lane, Side side) {
    if (lane.drift) return theme().text;
    return side == Side::Outgoing ? theme().outgoing : theme().incoming;
}

QColor faded(QColor colour, float alpha) {
    colour.setAlphaF(alpha);
    return colour;
}

// The tip is the exact value; the body hangs above it.
const QPainterPath& drop() {
    static const QPainterPath path = [] {
        QPainterPath p(QPointF(0, 0));
        p.cubicTo(QPointF(-1.2, -3.4), QPointF(-4.6, -5.2), QPointF(-4.6, -9));
        p.arcTo(QRectF(-4.6, -13.6, 9.2, 9.2), 180, -180);
        p.cubicTo(QPointF(4.6, -5.2), QPointF(1.2, -3.4), QPointF(0, 0));
        return p;
    }();
    return path;
}

// Drops are drawn once for each look and quarter of a pixel, then copied: a lane may have hundreds.
void paintDrop(QPainter& p, QPointF tip, const QColor& fill, const QPen& rim) {
    const int x4 = int(std::lround(tip.x() * 4)), y4 = int(std::lround(tip.y() * 4));
    const QPoint whole(x4 >> 2, y4 >> 2), quarter(x4 & 3, y4 & 3);
    const double dpr = p.device()->devicePixelRatioF();
    using Look = std::tuple<QRgb, QRgb, int, int, int, int>;
    static std::map<Look, QPixmap> kept; // interface thread only
    if (kept.size() > 2000) kept.clear();
    QPixmap& pixmap =
        kept[{fill.rgba(), rim.color().rgba(), int(rim.widthF() * 100), quarter.x(), quarter.y(), int(dpr * 100)}];
    if (pixmap.isNull()) {
        pixmap = QPixmap(QSizeF(QSizeF(14, 20) * dpr).toSize());
        pixmap.setDevicePixelRatio(dpr);
        pixmap.fill(Qt::transparent);
        QPainter q(&pixmap);
        q.setRenderHint(QPainter::Antialiasing);
        q.translate(QPointF(6, 16) + QPointF(quarter) / 4);
        q.setPen(rim);
        q.setBrush(fill);
        q.drawPath(drop());
    }
    p.drawPixmap(whole - QPoint(6, 16), pixmap);
}

// Round values for the axis, in the lane's space.
std::vector<double> gridValues(const ValueScale& values, const ChannelInfo& info) {
    std::vector<double> result;
    if (values.space == Space::Log2) {
        if (values.high - values.low > 0.8) return {0.1, 0.25, 0.5, 1.0, 2.0, 4.0, 10.0, 25.0};
        const double low = std::exp2(values.low), high = std::exp2(values.high);
        for (const double step : {0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 5.0})
            if ((high - low) / step <= 5) {
                for (double v = std::ceil(low / step) * step; v <= high; v += step) result.push_back(v);
                break;
            }
        return result;
    }
    if (values.space == Space::Depth) return {-9, -4, -1, 0, 0.5, 0.75, 0.9, 0.95};
    const double span = values.high - values.low;
    const std::vector<double> steps =
        info.quantity == Quantity::Angle
            ? std::vector<double>{1, 5, 15, 45, 90, 180, 360, 720, 1440, 3600, 7200}
            : std::vector<double>{0.005, 0.01, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 25, 50, 100};
    double step = steps.back();
    for (const double s : steps)
        if (span / s <= 4) {
            step = s;
            break;
        }
    for (double v = std::ceil(values.low / step) * step; v <= values.high && result.size() < 40; v += step)
        result.push_back(std::abs(v) < 1e-9 ? 0 : v);
    return result;
}

// A cubic in time and value is a cubic on the chart: both axes are straight in the curve's space. Taken along its own
// parameter, a point for every few pixels: strokes of that are several times as fast as Qt's of the curve itself.
void addSegment(QPolygonF& line, const LanePicture& lane, const Curve& curve, std::size_t i, const FrameScale& frames) {
    const Key &a = curve.keys[i], &b = curve.keys[i + 1];
    const double va = toSpace(a.value, curve.space), vb = toSpace(b.value, curve.space), d = b.time - a.time;
    const auto at = [&](double t, double v) { return QPointF(frames.xOf(t), lane.axes.values.yOfSpace(v)); };
    const QPointF from = at(a.time, va), end = at(b.time, vb);
    if (a.next == Interpolation::Hold) line << at(b.time, va);
    if (a.next == Interpolation::Eased) {
        const QPointF p = at(a.time + std::clamp(a.leave.reach, 0.0, 1.0) * d, va + a.leave.rise),
                      q = at(b.time - std::clamp(b.arrive.reach, 0.0, 1.0) * d, vb - b.arrive.rise);
        // How far the inner points lie off the chord tells how many pieces keep within a tenth of a pixel.
        const double bend =
            std::hypot(std::max(std::abs(from.x() - 2 * p.x() + q.x()), std::abs(p.x() - 2 * q.x() + end.x())),
                       std::max(std::abs(from.y() - 2 * p.y() + q.y()), std::abs(p.y() - 2 * q.y() + end.y())));
        const int pieces = std::clamp(int(std::ceil(std::sqrt(0.75 * bend / 0.1))), 1, 200);
        for (int k = 1; k < pieces; ++k) {
            const double s = double(k) / pieces, r = 1 - s;
            line << r * r * r * from + 3 * r * r * s * p + 3 * r * s * s * q + s * s * s * end;
        }
    }
    line << end;
}

// The runs of a curve that are in sight.
std::vector<QPolygonF> linesOf(const LanePicture& lane, const Curve& curve, const FrameScale& frames) {
    std::vector<QPolygonF> lines;
    bool going = false;
    for (std::size_t i = 0; i + 1 < curve.keys.size(); ++i) {
        const double x0 = frames.xOf(curve.keys[i].time), x1 = frames.xOf(curve.keys[i + 1].time);
        if (x1 < -20 || x0 > lane.size.width() + 20) {
            going = false;
            continue;
        }
        if (!going) lines.push_back({QPointF(x0, lane.axes.values.yOf(curve.keys[i].value))});
        going = true;
        addSegment(lines.back(), lane, curve, i, frames);
    }
    return lines;
}

void drawLines(QPainter& p, const std::vector<QPolygonF>& lines) {
    for (const QPolygonF& line : lines) p.drawPolyline(line);
}

void paintGhosts(QPainter& p, const LanePicture& lane) {
    for (const Ghost& ghost : lane.ghosts) {
        if (ghost.curve.keys.size() < 2) continue;
        const FrameScale frames = lane.axes.frames[1].from(ghost.frame);
        p.setPen(
            QPen(faded(ghost.side == Side::Outgoing ? theme().outgoing : theme().incoming, 0.4f), 1.3, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        drawLines(p, linesOf(lane, ghost.curve, frames));
    }
    p.setPen(Qt::NoPen);
    p.setBrush(faded(theme().text, 0.45f));
    for (const LanePicture::OwnDot& dot : lane.own)
        p.drawEllipse(QPointF(dot.x, lane.axes.values.yOf(dot.value)), 1.5, 1.5);
}

// Where the frames of a side are on screen, in pixels.
std::pair<double, double> shownOf(const LanePicture& lane, Side side) {
    const double zero = lane.axes.of(side).xOf(0), width = lane.size.width();
    if (lane.drift || !lane.joint) return {0, width};
    return side == Side::Outgoing ? std::pair(0.0, zero) : std::pair(zero, width);
}

void paintSpeed(QPainter& p, const LanePicture& lane, Side side) {
    const Curve& curve = lane.channel.side(side);
    if (curve.keys.size() < 2) return;
    const FrameScale& frames = lane.axes.of(side);
    const SpeedScale& speeds = lane.axes.speeds;
    // Along each segment by its own parameter, so that nothing has to be solved for.
    QPolygonF line;
    for (std::size_t i = 0; i + 1 < curve.keys.size(); ++i) {
        const Key &a = curve.keys[i], &b = curve.keys[i + 1];
        const double x0 = frames.xOf(a.time), x1 = frames.xOf(b.time);
        if (x1 < 0 || x0 > lane.size.width()) continue;
        const double d = b.time - a.time, change = toSpace(b.value, curve.space) - toSpace(a.value, curve.space);
        if (a.next != Interpolation::Eased) {
            const double y = speeds.yOf(a.next == Interpolation::Hold ? 0 : change / d);
            line << QPointF(x0, y) << QPointF(x1, y);
            continue;
        }
        const double r0 = std::clamp(a.leave.reach, 0.0, 1.0), r1 = std::clamp(b.arrive.reach, 0.0, 1.0);
        const int pieces = std::clamp(int((x1 - x0) / 4), 4, 96);
        for (int k = 0; k <= pieces; ++k) {
            const double s = std::clamp(double(k) / pieces, 1e-4, 1 - 1e-4), q = 1 - s;
            const double dx = 3 * (q * q * r0 + 2 * q * s * (1 - r1 - r0) + s * s * r1);
            const double dy = 3 * (q * q * a.leave.rise + 2 * q * s * (change - a.leave.rise - b.arrive.rise) +
                                   s * s * b.arrive.rise);
            const double x = 3 * q * q * s * r0 + 3 * q * s * s * (1 - r1) + s * s * s;
            line << QPointF(x0 + (x1 - x0) * x, std::max(-20.0, speeds.yOf(dy / (std::max(dx, 1e-9) * d))));
        }
    }
    if (line.size() < 2) return;
    const auto [from, to] = shownOf(lane, side);
    p.save();
    p.setClipRect(QRectF(from, 0, to - from, lane.size.height()));
    const bool hot = (lane.hover.what == LaneHit::OnSpeed && lane.hover.side == side) ||
                     (lane.dragged.what == LaneHit::OnSpeed && lane.dragged.side == side);
    QPolygonF fill = line;
    fill << QPointF(line.back().x(), speeds.floor) << QPointF(line.front().x(), speeds.floor);
    p.setPen(Qt::NoPen);
    p.setBrush(faded(sideColour(lane, side), hot ? 0.24f : 0.14f));
    p.setRenderHint(QPainter::Antialiasing, false); // the line on its edge is smooth
    p.drawPolygon(fill);
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(faded(sideColour(lane, side), hot ? 0.95f : 0.34f), hot ? 1.6 : 1));
    p.drawPolyline(line);
    p.restore();
}

void paintCurve(QPainter& p, const LanePicture& lane, Side side) {
    const Curve& curve = lane.channel.side(side);
    if (curve.isEmpty()) return;
    const FrameScale& frames = lane.axes.of(side);
    const double width = lane.size.width(), first = frames.xOf(curve.keys.front().time),
                 last = frames.xOf(curve.keys.back().time), zero = frames.xOf(0);
    const QColor c = sideColour(lane, side);
    const auto [from, to] = shownOf(lane, side);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(faded(c, 0.45f), 1)); // where it holds
    const double yFirst = lane.axes.values.yOf(curve.keys.front().value),
                 yLast = lane.axes.values.yOf(curve.keys.back().value);
    const bool holds = lane.wholes.empty(); // else it is told below
    if (holds && first > from) p.drawLine(QPointF(from, yFirst), QPointF(std::min(first, to), yFirst));
    if (holds && last < to) p.drawLine(QPointF(std::max(last, from), yLast), QPointF(to, yLast));
    const auto lines = linesOf(lane, curve, frames);
    p.save();
    p.setClipRect(QRectF(from, 0, to - from, lane.size.height()));
    p.setPen(QPen(c, 2));
    drawLines(p, lines);
    p.restore();
    const bool past = lane.joint && !lane.drift && (side == Side::Outgoing ? last > zero : first < zero);
    if (past) { // past the cut the curve is not on screen: dashed up to its key
        p.save();
        p.setClipRect(side == Side::Outgoing ? QRectF(zero, 0, width - zero, lane.size.height())
                                             : QRectF(0, 0, zero, lane.size.height()));
        p.setPen(QPen(c, 1.4, Qt::DashLine));
        drawLines(p, lines);
        p.restore();
    }
    if (frames.pixelsPerFrame < 16 || curve.keys.size() < 2) return;
    // What each frame really shows.
    p.setPen(Qt::NoPen);
    p.setBrush(c);
    const double begin = std::max(from, std::max(first, 0.0)), end = std::min(to, std::min(last, width));
    for (double n = std::ceil(frames.frameAt(begin) - 1e-9); frames.xOf(n) <= end + 1e-9; ++n) {
        if (lane.joint && !lane.drift && side == Side::Outgoing && n >= 0) break;
        p.drawEllipse(QPointF(frames.xOf(n), lane.axes.values.yOf(evaluate(curve, n))), 1.9, 1.9);
    }
}

void paintWholes(QPainter& p, const LanePicture& lane) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(faded(theme().text, 0.5f), 1));
    const FrameScale& axis = lane.axes.frames[1];
    for (const LanePicture::Whole& whole : lane.wholes) {
        const double from = std::max(0.0, axis.xOf(whole.from)),
                     to = std::min(double(lane.size.width()), axis.xOf(whole.to));
        QPolygonF line;
        for (double x = from; x <= to; x += 2)
            line << QPointF(x, lane.axes.values.yOf(evaluate(whole.curve, axis.frameAt(x) - whole.origin)));
        p.drawPolyline(line);
    }
}

// The pictures of the shots that are shown, by their numbers.
void paintBelow(QPainter& p, const LanePicture& lane) {
    p.setFont(numberFont(9));
    for (const LanePicture::Below& mark : lane.below) {
        if (mark.pinned) { // the number leaves room
            p.setPen(Qt::NoPen);
            p.setBrush(theme().playhead);
            const double y = lane.size.height() - 3;
            p.drawPolygon(QPolygonF({QPointF(mark.x - 4, y), QPointF(mark.x + 4, y), QPointF(mark.x, y - 6)}));
            continue;
        }
        p.setPen(mark.there ? theme().faint : theme().breaks);
        p.drawText(QRectF(mark.x - 40, lane.size.height() - 15, 80, 12), Qt::AlignCenter, QString::number(mark.number));
    }
}

// What goes by its own clock, thin, beside its amount.
void paintPattern(QPainter& p, const LanePicture& lane, Side side) {
    const Curve& curve = lane.channel.side(side);
    if (!lane.kind || !lane.kind->pattern || curve.isEmpty()) return;
    const FrameScale& frames = lane.axes.of(side);
    const auto [from, to] = shownOf(lane, side);
    MoveValues values;
    values.parameters = lane.parameters;
    QPolygonF line;
    for (double x = std::max(0.0, from); x <= std::min(double(lane.size.width()), to); x += 1.5) {
        const double t = frames.frameAt(x);
        values.channels[0] = evaluate(curve, t);
        values.seconds = (t + lane.clock) / lane.framesPerSecond;
        line << QPointF(x, lane.axes.values.yOf(lane.kind->pattern(values)));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(faded(sideColour(lane, side), 0.75f), 1));
    p.drawPolyline(line);
}

// A small text on a dark ground, kept inside the lane.
void paintChip(QPainter& p, const LanePicture& lane, QPointF tip, const QString& text, const QColor& colour) {
    p.setFont(numberFont(10));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 8;
    QRectF chip(tip.x() + 9, tip.y() - 18, w, 15);
    if (chip.right() > lane.size.width() - 4) chip.moveRight(tip.x() - 9);
    if (chip.left() < 4) chip.moveLeft(4);
    chip.moveTop(std::clamp(chip.top(), 2.0, std::max(2.0, lane.size.height() - 18.0)));
    p.setPen(Qt::NoPen);
    p.setBrush(faded(theme().chart, 0.86f));
    p.drawRoundedRect(chip, 2, 2);
    p.setPen(colour);
    p.drawText(chip, Qt::AlignCenter, text);
}

QString frameText(double frame) {
    QString text = QString::number(std::abs(frame), 'f', std::abs(frame - std::round(frame)) < 5e-3 ? 0 : 2);
    return (frame < 0 ? QStringLiteral("−") : frame > 0 ? QStringLiteral("+") : QString()) + text;
}

QString speedText(double speed, const LanePicture& lane) {
    const ChannelInfo& info = *lane.info;
    const QString unit = lane.axes.values.space != Space::Linear ? QStringLiteral(" doublings") // of size
                                                                 : textOf(info.unit);
    return QCoreApplication::translate("LanePicture", "%1%2 a frame")
        .arg(QString::number(speed, 'f', 3).replace('-', QStringLiteral("−")), unit);
}

void paintHandles(QPainter& p, const LanePicture& lane, Side side) {
    const Curve& curve = lane.channel.side(side);
    const FrameScale& frames = lane.axes.of(side);
    const QColor c = sideColour(lane, side);
    for (const HandleRef& h : shownHandles(curve, lane.selected.of(side))) {
        const auto ring = h.leave ? leaveHandleAt(curve, h.key, frames, lane.axes.values)
                                  : arriveHandleAt(curve, h.key, frames, lane.axes.values);
        if (!ring) continue;
        const Key& k = curve.keys[std::size_t(h.key)];
        const LaneHit self{h.leave ? LaneHit::OnLeave : LaneHit::OnArrive, side, h.key};
        const bool hot = lane.hover == self || lane.dragged == self;
        p.setPen(QPen(c, 1));
        p.drawLine(QPointF(frames.xOf(k.time), lane.axes.values.yOf(k.value)), QPointF(ring->x, ring->y));
        p.setPen(QPen(hot ? theme().strong : c, 1.6));
        p.setBrush(theme().chart);
        p.drawEllipse(QPointF(ring->x, ring->y), 3.6, 3.6);
    }
}

void paintKeys(QPainter& p, const LanePicture& lane, Side side) {
    const Curve& curve = lane.channel.side(side);
    const FrameScale& frames = lane.axes.of(side);
    const KeyGroup& selected = lane.selected.of(side);
    const QColor c = sideColour(lane, side);
    for (int i = 0; i < int(curve.keys.size()); ++i) {
        const Key& k = curve.keys[std::size_t(i)];
        const QPointF tip(frames.xOf(k.time), lane.axes.values.yOf(k.value));
        if (tip.x() < -10 || tip.x() > lane.size.width() + 10) continue;
        const bool chosen = std::binary_search(selected.begin(), selected.end(), i);
        const bool hot = lane.hover == LaneHit{LaneHit::OnKey, side, i};
        paintDrop(p, tip, chosen ? theme().strong : c,
                  chosen ? QPen(c, 1.6)
                  : hot  ? QPen(theme().strong, 1.2)
                         : QPen(theme().chart, 1));
    }
}

// What is told beside a key, a curve or a speed.
void paintWords(QPainter& p, const LanePicture& lane, Side side) {
    const Curve& curve = lane.channel.side(side);
    const FrameScale& frames = lane.axes.of(side);
    const KeyGroup& selected = lane.selected.of(side);
    const QColor c = sideColour(lane, side);
    // The value under the pointer's or the only selected key; on a curve what that frame shows.
    const int told = lane.hover.what == LaneHit::OnKey && lane.hover.side == side ? lane.hover.key
                     : selected.size() == 1                                       ? selected.front()
                                                                                  : -1;
    if (told >= 0 && told < int(curve.keys.size())) {
        const Key& k = curve.keys[std::size_t(told)];
        QString text = valueText(k.value, *lane.info);
        if (lane.joint && !lane.drift && side == Side::Outgoing && k.time > -1) // what is reached on the last frame
            text += QCoreApplication::translate("LanePicture", "  on frame −1: %1")
                        .arg(valueText(evaluate(curve, -1), *lane.info));
        paintChip(p, lane, {frames.xOf(k.time), lane.axes.values.yOf(k.value)}, text, c);
    } else if (lane.hover.what == LaneHit::OnCurve && lane.hover.side == side) {
        const double t = std::round(frames.frameAt(lane.axes.frames[1].xOf(lane.hoverFrame)));
        paintChip(p, lane, {frames.xOf(t), lane.axes.values.yOf(evaluate(curve, t))},
                  QStringLiteral("%1: %2").arg(frameText(t), valueText(evaluate(curve, t), *lane.info)), c);
    }
    const LaneHit& speed = lane.dragged.what == LaneHit::OnSpeed ? lane.dragged : lane.hover;
    if (speed.what == LaneHit::OnSpeed && speed.side == side) {
        const double t = frames.frameAt(lane.axes.frames[1].xOf(lane.hoverFrame)),
                     v = side == Side::Outgoing ? speedBefore(curve, t) : speedAfter(curve, t);
        paintChip(p, lane, {frames.xOf(t), lane.axes.speeds.yOf(v)}, speedText(v, lane), c);
    }
}

void paintGrid(QPainter& p, const LanePicture& lane) {
    const ValueScale& values = lane.axes.values;
    p.setFont(numberFont(10));
    double lastLabel = 1e9;
    for (const double v : gridValues(values, *lane.info)) {
        const double y = std::floor(values.yOf(v)) + 0.5;
        if (y < 4 || y > lane.size.height() - 2) continue;
        p.setPen(QPen(v == lane.info->neutral ? theme().line : theme().grid, 1));
        p.drawLine(QPointF(0, y), QPointF(lane.size.width(), y));
        if (y < 14 || lastLabel - y < 14) continue; // labels stand above their lines, never on each other
        lastLabel = y;
        p.setPen(theme().dim);
        const QString number = QString::number(v, 'g', 4).replace('-', QStringLiteral("−"));
        p.drawText(QRectF(5, y - 13, 60, 12), Qt::AlignLeft | Qt::AlignVCenter,
                   number + QString::fromUtf8(lane.info->unit.data(), int(lane.info->unit.size())));
    }
}

// A folded lane shows where its keys are, and no more.
void paintFolded(QPainter& p, const LanePicture& lane) {
    const double y = lane.size.height() / 2.0;
    for (const Side side : bothSides) {
        const Curve& curve = lane.channel.side(side);
        if (curve.isEmpty()) continue;
        const FrameScale& frames = lane.axes.of(side);
        const QColor c = sideColour(lane, side);
        p.setPen(QPen(faded(c, 0.6f), 2));
        p.drawLine(QPointF(frames.xOf(curve.keys.front().time), y), QPointF(frames.xOf(curve.keys.back().time), y));
        for (int i = 0; i < int(curve.keys.size()); ++i) {
            const bool chosen = std::binary_search(lane.selected.of(side).begin(), lane.selected.of(side).end(), i);
            p.setPen(QPen(chosen ? c : theme().chart, 1));
            p.setBrush(chosen ? theme().strong : c);
            p.drawEllipse(QPointF(frames.xOf(curve.keys[std::size_t(i)].time), y), 3.5, 3.5);
        }
    }
}

} // namespace

QString valueText(double value, const ChannelInfo& info) {
    QString text = QString::number(value, 'f', info.decimals);
    if (text.startsWith('-') && text.toDouble() == 0) text.remove(0, 1);
    return text.replace('-', QStringLiteral("−")) + textOf(info.unit);
}

void paintFrameGrid(QPainter& p, const QRect& r, const FrameScale& frames) {
    const int step = frames.labelStep();
    p.setPen(QPen(theme().grid, 1));
    const int first = int(std::floor(frames.frameAt(r.left()) / step)) * step;
    for (int n = first; n <= frames.frameAt(r.right()); n += step) {
        const double x = std::floor(frames.xOf(n)) + 0.5;
        p.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()));
    }
}

void paintPlayhead(QPainter& p, const QRect& r, double x) {
    p.fillRect(QRectF(std::floor(x), r.top(), 1, r.height()), theme().playhead);
}

void paintCutLine(QPainter& p, const QRect& r, double x) {
    p.fillRect(QRectF(x - 1, r.top(), 2, r.height()), theme().strong);
}

LanePicture contentOf(const LanePicture& lane) {
    LanePicture content = lane;
    content.playhead.reset();
    content.guide.reset();
    content.box = {};
    content.focused = false;
    content.hoverFrame = 0;
    if (content.hover.what == LaneHit::OnCurve) content.hover = {};
    return content;
}

void paintLaneContent(QPainter& p, const LanePicture& lane) {
    const QRect all(QPoint(0, 0), lane.size);
    const FrameScale& axis = lane.axes.frames[1];
    p.fillRect(all, theme().chart);
    if (!lane.info) return;
    // Beyond the clips nothing of this stack is seen.
    for (const auto& [from, to] :
         {std::pair(0.0, axis.xOf(lane.clipFrom)), std::pair(axis.xOf(lane.clipTo), double(lane.size.width()))})
        if (to > from) p.fillRect(QRectF(from, 0, to - from, lane.size.height()), theme().window);
    p.setRenderHint(QPainter::Antialiasing, false);
    paintFrameGrid(p, all, axis);
    if (!lane.folded) paintGrid(p, lane);
    p.setRenderHint(QPainter::Antialiasing);
    const double opacity = lane.on ? 1 : 0.35;
    p.setOpacity(opacity);
    if (!lane.folded) {
        paintGhosts(p, lane);
        paintWholes(p, lane);
        paintBelow(p, lane);
        for (const Side side : bothSides) paintSpeed(p, lane, side);
        for (const Side side : bothSides) paintPattern(p, lane, side);
        for (const Side side : bothSides) paintCurve(p, lane, side);
    }
    p.setOpacity(1);
    if (lane.joint) paintCutLine(p, all, axis.xOf(0));
    p.setOpacity(opacity);
    if (lane.folded) {
        paintFolded(p, lane);
    } else {
        for (const Side side : bothSides) paintHandles(p, lane, side);
        for (const Side side : bothSides) paintKeys(p, lane, side);
    }
    p.setOpacity(1);
    p.fillRect(QRectF(0, lane.size.height() - 1, lane.size.width(), 1), theme().line);
}

void paintLaneOverlay(QPainter& p, const LanePicture& lane) {
    const QRect all(QPoint(0, 0), lane.size);
    const FrameScale& axis = lane.axes.frames[1];
    if (!lane.info) return;
    if (lane.guide) {
        p.setPen(QPen(theme().dim, 1, Qt::DashLine));
        const double x = std::floor(axis.xOf(*lane.guide)) + 0.5;
        p.drawLine(QPointF(x, 0), QPointF(x, lane.size.height()));
    }
    if (lane.playhead) paintPlayhead(p, all, axis.xOf(*lane.playhead));
    if (!lane.folded)
        for (const Side side : bothSides) paintWords(p, lane, side);
    if (!lane.box.isNull()) {
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setPen(QPen(theme().strong, 1, Qt::DotLine));
        p.setBrush(faded(theme().strong, 0.07f));
        p.drawRect(lane.box);
    }
    if (lane.focused) p.fillRect(QRectF(0, 0, 2, lane.size.height() - 1), theme().dim);
}

} // namespace virga
