#include <cmath>

#include "tools/demo_footage/props.h"

namespace virga::demo {

void lantern(QPainter& p, QPointF hook, double size, double swing, const QColor& paper, double lit) {
    p.save();
    p.translate(hook);
    p.rotate(swing);
    p.setPen(QPen(QColor(60, 44, 40), size * 0.02));
    p.drawLine(QPointF(0, 0), QPointF(0, size * 0.3));
    const QPointF c(0, size * 0.95);
    const double w = size * 0.52, h = size * 0.62;
    if (lit > 0) glow(p, c, size * 2.6, paper, 0.75 * lit);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(70, 46, 36));
    p.drawRoundedRect(QRectF(-w * 0.5, c.y() - h * 1.14, w, h * 0.2), 3, 3);
    p.drawRoundedRect(QRectF(-w * 0.5, c.y() + h * 0.94, w, h * 0.2), 3, 3);
    QPainterPath body;
    body.moveTo(-w * 0.48, c.y() - h);
    body.cubicTo(QPointF(-w * 1.25, c.y() - h * 0.7), QPointF(-w * 1.25, c.y() + h * 0.7),
                 QPointF(-w * 0.48, c.y() + h));
    body.lineTo(w * 0.48, c.y() + h);
    body.cubicTo(QPointF(w * 1.25, c.y() + h * 0.7), QPointF(w * 1.25, c.y() - h * 0.7), QPointF(w * 0.48, c.y() - h));
    body.closeSubpath();
    QRadialGradient g(c, h * 1.15);
    g.setColorAt(0, paper.lighter(int(100 + 55 * lit)));
    g.setColorAt(0.6, paper);
    g.setColorAt(1, paper.darker(165));
    p.setBrush(g);
    p.drawPath(body);
    p.setClipPath(body);
    p.setPen(QPen(paper.darker(200), size * 0.012));
    for (int i = -5; i <= 5; ++i) { // ribs
        QPainterPath rib(QPointF(-w * 1.2, c.y() + h * i / 5.5));
        rib.quadTo(QPointF(0, c.y() + h * i / 5.5 + size * 0.07), QPointF(w * 1.2, c.y() + h * i / 5.5));
        p.drawPath(rib);
    }
    QColor fibre = paper.lighter(130);
    fibre.setAlpha(70);
    p.setPen(QPen(fibre, 1)); // fibres of the paper
    for (int i = 0; i < int(size * 1.4); ++i) {
        const auto n = std::uint32_t(i);
        const double x = (random(n, 91) - 0.5) * w * 2.2, y = c.y() + (random(n, 92) - 0.5) * h * 2;
        p.drawLine(QPointF(x, y), QPointF(x + (random(n, 93) - 0.5) * 16, y + (random(n, 94) - 0.5) * 9));
    }
    p.setClipping(false);
    p.setPen(QPen(QColor(226, 164, 74), size * 0.016)); // tassel
    for (int i = -3; i <= 3; ++i)
        p.drawLine(QPointF(i * size * 0.02, c.y() + h * 1.14),
                   QPointF(i * size * 0.035 + swing * 0.3, c.y() + h * 1.5));
    p.restore();
}

void lampPost(QPainter& p, QPointF foot, double h, double lit) {
    p.save();
    p.translate(foot);
    const QColor iron(30, 34, 42);
    p.setPen(QPen(iron, h * 0.022, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(0, 0), QPointF(0, -h * 0.82));
    p.fillRect(QRectF(-h * 0.035, -h * 0.1, h * 0.07, h * 0.1), iron);
    p.setPen(QPen(iron, h * 0.009));
    p.drawLine(QPointF(-h * 0.08, -h * 0.74), QPointF(h * 0.08, -h * 0.74));
    for (const double s : {-1.0, 1.0})
        p.drawArc(QRectF(s > 0 ? 0 : -h * 0.07, -h * 0.8, h * 0.07, h * 0.07), 0, 360 * 16);
    const QPolygonF glass({QPointF(-h * 0.035, -h * 0.82), QPointF(h * 0.035, -h * 0.82), QPointF(h * 0.055, -h * 0.95),
                           QPointF(-h * 0.055, -h * 0.95)});
    p.setPen(QPen(iron, h * 0.008));
    p.setBrush(lit > 0.02 ? QColor(255, int(190 + 50 * lit), int(90 + 110 * lit), int(90 + 165 * lit))
                          : QColor(70, 84, 104));
    p.drawPolygon(glass);
    p.drawLine(QPointF(0, -h * 0.82), QPointF(0, -h * 0.95));
    p.setBrush(iron);
    p.drawPolygon(QPolygonF({QPointF(-h * 0.065, -h * 0.95), QPointF(h * 0.065, -h * 0.95), QPointF(0, -h * 1.01)}));
    if (lit > 0) glow(p, QPointF(0, -h * 0.885), h * 0.55, QColor(255, 196, 110), 0.85 * lit);
    p.restore();
}

void bunting(QPainter& p, QPointF a, QPointF b, double sag, double time) {
    rope(p, a, b, sag, 2.2, QColor(120, 100, 84));
    QPainterPath path(a);
    path.quadTo(QPointF((a.x() + b.x()) / 2, (a.y() + b.y()) / 2 + 2 * sag), b);
    static const QColor colours[] = {QColor(200, 81, 61), QColor(243, 234, 216), QColor(227, 179, 76),
                                     QColor(60, 118, 140)};
    p.save();
    p.setPen(Qt::NoPen);
    const int flags = int(path.length() / 34);
    for (int i = 0; i < flags; ++i) {
        const QPointF at = path.pointAtPercent((i + 0.5) / flags);
        const double flutter = 5 * std::sin(time * 5 + i * 1.3);
        p.setBrush(colours[i % 4]);
        p.drawPolygon(QPolygonF({at + QPointF(-11, 0), at + QPointF(11, 0), at + QPointF(flutter, 26)}));
        p.setBrush(colours[i % 4].darker(125));
        p.drawPolygon(QPolygonF({at + QPointF(0, 0), at + QPointF(11, 0), at + QPointF(flutter, 26)}));
    }
    p.restore();
}

} // namespace virga::demo
