#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/lanes/lane_chart.h"
#include "app/style/theme.h"

namespace virga {
namespace {

QColor sideColour(Side side) {
    return side == Side::Outgoing ? theme().outgoing : theme().incoming;
}

// The tip is the exact value; the body hangs above it.
QPainterPath drop(QPointF tip) {
    QPainterPath path(tip);
    path.cubicTo(tip + QPointF(-1.2, -3.4), tip + QPointF(-4.6, -5.2), tip + QPointF(-4.6, -9));
    path.arcTo(QRectF(tip.x() - 4.6, tip.y() - 13.6, 9.2, 9.2), 180, -180);
    path.cubicTo(tip + QPointF(4.6, -5.2), tip + QPointF(1.2, -3.4), tip);
    return path;
}

// Round values for the axis, in the lane's space.
std::vector<double> gridValues(const ValueScale& values, const ChannelInfo& info) {
    std::vector<double> result;
    if (values.space == Space::Log2) {
        for (const double v : {0.1, 0.25, 0.5, 1.0, 2.0, 4.0, 10.0, 25.0}) result.push_back(v);
    } else {
        const double span = values.high - values.low;
        const std::vector<double> steps = info.unit == "°"
                                              ? std::vector<double>{15, 45, 90, 180, 360, 720, 1440, 3600}
                                              : std::vector<double>{0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 25, 50};
        double step = steps.back();
        for (const double s : steps)
            if (span / s <= 4) {
                step = s;
                break;
            }
        for (double v = std::ceil(values.low / step) * step; v <= values.high; v += step)
            result.push_back(std::abs(v) < 1e-9 ? 0 : v);
    }
    return result;
}

} // namespace

void paintFrameGrid(QPainter& p, const QRect& r, const FrameScale& frames) {
    const int step = frames.labelStep();
    p.setPen(QPen(theme().grid, 1));
    const int first = int(std::floor(frames.frameAt(r.left()) / step)) * step;
    for (int n = first; n <= frames.frameAt(r.right()); n += step) {
        const double x = std::floor(frames.xOf(n)) + 0.5;
        p.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()));
    }
}

void paintCutAndPlayhead(QPainter& p, const QRect& r, const LaneContext& context) {
    const double x = context.frames().xOf(0);
    p.fillRect(QRectF(x - 1, r.top(), 2, r.height()), theme().strong);
    const double at = context.frames().xOf(context.playheadFromCut());
    p.fillRect(QRectF(std::floor(at), r.top(), 1, r.height()), theme().playhead);
}

void LaneChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().chart);
    if (!isThere()) return;
    paintFrameGrid(p, rect(), m_context->frames());
    paintGrid(p);
    p.setOpacity(move().enabled ? 1 : 0.35);
    for (const Side side : {Side::Outgoing, Side::Incoming}) paintSpeed(p, side);
    for (const Side side : {Side::Outgoing, Side::Incoming}) paintSide(p, side);
    p.setOpacity(1);
    paintCutAndPlayhead(p, rect(), *m_context);
    p.setOpacity(move().enabled ? 1 : 0.35);
    for (const Side side : {Side::Outgoing, Side::Incoming}) paintKeys(p, side);
    p.setOpacity(1);
    p.fillRect(QRectF(0, height() - 1, width(), 1), theme().line);
}

void LaneChart::paintGrid(QPainter& p) const {
    p.setFont(numberFont(10));
    double lastY = 1e9;
    for (const double value : gridValues(m_values, info())) {
        const double y = m_values.yOf(value);
        if (y < 8 || y > height() - 6) continue;
        p.setPen(QPen(value == info().neutral ? theme().line : theme().grid, 1));
        p.drawLine(QPointF(0, std::floor(y) + 0.5), QPointF(width(), std::floor(y) + 0.5));
        if (lastY - y < 13 || y < 14) continue;
        lastY = y;
        QString text = QString::number(value, 'g', 4) + QString::fromUtf8(info().unit.data(), int(info().unit.size()));
        text.replace("-", "−");
        const QRectF where(5, y - 13, QFontMetricsF(p.font()).horizontalAdvance(text) + 3, 12);
        p.setPen(theme().dim);
        p.drawText(where, Qt::AlignLeft | Qt::AlignVCenter, text);
    }
}

void LaneChart::paintSpeed(QPainter& p, Side side) const {
    const Curve& curve = channel().side(side);
    if (curve.keys.size() < 2) return;
    // Speed as a faint fill from the floor, both sides on one scale.
    double fastest = 1e-9;
    for (const Side s : {Side::Outgoing, Side::Incoming}) {
        const Curve& c = channel().side(s);
        if (c.keys.size() < 2) continue;
        for (int i = 0; i <= 64; ++i) {
            const double t = c.keys.front().time + (c.keys.back().time - c.keys.front().time) * i / 64;
            if (s == Side::Outgoing ? t <= 0 : t >= 0)
                fastest = std::max(fastest, std::abs(s == Side::Outgoing ? speedBefore(c, t) : speedAfter(c, t)));
        }
    }
    const FrameScale& frames = m_context->frames();
    const double from = side == Side::Outgoing ? frames.xOf(curve.keys.front().time)
                                               : frames.xOf(std::max(0.0, curve.keys.front().time));
    const double to =
        side == Side::Outgoing ? frames.xOf(std::min(0.0, curve.keys.back().time)) : frames.xOf(curve.keys.back().time);
    const double most = height() * 0.3, floor = height() - 1;
    QPainterPath fill(QPointF(from, floor));
    for (double x = from; x < to + 2; x += 2) {
        const double at = std::min(x, to), t = frames.frameAt(at);
        fill.lineTo(at, floor - most * std::min(1.0, std::abs(side == Side::Outgoing ? speedBefore(curve, t)
                                                                                     : speedAfter(curve, t)) /
                                                         fastest));
    }
    fill.lineTo(to, floor);
    QColor c = sideColour(side);
    c.setAlphaF(0.16f);
    p.setPen(Qt::NoPen);
    p.setBrush(c);
    p.drawPath(fill);
}

