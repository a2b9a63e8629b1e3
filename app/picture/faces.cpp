#include "app/picture/faces.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"

namespace virga {
namespace {

double distance(QPointF a, QPointF b) {
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

} // namespace

Faces::Faces(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames) {
    m_flicker.setInterval(280);
    connect(&m_flicker, &QTimer::timeout, this, [this] {
        m_second = !m_second;
        emit changed();
    });
    connect(document, &Document::shownChanged, this, &Faces::refresh);
    connect(document, &Document::selectionChanged, this, &Faces::refresh);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (slot != "faces-0" && slot != "faces-1") return;
        m_images[slot == "faces-1"] = result.image;
        emit changed();
    });
}

void Faces::setShown(bool on) {
    if (on == m_shown) return;
    m_shown = on;
    if (on)
        refresh();
    else
        m_frames->drop("faces-");
    setWay(m_way);
}

void Faces::setWay(Way way) {
    m_way = way;
    if (m_shown && way == Flicker)
        m_flicker.start();
    else
        m_flicker.stop();
    emit changed();
}

void Faces::refresh() {
    const int cut = m_document->cut();
    const Snapshot project = m_document->shown();
    if (!m_shown || cut < 0 || cut >= cutCount(*project)) return;
    const Size full = project->settings.size;
    const std::int64_t at = cutFrame(*project, cut);
    const Quality quality = m_document->isDragging() ? quickQuality : exactQuality;
    for (const int i : {0, 1})
        m_frames->request(QStringLiteral("faces-%1").arg(i),
                          {project, at - 1 + i, {full.width, full.height}, quality, Urgency::Now});
}

double Faces::perPixel() const {
    return m_frame.width() / std::max(1, m_document->project()->settings.size.width);
}

QPointF Faces::toWidget(Point p) const {
    return m_frame.topLeft() + QPointF(p.x, p.y) * perPixel();
}

Point Faces::toFrame(QPointF p) const {
    const QPointF at = (p - m_frame.topLeft()) / perPixel();
    return {at.x(), at.y()};
}

SubjectSeen Faces::seen(Side side) const {
    const auto project = m_document->project();
    if (const auto set = subjectAt(*project, m_document->cut(), side)) return *set;
    const Size size = project->settings.size;
    return {{size.width * (side == Side::Outgoing ? 0.35 : 0.65), size.height / 2.0}, size.height / 10.0};
}

QPointF Faces::markOf(Side side) const {
    return toWidget(seen(side).at);
}

bool Faces::press(QPointF at) {
    m_held = Nothing;
    m_pressed = at;
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const double away = distance(at, markOf(side)), rim = seen(side).radius * perPixel();
        if (std::abs(away - rim) <= 6)
            m_held = Rim;
        else if (away <= std::max(10.0, rim))
            m_held = Mark;
        else
            continue;
        m_side = side;
        m_origin = seen(side);
        return true;
    }
    if (m_way == Split && std::abs(at.x() - (m_frame.left() + m_divider * m_frame.width())) <= 8) m_held = Divider;
    return m_held != Nothing;
}

void Faces::drag(QPointF at) {
    if (m_held == Nothing) return;
    if (m_held == Divider) {
        m_divider = std::clamp((at.x() - m_frame.left()) / m_frame.width(), 0.0, 1.0);
        return emit changed();
    }
    SubjectSeen now = m_origin;
    if (m_held == Mark)
        now.at += toFrame(at) - toFrame(m_pressed);
    else
        now.radius = std::max(4.0, distance(at, toWidget(m_origin.at)) / perPixel());
    m_document->drag(withSubject(*m_document->dragOrigin(), m_document->cut(), m_side, now));
    emit changed();
}

void Faces::release() {
    if (m_held == Mark || m_held == Rim) m_document->endDrag(tr("mark the subject"));
    m_held = Nothing;
}

QString Faces::lineUp() {
    const auto done = withSubjectsLinedUp(*m_document->project(), m_document->cut());
    if (!done) return QString::fromStdString(describe(done.error()));
    m_document->apply(tr("line up"), *done);
    return {};
}

void Faces::paintMark(QPainter& p, Side side) {
    const bool set = subjectAt(*m_document->project(), m_document->cut(), side).has_value();
    const QPointF at = markOf(side);
    const double rim = seen(side).radius * perPixel();
    const QColor c = side == Side::Outgoing ? QColor(0xf0, 0xa3, 0x5a) : QColor(0x5c, 0xc6, 0xc9);
    for (const QPen& pen : {QPen(QColor(0, 0, 0, 150), 4), QPen(c, 1.6, set ? Qt::SolidLine : Qt::DashLine)}) {
        p.setPen(pen);
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(at, rim, rim);
        p.drawLine(at - QPointF(6, 0), at + QPointF(6, 0));
        p.drawLine(at - QPointF(0, 6), at + QPointF(0, 6));
    }
    const QString text = side == Side::Outgoing ? tr("outgoing") : tr("incoming");
    p.setFont(textFont(11));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 12;
    const QRectF chip(at.x() + rim + 6, at.y() - 9, w, 18);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(c);
    p.drawText(chip, Qt::AlignCenter, text);
}

void Faces::paint(QPainter& p) {
    p.save();
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(m_frame, Qt::black);
    const QImage &out = m_images[0], &in = m_images[1];
    if (isReady()) {
        const double x = m_frame.left() + m_divider * m_frame.width();
        switch (m_way) {
        case Split:
            p.drawImage(m_frame, in);
            p.setClipRect(QRectF(m_frame.left(), m_frame.top(), x - m_frame.left(), m_frame.height()));
            p.drawImage(m_frame, out);
            p.setClipping(false);
            p.fillRect(QRectF(x - 1, m_frame.top(), 2, m_frame.height()), Qt::white);
            break;
        case Mix:
            p.drawImage(m_frame, out);
            p.setOpacity(0.5);
            p.drawImage(m_frame, in);
            p.setOpacity(1);
            break;
        case Difference:
            p.drawImage(m_frame, out);
            p.setCompositionMode(QPainter::CompositionMode_Difference);
            p.drawImage(m_frame, in);
            p.setCompositionMode(QPainter::CompositionMode_SourceOver);
            break;
        case Flicker:
            p.drawImage(m_frame, m_second ? in : out);
            break;
        }
    }
    p.setRenderHint(QPainter::Antialiasing);
    const QPointF a = markOf(Side::Outgoing), b = markOf(Side::Incoming);
    if (distance(a, b) > 4) {
        p.setPen(QPen(Qt::white, 1, Qt::DashLine));
        p.drawLine(a, b);
    }
    for (const Side side : {Side::Outgoing, Side::Incoming}) paintMark(p, side);
    p.restore();
}

} // namespace virga
