#include "app/trace/trace_chart.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {
namespace {

constexpr double gutter = 92, rightEdge = 10, pictureTop = 2, pictureWidth = 62, pictureHeight = 35, speedHeight = 16,
                 laneGap = 6;
constexpr int mostAround = 30; // frames that are shown on each side

QColor colourOf(Side side) {
    return side == Side::Outgoing ? theme().outgoing : theme().incoming;
}

QString read(double value, const ChannelInfo& info) {
    return QString::fromStdString(spokenValue(value, info)).replace('-', QChar(0x2212));
}

} // namespace

TraceChart::TraceChart(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Movement that was read"));
    setMouseTracking(false);
}

void TraceChart::setTrace(std::shared_ptr<const Trace> trace, const QMap<std::int64_t, QImage>& pictures,
                          const QString& words) {
    m_trace = std::move(trace);
    m_pictures = pictures;
    m_words = words;
    m_lanes.clear();
    if (m_trace)
        for (const TracedSide* side : {&m_trace->out, &m_trace->in})
            for (const TracedChannel& c : side->channels) {
                auto lane = std::find_if(m_lanes.begin(), m_lanes.end(),
                                         [&](const Lane& l) { return l.kind == c.kind && l.channel == c.channel; });
                const ChannelInfo& info = moveInfo(c.kind).channels[std::size_t(c.channel)];
                if (lane == m_lanes.end()) {
                    const double rest = toSpace(info.neutral, info.space);
                    lane = m_lanes.insert(lane, {&info, c.kind, c.channel, rest, rest});
                }
                for (const MeasuredValue& v : c.values) {
                    lane->low = std::min(lane->low, toSpace(v.value, info.space) - v.error);
                    lane->high = std::max(lane->high, toSpace(v.value, info.space) + v.error);
                }
                for (const Key& key : c.fitted.curve.keys) {
                    lane->low = std::min(lane->low, toSpace(key.value, info.space));
                    lane->high = std::max(lane->high, toSpace(key.value, info.space));
                }
            }
    update();
}

void TraceChart::setPlayed(std::int64_t frame) {
    if (m_played == frame) return;
    m_played = frame;
    update();
}

std::pair<std::int64_t, std::int64_t> TraceChart::span() const {
    if (!m_trace) return {-8, 8};
    const std::int64_t first = m_trace->out.frames.empty() ? -1 : m_trace->out.frames.front().frame,
                       last = m_trace->in.frames.empty() ? 0 : m_trace->in.frames.back().frame;
    return {std::max<std::int64_t>(first, -mostAround), std::min<std::int64_t>(last, mostAround - 1)};
}

double TraceChart::xOf(double frame) const {
    const auto [first, last] = span();
    const double wide = (width() - gutter - rightEdge) / double(last - first + 1);
    return gutter + (frame - double(first) + 0.5) * wide;
}

std::int64_t TraceChart::frameAt(double x) const {
    const auto [first, last] = span();
    const double wide = (width() - gutter - rightEdge) / double(last - first + 1);
    return std::clamp(first + std::int64_t(std::floor((x - gutter) / wide)), first, last);
}

QRectF TraceChart::laneRect(int lane) const {
    const double top = pictureTop + pictureHeight + speedHeight + 20;
    const double each = std::min(190.0, (height() - top) / std::max(1, laneCount()));
    return {gutter, top + lane * each, width() - gutter - rightEdge, each - laneGap};
}

double TraceChart::yOf(int lane, double value) const {
    const Lane& l = m_lanes[std::size_t(lane)];
    const QRectF box = laneRect(lane).adjusted(0, 7, 0, -7);
    const double tall = std::max(1e-9, l.high - l.low);
    return box.bottom() - (toSpace(value, l.info->space) - l.low) / tall * box.height();
}

QPointF TraceChart::dotAt(int lane, Side side, std::size_t value) const {
    const TracedChannel* c = channelOf(m_lanes[std::size_t(lane)], side);
    const MeasuredValue& v = c->values[value];
    return {xOf(v.time), yOf(lane, v.value)};
}

