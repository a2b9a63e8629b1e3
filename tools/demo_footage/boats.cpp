#include <QFont>
#include <cmath>

#include "tools/demo_footage/props.h"

namespace virga::demo {

void boat(QPainter& p, QPointF waterline, double l, const QColor& hull, const QColor& sail, double heel,
          const QString& number, bool flip) {
    p.save();
    p.translate(waterline);
    if (flip) p.scale(-1, 1);
    p.rotate(heel);
    // hull with strakes of wood
    QPainterPath body(QPointF(-l * 0.5, -l * 0.1));
    body.lineTo(l * 0.56, -l * 0.14);
    body.quadTo(QPointF(l * 0.42, l * 0.06), QPointF(l * 0.3, l * 0.07));
    body.lineTo(-l * 0.42, l * 0.07);
    body.closeSubpath();
    QLinearGradient g(0, -l * 0.14, 0, l * 0.07);
    g.setColorAt(0, hull.lighter(116));
    g.setColorAt(1, hull.darker(140));
    p.setPen(Qt::NoPen);
    p.setBrush(g);
    p.drawPath(body);
    p.setClipPath(body);
    for (int i = 0; i < 7; ++i) {
        p.setPen(QPen(hull.darker(150), l * 0.004));
        p.drawLine(QPointF(-l * 0.5, -l * 0.09 + i * l * 0.024), QPointF(l * 0.56, -l * 0.125 + i * l * 0.024));
    }
    for (int i = 0; i < 90; ++i) {
        const auto n = std::uint32_t(i);
        QColor grain = random(n, 71) < 0.5 ? hull.darker(128) : hull.lighter(122);
        grain.setAlpha(120);
        p.setPen(QPen(grain, 1));
        const double x = l * (random(n, 72) - 0.5) * 1.1, y = l * (0.17 * random(n, 73) - 0.1);
        p.drawLine(QPointF(x, y), QPointF(x + l * 0.09 * random(n, 74), y - l * 0.003));
    }
    p.setClipping(false);
    p.setPen(QPen(QColor(242, 226, 190), l * 0.012));
    p.drawLine(QPointF(-l * 0.5, -l * 0.1), QPointF(l * 0.56, -l * 0.14));
    // crew
    for (int i = 0; i < 3; ++i)
        person(p, QPointF(-l * 0.34 + i * l * 0.14, -l * 0.06), l * 0.2,
               i == 1 ? QColor(227, 179, 76) : QColor(52, 84, 108), i * 1.7);
    // rig
    const QPointF mast(l * 0.06, -l * 0.13), head(l * 0.02, -l * 1.32);
    p.setPen(QPen(QColor(126, 88, 56), l * 0.018, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(mast, head);
    p.drawLine(QPointF(l * 0.05, -l * 0.22), QPointF(-l * 0.46, -l * 0.19));
    const auto cloth = [&](QPointF a, QPointF b, QPointF c, double belly) {
        QPainterPath s(a);
        s.quadTo((a + b) / 2 + QPointF(-belly * 0.15, 0), b);
        s.quadTo((b + c) / 2 + QPointF(0, belly * 0.3), c);
        s.quadTo((a + c) / 2 + QPointF(belly, -belly * 0.1), a);
        QLinearGradient light(a, c);
        light.setColorAt(0, sail.lighter(106));
        light.setColorAt(0.55, sail);
        light.setColorAt(1, sail.darker(122));
        p.setPen(Qt::NoPen);
        p.setBrush(light);
        p.drawPath(s);
        p.save();
        p.setClipPath(s);
        p.setPen(QPen(sail.darker(125), std::max(0.8, l * 0.0035)));
        for (int i = 1; i < 9; ++i) { // seams
            const double t = i / 9.0;
            p.drawLine(a + (b - a) * t + QPointF(-l, l * 0.06), a + (b - a) * t + QPointF(l, -l * 0.06));
        }
        p.setPen(QPen(sail.darker(112), 0.8));
        for (int i = 0; i < 60; ++i) { // weave
            const auto n = std::uint32_t(i);
            const QPointF at = a + (b - a) * random(n, 31) + (c - b) * random(n, 32) * 0.9;
            p.drawLine(at, at + QPointF(l * 0.03, -l * 0.002));
        }
        p.restore();
    };
    cloth(head, QPointF(l * 0.045, -l * 0.26), QPointF(-l * 0.46, -l * 0.23), -l * 0.1);
    cloth(QPointF(l * 0.035, -l * 1.16), QPointF(l * 0.11, -l * 0.2), QPointF(l * 0.53, -l * 0.16), l * 0.09);
    p.setPen(QPen(QColor(80, 64, 54), l * 0.005));
    p.drawLine(head, QPointF(l * 0.56, -l * 0.14));
    p.drawLine(head, QPointF(-l * 0.5, -l * 0.1));
    QFont font("Inter");
    font.setWeight(QFont::DemiBold);
    font.setPixelSize(std::max(8, int(l * 0.15)));
    p.setFont(font);
    p.setPen(hull.darker(115));
    p.save();
    p.translate(-l * 0.16, -l * 0.52);
    if (flip) p.scale(-1, 1);
    p.drawText(QRectF(-l * 0.2, -l * 0.1, l * 0.4, l * 0.2), Qt::AlignCenter, number);
    p.restore();
    p.restore();
    // bow wave
    p.save();
    p.translate(waterline);
    if (flip) p.scale(-1, 1);
    p.setPen(Qt::NoPen);
    for (int i = 0; i < 26; ++i) {
        const auto n = std::uint32_t(i);
        p.setBrush(QColor(240, 248, 250, int(60 + 120 * random(n, 51))));
        p.drawEllipse(QPointF(l * (0.42 - 1.0 * random(n, 52)), l * (0.03 + 0.06 * random(n, 53))),
                      l * (0.02 + 0.07 * random(n, 54)), l * 0.012);
    }
    p.restore();
}

} // namespace virga::demo