void LaneChart::paintSide(QPainter& p, Side side) const {
    const Curve& curve = channel().side(side);
    if (curve.isEmpty()) return;
    const FrameScale& frames = m_context->frames();
    const auto at = [&](double t) { return QPointF(frames.xOf(t), m_values.yOf(evaluate(curve, t))); };
    const auto stretch = [&](double from, double to) {
        QPainterPath path(at(from));
        const double step = std::max(0.02, 1.5 / frames.pixelsPerFrame);
        for (double t = from + step; t < to; t += step) path.lineTo(at(t));
        path.lineTo(at(to));
        return path;
    };
    const double first = curve.keys.front().time, last = curve.keys.back().time;
    QColor c = sideColour(side), thin = c;
    thin.setAlphaF(0.45f);
    p.setBrush(Qt::NoBrush);
    const bool out = side == Side::Outgoing;
    const double shownFrom = out ? frames.frameAt(0) : 0, shownTo = out ? 0 : frames.frameAt(width());
    p.setPen(QPen(thin, 1)); // where it holds
    if (shownFrom < first) p.drawLine(at(shownFrom), at(std::min(first, shownTo)));
    if (shownTo > last) p.drawLine(at(std::max(last, shownFrom)), at(shownTo));
    p.setPen(QPen(c, 2));
    const double a = std::max(first, shownFrom), b = std::min(last, shownTo);
    if (a < b) p.drawPath(stretch(a, b));
    // Past the cut the curve is not on screen: dashed up to its key.
    p.setPen(QPen(c, 1.4, Qt::DashLine));
    if (out && last > 0) p.drawPath(stretch(std::max(first, 0.0), last));
    if (!out && first < 0) p.drawPath(stretch(first, std::min(last, 0.0)));
}

void LaneChart::paintKeys(QPainter& p, Side side) const {
    const Curve& curve = channel().side(side);
    const auto s = selected();
    const QColor c = sideColour(side);
    if (s && s->side == side) {
        for (const int key : {s->key - 1, s->key, s->key + 1}) {
            if (key < 0 || key >= int(curve.keys.size())) continue;
            const QPointF tip = keyPoint(side, key);
            for (const bool leave : {true, false}) {
                if ((leave && key > s->key) || (!leave && key < s->key))
                    continue; // only the segments at the selected key
                const auto ring = handlePoint(side, key, leave);
                if (!ring) continue;
                p.setPen(QPen(c, 1));
                p.drawLine(tip, *ring);
                const bool hot = m_hover.side == side && m_hover.key == key &&
                                 m_hover.what == (leave ? LaneHit::OnLeave : LaneHit::OnArrive);
                p.setPen(QPen(hot ? theme().strong : c, 1.6));
                p.setBrush(theme().chart);
                p.drawEllipse(*ring, 3.6, 3.6);
            }
        }
    }
    for (int i = 0; i < int(curve.keys.size()); ++i) {
        const bool isSelected = s && s->side == side && s->key == i;
        const bool hot = m_hover == LaneHit{LaneHit::OnKey, side, i};
        p.setPen(isSelected ? QPen(c, 1.6) : hot ? QPen(theme().strong, 1.2) : QPen(theme().chart, 1));
        p.setBrush(isSelected ? theme().strong : c);
        p.drawPath(drop(keyPoint(side, i)));
    }
    // The value under the pointer's or the selected key, while there is room.
    const int told = s && s->side == side                                     ? s->key
                     : m_hover.what == LaneHit::OnKey && m_hover.side == side ? m_hover.key
                                                                              : -1;
    if (told >= 0 && told < int(curve.keys.size())) {
        const Key& k = curve.keys[std::size_t(told)];
        QString text = QString::number(k.value, 'f', info().decimals) +
                       QString::fromUtf8(info().unit.data(), int(info().unit.size()));
        if (side == Side::Outgoing && k.time > -1) { // what is really reached on the last frame
            const double reached = evaluate(curve, -1);
            text += tr("  on frame −1: %1")
                        .arg(QString::number(reached, 'f', info().decimals) +
                             QString::fromUtf8(info().unit.data(), int(info().unit.size())));
        }
        text.replace("-", "−");
        p.setFont(numberFont(10));
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 8;
        const QPointF tip = keyPoint(side, told);
        QRectF chip(tip.x() + 9, tip.y() - 18, w, 15);
        if (chip.right() > width() - 4) chip.moveRight(tip.x() - 9);
        chip.moveTop(std::clamp(chip.top(), 2.0, height() - 18.0));
        p.setPen(Qt::NoPen);
        QColor back = theme().chart;
        back.setAlpha(220);
        p.setBrush(back);
        p.drawRoundedRect(chip, 2, 2);
        p.setPen(c);
        p.drawText(chip, Qt::AlignCenter, text);
    }
}

} // namespace virga