const TracedChannel* TraceChart::channelOf(const Lane& lane, Side side) const {
    for (const TracedChannel& c : m_trace->side(side).channels)
        if (c.kind == lane.kind && c.channel == lane.channel) return &c;
    return nullptr;
}

void TraceChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().chart);
    if (!m_trace || !m_words.isEmpty()) {
        p.setPen(theme().dim);
        p.setFont(textFont(12));
        p.drawText(rect().adjusted(20, 0, -20, 0), Qt::AlignCenter | Qt::TextWordWrap, m_words);
        if (!m_trace) return;
    }
    const auto [first, last] = span();
    const double wide = xOf(1) - xOf(0);
    const auto step = std::max<std::int64_t>(1, std::int64_t(std::ceil((pictureWidth + 3) / wide)));
    p.setFont(numberFont(10));
    for (std::int64_t n = first; n <= last; ++n) {
        const double x = xOf(double(n));
        const TracedSide& side = n < 0 ? m_trace->out : m_trace->in;
        const TracedFrame* frame = nullptr;
        for (const TracedFrame& f : side.frames)
            if (f.frame == n) frame = &f;
        // Counted from the cut outward, so that the frames beside it are always among those that are shown.
        const std::int64_t from = n < 0 ? -1 - n : n;
        if (from % step == 0) {
            const double most = std::min(pictureWidth, double(step) * wide - 3);
            const QRectF box(x - most / 2, pictureTop, most, most * pictureHeight / pictureWidth);
            const QImage image = m_pictures.value(n);
            if (image.isNull())
                p.fillRect(box, theme().raised);
            else
                p.drawImage(box, image);
            p.setPen(n < 0 ? theme().outgoing : theme().incoming);
            p.drawText(QRectF(x - 30, pictureTop + pictureHeight + 2, 60, 13), Qt::AlignCenter,
                       QString::number(n).replace('-', QChar(0x2212)));
        }
        if (!frame) continue;
        // Seen speed as a bar beneath; what could not be read is hollow.
        const double fastest = 30, tall = std::min(1.0, frame->speed / fastest) * speedHeight;
        const QRectF bar(x - std::min(4.0, wide / 3), pictureTop + pictureHeight + 16 + speedHeight - tall,
                         std::min(8.0, wide / 1.5), tall);
        if (frame->known()) {
            p.fillRect(bar, theme().dim);
        } else {
            p.setPen(theme().look);
            p.setBrush(Qt::NoBrush);
            p.drawRect(bar);
        }
    }
    for (int lane = 0; lane < laneCount(); ++lane) paintLane(p, lane);
    if (m_played >= first && m_played <= last) {
        QColor shade = theme().playhead;
        shade.setAlpha(34);
        p.fillRect(QRectF(xOf(double(m_played)) - wide / 2, 0, wide, height()), shade);
    }
    p.setPen(QPen(theme().faint, 1));
    const double cut = xOf(-0.5);
    p.drawLine(QPointF(cut, 0), QPointF(cut, height()));
    p.setPen(theme().dim);
    p.setFont(textFont(11));
    p.drawText(QRectF(8, pictureTop, gutter - 12, pictureHeight), Qt::AlignLeft | Qt::AlignVCenter, tr("frames"));
    p.drawText(QRectF(8, pictureTop + pictureHeight + 14, gutter - 12, speedHeight + 4),
               Qt::AlignLeft | Qt::AlignVCenter, tr("seen speed"));
}

