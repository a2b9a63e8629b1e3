#include "app/lanes/lane_ruler.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <cmath>

#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {

LaneRuler::LaneRuler(LaneContext* context, QWidget* parent) : QWidget(parent), m_context(context) {
    setFixedHeight(24);
    setObjectName("laneRuler");
    setTip(this, tr("Frames from the cut, or of the clip; drag to scrub, Ctrl+wheel to zoom"));
    connect(context, &LaneContext::changed, this, qOverload<>(&QWidget::update));
}

void LaneRuler::scrub(double x) {
    m_context->setPlayhead(m_context->frames().frameAt(x));
}

void LaneRuler::wheelEvent(QWheelEvent* event) {
    const QPoint by = event->angleDelta();
    const int turned = std::abs(by.y()) > std::abs(by.x()) ? by.y() : by.x();
    FrameScale frames = m_context->frames();
    if (event->modifiers() & Qt::ControlModifier)
        frames = frames.zoomed(std::pow(1.0015, turned), event->position().x());
    else
        frames.zeroX += turned * 0.5;
    m_context->setFrames(frames);
    event->accept();
}

void LaneRuler::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) scrub(event->position().x());
}

void LaneRuler::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) scrub(event->position().x());
}

void LaneRuler::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().panel);
    p.fillRect(QRectF(0, height() - 1, width(), 1), theme().line);
    if (!m_context->stack()) return;
    const bool atCut = m_context->place().kind == StackPlace::Cut;
    const FrameScale& frames = m_context->frames();
    const int step = frames.labelStep();
    p.setFont(numberFont(10));
    const int first = int(std::floor(frames.frameAt(0) / step)) * step;
    for (int n = first; n <= frames.frameAt(width()); n += step) {
        const double x = frames.xOf(n);
        const QString text = n < 0   ? QStringLiteral("−%1").arg(-n)
                             : n > 0 ? QStringLiteral("+%1").arg(n)
                                     : QStringLiteral("0");
        p.setPen(!atCut ? theme().dim : n < 0 ? theme().outgoing : theme().incoming);
        if (x > 12 && x < width() - 12) p.drawText(QRectF(x - 30, 4, 60, 15), Qt::AlignCenter, text);
    }
    if (atCut) p.fillRect(QRectF(frames.xOf(0) - 1, 18, 2, height() - 18), theme().strong);
    const double at = std::floor(frames.xOf(m_context->playhead())) + 0.5;
    p.setPen(Qt::NoPen);
    p.setBrush(theme().playhead);
    p.drawPolygon(QPolygonF({QPointF(at - 5, 17), QPointF(at + 5, 17), QPointF(at, 24)}));
}

} // namespace virga
