#include <QFont>
#include <cmath>

#include "tools/demo_footage/props.h"

namespace virga::demo {

void crane(QPainter& p, QPointF foot, double h, double trolley, const QColor& colour) {
    p.save();
    p.translate(foot);
    const double w = h * 0.16;
    p.setPen(QPen(colour, h * 0.018, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(-w, 0), QPointF(-w * 0.7, -h));
    p.drawLine(QPointF(w, 0), QPointF(w * 0.7, -h));
    p.setPen(QPen(colour, h * 0.007));
    for (int i = 0; i < 9; ++i) { // lattice
        const double a = i / 9.0, b = (i + 1) / 9.0, wa = w * (1 - 0.3 * a), wb = w * (1 - 0.3 * b);
        p.drawLine(QPointF(-wa, -h * a), QPointF(wb, -h * b));
        p.drawLine(QPointF(wa, -h * a), QPointF(-wb, -h * b));
        p.drawLine(QPointF(-wb, -h * b), QPointF(wb, -h * b));
    }
    const double jib = h * 1.05, back = h * 0.42, y = -h * 0.98;
    p.setPen(QPen(colour, h * 0.016));
    p.drawLine(QPointF(-back, y), QPointF(jib, y));
    p.drawLine(QPointF(0, y - h * 0.22), QPointF(jib * 0.96, y));
    p.drawLine(QPointF(0, y - h * 0.22), QPointF(-back, y));
    p.drawLine(QPointF(0, y), QPointF(0, y - h * 0.22));
    p.setPen(QPen(colour, h * 0.005));
    for (int i = 0; i < 26; ++i) {
        const double x0 = -back + (jib + back) * i / 26, x1 = -back + (jib + back) * (i + 1) / 26;
        p.drawLine(QPointF(x0, y), QPointF((x0 + x1) / 2, y + h * 0.045));
        p.drawLine(QPointF((x0 + x1) / 2, y + h * 0.045), QPointF(x1, y));
    }
    p.drawLine(QPointF(-back, y + h * 0.045), QPointF(jib, y + h * 0.045));
    p.fillRect(QRectF(-back, y, h * 0.16, h * 0.16), colour); // counterweight
    const double tx = jib * (0.25 + 0.65 * trolley), drop = h * (0.35 + 0.15 * std::sin(trolley * 5));
    p.fillRect(QRectF(tx - h * 0.03, y + h * 0.03, h * 0.06, h * 0.04), colour);
    p.drawLine(QPointF(tx, y), QPointF(tx, y + drop));
    p.fillRect(QRectF(tx - h * 0.09, y + drop, h * 0.18, h * 0.1), colour);
    p.fillRect(QRectF(-w * 0.75, y + h * 0.05, h * 0.13, h * 0.11), colour); // cabin
    p.fillRect(QRectF(-w * 0.6, y + h * 0.07, h * 0.05, h * 0.05), QColor(255, 205, 130));
    p.restore();
}

void warehouse(QPainter& p, QRectF r, const QColor& wall, const QColor& window, std::uint32_t seed) {
    p.save();
    p.setPen(Qt::NoPen);
    p.fillRect(r, wall);
    QPolygonF roof({r.topLeft() + QPointF(-6, 0), QPointF(r.center().x(), r.top() - r.height() * 0.28),
                    r.topRight() + QPointF(6, 0)});
    p.setBrush(wall.darker(125));
    p.drawPolygon(roof);
    p.setPen(QPen(wall.darker(118), 0.8));
    for (double y = r.top() + 5; y < r.bottom(); y += 5) { // courses of brick
        p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
        for (double x = r.left() + (int((y - r.top()) / 5) % 2) * 6; x < r.right(); x += 12)
            p.drawLine(QPointF(x, y), QPointF(x, y + 5));
    }
    const int columns = std::max(2, int(r.width() / 30)), rows = std::max(2, int(r.height() / 34));
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i) {
            const QRectF w(r.left() + (i + 0.28) * r.width() / columns, r.top() + (j + 0.25) * r.height() / rows,
                           r.width() / columns * 0.42, r.height() / rows * 0.5);
            p.fillRect(w, random(std::uint32_t(i), std::uint32_t(j), seed) < 0.45 ? window : wall.darker(170));
            p.setPen(QPen(wall.darker(200), 1));
            p.drawLine(QPointF(w.center().x(), w.top()), QPointF(w.center().x(), w.bottom()));
            p.drawLine(QPointF(w.left(), w.center().y()), QPointF(w.right(), w.center().y()));
        }
    p.restore();
}

void lighthouse(QPainter& p, QPointF foot, double h, double beam, bool lit) {
    p.save();
    p.translate(foot);
    const double bw = h * 0.135, tw = h * 0.085, body = h * 0.8;
    if (lit) {
        p.save();
        p.setCompositionMode(QPainter::CompositionMode_Screen);
        p.translate(0, -h * 0.87);
        for (const double side : {0.0, 180.0}) {
            p.save();
            p.rotate(beam + side);
            QLinearGradient g(0, 0, h * 2.6, 0);
            g.setColorAt(0, QColor(255, 236, 180, 150));
            g.setColorAt(1, QColor(255, 236, 180, 0));
            p.setPen(Qt::NoPen);
            p.setBrush(g);
            p.drawPolygon(
                QPolygonF({QPointF(0, -4), QPointF(h * 2.6, -h * 0.3), QPointF(h * 2.6, h * 0.3), QPointF(0, 4)}));
            p.restore();
        }
        p.restore();
    }
    for (int i = 0; i < 5; ++i) { // bands
        const double a = i / 5.0, b = (i + 1) / 5.0, wa = bw + (tw - bw) * a, wb = bw + (tw - bw) * b;
        const QColor c = i % 2 ? QColor(240, 232, 218) : QColor(196, 74, 58);
        QLinearGradient g(-wa, 0, wa, 0);
        g.setColorAt(0, c.lighter(lit ? 70 : 108));
        g.setColorAt(0.55, lit ? c.darker(160) : c);
        g.setColorAt(1, c.darker(lit ? 240 : 145));
        p.setPen(Qt::NoPen);
        p.setBrush(g);
        p.drawPolygon(QPolygonF(
            {QPointF(-wa, -body * a), QPointF(wa, -body * a), QPointF(wb, -body * b), QPointF(-wb, -body * b)}));
    }
    p.setPen(QPen(QColor(40, 30, 30, 70), 1)); // bricks
    for (int row = 0; row < 64; ++row) {
        const double a = row / 64.0, w = bw + (tw - bw) * a, y = -body * a;
        p.drawLine(QPointF(-w, y), QPointF(w, y));
        for (int k = -4; k <= 4; ++k) {
            const double x = w * (k + (row % 2) * 0.5) / 4.5;
            if (std::abs(x) < w) p.drawLine(QPointF(x, y), QPointF(x, y - body / 64));
        }
    }
    for (int i = 0; i < 3; ++i)
        p.fillRect(QRectF(-h * 0.014, -body * (0.22 + 0.24 * i), h * 0.028, h * 0.05),
                   lit ? QColor(255, 214, 130) : QColor(52, 60, 66));
    const QColor iron(38, 42, 48);
    p.fillRect(QRectF(-tw * 1.5, -body - h * 0.012, tw * 3, h * 0.02), iron);
    p.setPen(QPen(iron, h * 0.006));
    for (int i = -5; i <= 5; ++i)
        p.drawLine(QPointF(tw * 0.29 * i, -body - h * 0.01), QPointF(tw * 0.29 * i, -body - h * 0.055));
    p.drawLine(QPointF(-tw * 1.45, -body - h * 0.055), QPointF(tw * 1.45, -body - h * 0.055));
    p.fillRect(QRectF(-tw * 0.75, -h * 0.93, tw * 1.5, h * 0.13), lit ? QColor(255, 240, 190) : QColor(205, 222, 226));
    for (int i = -2; i <= 2; ++i) p.drawLine(QPointF(tw * 0.36 * i, -h * 0.93), QPointF(tw * 0.36 * i, -body));
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(150, 52, 44));
    p.drawPolygon(QPolygonF({QPointF(-tw, -h * 0.93), QPointF(tw, -h * 0.93), QPointF(0, -h)}));
    if (lit) glow(p, QPointF(0, -h * 0.87), h * 0.45, QColor(255, 226, 150), 0.9);
    p.restore();
}