void TraceChart::paintLane(QPainter& p, int number) const {
    const Lane& lane = m_lanes[std::size_t(number)];
    const QRectF box = laneRect(number);
    p.fillRect(box, theme().panel);
    p.setFont(textFont(11, QFont::DemiBold));
    p.setPen(theme().text);
    p.drawText(QRectF(8, box.top(), gutter - 12, 18), Qt::AlignLeft | Qt::AlignVCenter,
               QString::fromUtf8(lane.info->label));
    p.setFont(numberFont(10));
    p.setPen(theme().faint);
    p.drawText(QRectF(8, box.top() + 17, gutter - 12, 14), Qt::AlignLeft | Qt::AlignVCenter,
               read(fromSpace(lane.high, lane.info->space), *lane.info));
    p.drawText(QRectF(8, box.bottom() - 15, gutter - 12, 14), Qt::AlignLeft | Qt::AlignVCenter,
               read(fromSpace(lane.low, lane.info->space), *lane.info));
    p.setPen(QPen(theme().grid, 1));
    const double rest = yOf(number, lane.info->neutral);
    p.drawLine(QPointF(box.left(), rest), QPointF(box.right(), rest));
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const TracedChannel* c = channelOf(lane, side);
        if (!c || c->values.empty()) continue;
        p.save();
        p.setClipRect(box);
        QPainterPath curve;
        const auto& keys = c->fitted.curve.keys; // the outgoing side's last one stands on the cut
        const double from = c->values.front().time,
                     to = std::max(c->values.back().time, keys.empty() ? from : keys.back().time);
        for (int step = 0; from + 0.125 * step <= to + 1e-9; ++step) {
            const double t = from + 0.125 * step;
            const QPointF at(xOf(t), yOf(number, evaluate(c->fitted.curve, t, lane.info->neutral)));
            step == 0 ? curve.moveTo(at) : curve.lineTo(at);
        }
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(colourOf(side), 1.6));
        p.drawPath(curve);
        p.setBrush(colourOf(side));
        p.setPen(Qt::NoPen);
        for (const Key& key : c->fitted.curve.keys) { // a key is a square
            const QPointF at(xOf(key.time), yOf(number, key.value));
            p.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7));
        }
        for (std::size_t i = 0; i < c->values.size(); ++i) {
            const MeasuredValue& v = c->values[i];
            const QPointF at = dotAt(number, side, i);
            const double above = yOf(number, fromSpace(toSpace(v.value, lane.info->space) + v.error, lane.info->space));
            p.setPen(QPen(theme().dim, 1));
            if (std::abs(at.y() - above) > 2.5) {
                p.drawLine(QPointF(at.x(), above), QPointF(at.x(), 2 * at.y() - above));
                for (const double y : {above, 2 * at.y() - above})
                    p.drawLine(QPointF(at.x() - 2.5, y), QPointF(at.x() + 2.5, y));
            }
            p.setPen(QPen(theme().text, 1.2));
            p.setBrush(c->known[i] ? QBrush(theme().text) : QBrush(theme().panel));
            p.drawEllipse(at, 2.2, 2.2);
            if (c->missesAt(i)) {
                p.setPen(QPen(theme().breaks, 1.6));
                p.setBrush(Qt::NoBrush);
                p.drawEllipse(at, 6, 6);
            }
        }
        p.restore();
    }
}

void TraceChart::mousePressEvent(QMouseEvent* event) {
    if (m_trace && event->position().x() > gutter) emit frameChosen(frameAt(event->position().x()));
}

void TraceChart::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) mousePressEvent(event);
}

bool TraceChart::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip || !m_trace) return QWidget::event(event);
    auto* help = static_cast<QHelpEvent*>(event);
    if (help->pos().x() < gutter) return true;
    const std::int64_t n = frameAt(help->pos().x());
    QStringList lines{tr("Frame %1").arg(QString::number(n).replace('-', QChar(0x2212)))};
    for (const TracedFrame& f : m_trace->side(n < 0 ? Side::Outgoing : Side::Incoming).frames)
        if (f.frame == n)
            lines += f.known()
                         ? tr("seen speed %1 %, read with trust %2").arg(f.speed, 0, 'f', 1).arg(f.trust, 0, 'f', 2)
                         : tr("could not be read; it goes on as its neighbours do");
    for (const Lane& lane : m_lanes)
        if (const TracedChannel* c = channelOf(lane, n < 0 ? Side::Outgoing : Side::Incoming))
            for (std::size_t i = 0; i < c->values.size(); ++i)
                if (std::int64_t(c->values[i].time) == n) {
                    const double fitted = evaluate(c->fitted.curve, double(n));
                    lines += tr("%1: read %2, curve %3")
                                 .arg(QString::fromUtf8(lane.info->label), read(c->values[i].value, *lane.info),
                                      read(fitted, *lane.info)) +
                             (c->missesAt(i) ? tr(" (fits badly)") : QString());
                }
    showTip(help->globalPos(), lines.join('\n'), this);
    return true;
}

} // namespace virga
