#include "app/lanes/lane_ruler.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/style/theme.h"

namespace virga {

LaneRuler::LaneRuler(LaneContext* context, QWidget* parent) : QWidget(parent), m_context(context) {
    setFixedHeight(24);
    setObjectName("laneRuler");
    setToolTip(tr("Frames from the cut; drag to scrub"));
    connect(context, &LaneContext::changed, this, qOverload<>(&QWidget::update));
}

void LaneRuler::scrub(double x) {
    Document* document = m_context->document();
    if (document->cut() < 0) return;
    document->setPlayhead(cutFrame(*document->project(), document->cut()) +
                          std::llround(m_context->frames().frameAt(x)));
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
    if (m_context->document()->cut() < 0) return;
    const FrameScale& frames = m_context->frames();
    const int step = frames.labelStep();
    p.setFont(numberFont(10));
    const int first = int(std::floor(frames.frameAt(0) / step)) * step;
    for (int n = first; n <= frames.frameAt(width()); n += step) {
        const double x = frames.xOf(n);
        const QString text = n < 0   ? QStringLiteral("−%1").arg(-n)
                             : n > 0 ? QStringLiteral("+%1").arg(n)
                                     : QStringLiteral("0");
        p.setPen(n < 0 ? theme().outgoing : theme().incoming);
        if (x > 12 && x < width() - 12) p.drawText(QRectF(x - 30, 4, 60, 15), Qt::AlignCenter, text);
    }
    const double cut = frames.xOf(0);
    p.fillRect(QRectF(cut - 1, 18, 2, height() - 18), theme().strong);
    const double at = std::floor(frames.xOf(m_context->playheadFromCut())) + 0.5;
    p.setPen(Qt::NoPen);
    p.setBrush(theme().playhead);
    p.drawPolygon(QPolygonF({QPointF(at - 5, 17), QPointF(at + 5, 17), QPointF(at, 24)}));
}

} // namespace virga