void person(QPainter& p, QPointF foot, double h, const QColor& coat, double stride) {
    p.save();
    p.translate(foot);
    const double s = std::sin(stride) * h * 0.11;
    p.setPen(QPen(coat.darker(170), h * 0.075, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(0, -h * 0.46), QPointF(s, 0));
    p.drawLine(QPointF(0, -h * 0.46), QPointF(-s, 0));
    p.setPen(Qt::NoPen);
    p.setBrush(coat);
    p.drawRoundedRect(QRectF(-h * 0.12, -h * 0.84, h * 0.24, h * 0.46), h * 0.07, h * 0.07);
    p.setPen(QPen(coat.darker(125), h * 0.06, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(-h * 0.1, -h * 0.76), QPointF(-h * 0.13 - s * 0.6, -h * 0.5));
    p.drawLine(QPointF(h * 0.1, -h * 0.76), QPointF(h * 0.13 + s * 0.6, -h * 0.5));
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(226, 178, 142));
    p.drawEllipse(QPointF(0, -h * 0.91), h * 0.075, h * 0.085);
    p.setBrush(coat.darker(190));
    p.drawPie(QRectF(-h * 0.085, -h * 1.0, h * 0.17, h * 0.15), 0, 180 * 16);
    p.restore();
}

void stall(QPainter& p, QPointF foot, double w, const QColor& a, const QColor& b, const QString& sign,
           std::uint32_t seed, double time) {
    p.save();
    p.translate(foot);
    const double h = w * 0.92;
    p.fillRect(QRectF(-w * 0.46, -h * 0.98, w * 0.92, h * 0.7), QColor(44, 33, 30));
    glow(p, QPointF(0, -h * 0.66), w * 0.5, QColor(255, 190, 100), 0.75 + 0.05 * std::sin(time * 9 + seed));
    for (int k = 0; k < 14; ++k) // goods hung up at the back
        p.fillRect(
            QRectF(-w * 0.42 + k * w * 0.062, -h * 0.8, w * 0.03, h * (0.12 + 0.12 * random(std::uint32_t(k), seed))),
            QColor::fromHsv(int(360 * random(std::uint32_t(k), seed, 2)), 110, 150));
    p.fillRect(QRectF(-w * 0.5, -h * 0.36, w, h * 0.36), QColor(112, 76, 50)); // counter
    p.setPen(QPen(QColor(70, 46, 32), 1.2));
    for (int i = 0; i < 9; ++i)
        p.drawLine(QPointF(-w * 0.5, -h * 0.36 + i * h * 0.04), QPointF(w * 0.5, -h * 0.36 + i * h * 0.04));
    for (int i = 0; i < 16; ++i)
        p.drawLine(QPointF(-w * 0.5 + i * w / 16 + 3 * random(std::uint32_t(i), seed, 3), -h * 0.36),
                   QPointF(-w * 0.5 + i * w / 16, 0));
    for (int i = 0; i < 22; ++i) { // fruit
        const auto n = std::uint32_t(i);
        p.setPen(Qt::NoPen);
        p.setBrush(QColor::fromHsv(int(10 + 40 * random(n, seed, 5)), 190, 225));
        p.drawEllipse(QPointF(-w * 0.44 + i * w * 0.042, -h * 0.385 - h * 0.02 * (i % 2)), w * 0.024, w * 0.024);
    }
    p.fillRect(QRectF(-w * 0.49, -h * 1.05, w * 0.03, h * 1.05), QColor(84, 58, 42));
    p.fillRect(QRectF(w * 0.46, -h * 1.05, w * 0.03, h * 1.05), QColor(84, 58, 42));
    const int stripes = 11; // awning with a scalloped edge
    for (int i = 0; i < stripes; ++i) {
        const double x0 = -w * 0.56 + w * 1.12 * i / stripes, x1 = -w * 0.56 + w * 1.12 * (i + 1) / stripes;
        const double t0 = x0 * 0.86, t1 = x1 * 0.86, sway = 1.5 * std::sin(time * 2 + i * 0.7);
        p.setBrush(i % 2 ? a : b);
        p.setPen(Qt::NoPen);
        QPainterPath path(QPointF(t0, -h * 1.26));
        path.lineTo(t1, -h * 1.26);
        path.lineTo(x1, -h * 0.98 + sway);
        path.arcTo(QRectF(x0, -h * 1.03 + sway, x1 - x0, h * 0.1), 0, -180);
        path.closeSubpath();
        p.drawPath(path);
    }
    QFont font("Inter");
    font.setWeight(QFont::DemiBold);
    font.setPixelSize(int(w * 0.085));
    font.setLetterSpacing(QFont::AbsoluteSpacing, w * 0.006);
    p.setFont(font);
    const QRectF board(-w * 0.42, -h * 1.5, w * 0.84, h * 0.19);
    p.setBrush(QColor(58, 40, 30));
    p.setPen(QPen(QColor(206, 170, 110), w * 0.006));
    p.drawRoundedRect(board, 4, 4);
    p.setPen(QColor(247, 229, 190));
    p.drawText(board, Qt::AlignCenter, sign);
    p.restore();
}

void gull(QPainter& p, QPointF at, double size, double flap) {
    p.save();
    p.translate(at);
    const double lift = std::sin(flap) * size * 0.4;
    QPainterPath wings(QPointF(-size, -lift));
    wings.quadTo(QPointF(-size * 0.4, -size * 0.5 - lift * 0.3), QPointF(0, 0));
    wings.quadTo(QPointF(size * 0.4, -size * 0.5 - lift * 0.3), QPointF(size, -lift));
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(QColor(245, 247, 248), size * 0.13, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(wings);
    p.setPen(QPen(QColor(70, 76, 84), size * 0.06, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(-size, -lift), QPointF(-size * 0.82, -lift - size * 0.08));
    p.drawLine(QPointF(size, -lift), QPointF(size * 0.82, -lift - size * 0.08));
    p.restore();
}

} // namespace virga::demo
