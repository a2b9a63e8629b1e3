#include "tools/demo_footage/brush.h"

#include <algorithm>
#include <cmath>

namespace virga::demo {

double random(std::uint32_t a, std::uint32_t b, std::uint32_t c) {
    std::uint32_t h = a * 0x9e3779b1u ^ (b + 0x7f4a7c15u) * 0x85ebca6bu ^ (c + 0x165667b1u) * 0xc2b2ae35u;
    h ^= h >> 15, h *= 0x2c1b3c6du, h ^= h >> 12, h *= 0x297a2d39u, h ^= h >> 15;
    return h / 4294967296.0;
}

double noise(double x, double y, int octaves, std::uint32_t seed) {
    double sum = 0, weight = 0.5, total = 0;
    for (int o = 0; o < octaves; ++o, x *= 2, y *= 2, weight *= 0.55) {
        const double fx = std::floor(x), fy = std::floor(y);
        const auto at = [&](int i, int j) {
            return random(std::uint32_t(int(fx) + i), std::uint32_t(int(fy) + j), seed + std::uint32_t(o) * 101u);
        };
        const auto smooth = [](double t) { return t * t * (3 - 2 * t); };
        const double u = smooth(x - fx), v = smooth(y - fy);
        const double top = at(0, 0) + (at(1, 0) - at(0, 0)) * u, bottom = at(0, 1) + (at(1, 1) - at(0, 1)) * u;
        sum += weight * (top + (bottom - top) * v);
        total += weight;
    }
    return sum / total;
}

QImage texture(double scaleX, double scaleY, double contrast, std::uint32_t seed) {
    QImage image(shotWidth + 128, shotHeight + 128, QImage::Format_Grayscale8);
    for (int y = 0; y < image.height(); ++y) {
        uchar* row = image.scanLine(y);
        for (int x = 0; x < image.width(); ++x) {
            const double coarse = noise(x / scaleX, y / scaleY, 5, seed) - 0.5;
            const double fine = random(std::uint32_t(x), std::uint32_t(y), seed) - 0.5;
            row[x] = uchar(std::clamp(128 + contrast * (coarse * 150 + fine * 26), 0.0, 255.0));
        }
    }
    return image;
}

void multiply(QImage& picture, const QImage& texture, double shiftX, double shiftY) {
    const int sx = int(std::floor(shiftX)), sy = int(std::floor(shiftY));
    const int fx = int((shiftX - sx) * 256), fy = int((shiftY - sy) * 256);
    for (int y = 0; y < picture.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(picture.scanLine(y));
        const int ty = std::clamp(y + 64 - sy, 1, texture.height() - 1);
        const uchar *a = texture.constScanLine(ty), *b = texture.constScanLine(ty - 1);
        for (int x = 0; x < picture.width(); ++x) {
            const int tx = std::clamp(x + 64 - sx, 1, texture.width() - 1);
            const int top = a[tx] * (256 - fx) + a[tx - 1] * fx, above = b[tx] * (256 - fx) + b[tx - 1] * fx;
            const int t = (top * (256 - fy) + above * fy) >> 16;
            const auto times = [t](int v) { return std::min(255, v * t / 128); };
            row[x] = qRgb(times(qRed(row[x])), times(qGreen(row[x])), times(qBlue(row[x])));
        }
    }
}

void skyGradient(QPainter& p, const QColor& top, const QColor& middle, const QColor& bottom, double horizon) {
    QLinearGradient g(0, 0, 0, horizon);
    g.setColorAt(0, top);
    g.setColorAt(0.6, middle);
    g.setColorAt(1, bottom);
    p.fillRect(QRectF(-200, -200, shotWidth + 400, horizon + 200), g);
}

void glow(QPainter& p, QPointF at, double radius, QColor colour, double strength) {
    QRadialGradient g(at, radius);
    for (int i = 0; i <= 8; ++i) {
        const double r = i / 8.0;
        colour.setAlphaF(float(strength * std::pow(1 - r, 2.2)));
        g.setColorAt(r, colour);
    }
    const auto mode = p.compositionMode();
    p.setCompositionMode(QPainter::CompositionMode_Screen);
    p.fillRect(QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius), g);
    p.setCompositionMode(mode);
}

void ripples(QPainter& p, double horizon, double bottom, const QColor& light, const QColor& dark, double time,
             std::uint32_t seed, int count) {
    p.save();
    for (int i = 0; i < count; ++i) {
        const auto n = std::uint32_t(i);
        const double depth = std::pow(random(n, seed), 1.6); // 0 far, 1 near
        const double y = horizon + 2 + (bottom - horizon) * depth;
        const double speed = (random(n, seed, 1) - 0.35) * (8 + 50 * depth);
        const double span = shotWidth + 400;
        const double x = std::fmod(random(n, seed, 2) * span + time * speed + 10 * span, span) - 200;
        const double length = (4 + 46 * depth) * (0.5 + random(n, seed, 3));
        const double bob = std::sin(time * (1.5 + random(n, seed, 4)) + 6.28 * random(n, seed, 5));
        QColor c = random(n, seed, 6) < 0.5 ? light : dark;
        c.setAlphaF(float((0.12 + 0.30 * random(n, seed, 7)) * (0.65 + 0.35 * bob)));
        p.setPen(QPen(c, 0.8 + 3.2 * depth, Qt::SolidLine, Qt::RoundCap));
        QPainterPath stroke(QPointF(x, y + bob));
        stroke.quadTo(QPointF(x + length / 2, y - 1 - 3 * depth + bob), QPointF(x + length, y + bob));
        p.drawPath(stroke);
    }
    p.restore();
}

void rope(QPainter& p, QPointF a, QPointF b, double sag, double width, const QColor& colour) {
    QPainterPath path(a);
    path.quadTo(QPointF((a.x() + b.x()) / 2, (a.y() + b.y()) / 2 + 2 * sag), b);
    p.save();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(path);
    const int twists = int(path.length() / (width * 1.6));
    p.setPen(QPen(colour.lighter(150), std::max(0.7, width * 0.22)));
    for (int i = 0; i < twists; ++i) {
        const double t = (i + 0.5) / twists;
        const QPointF at = path.pointAtPercent(t);
        p.drawLine(at + QPointF(-width * 0.4, width * 0.35), at + QPointF(width * 0.4, -width * 0.35));
    }
    p.restore();
}

void planks(QPainter& p, double top, double bottom, const QColor& colour, std::uint32_t seed) {
    p.save();
    double y = top;
    for (int i = 0; y < bottom; ++i) {
        const double h = 16 + (y - top) * 0.22;
        const auto n = std::uint32_t(i);
        const QColor base = colour.lighter(int(90 + 22 * random(n, seed)));
        p.fillRect(QRectF(-200, y, shotWidth + 400, h + 1), base);
        for (int k = 0; k < 70; ++k) {
            const auto m = std::uint32_t(k);
            const double gx = -200 + (shotWidth + 400) * random(n, seed, m), gy = y + h * random(n, seed + 1, m);
            QColor grain = random(n, seed + 2, m) < 0.6 ? base.darker(135) : base.lighter(122);
            grain.setAlphaF(0.5f);
            p.setPen(QPen(grain, 0.6 + h * 0.02));
            p.drawLine(QPointF(gx, gy),
                       QPointF(gx + 20 + 130 * random(n, seed + 3, m), gy + (random(n, seed + 4, m) - 0.5) * 3));
        }
        p.setPen(QPen(colour.darker(230), 1.2 + h * 0.03));
        p.drawLine(QPointF(-200, y + h), QPointF(shotWidth + 200, y + h));
        for (int k = 0; k < 7; ++k) {
            const double jx = -200 + 250 * (k + random(n, seed + 5, std::uint32_t(k)));
            p.drawLine(QPointF(jx, y), QPointF(jx + 3, y + h));
            p.setBrush(colour.darker(260));
            p.drawEllipse(QPointF(jx + 10, y + h * 0.5), 1.6 + h * 0.02, 1.6 + h * 0.02);
        }
        y += h;
    }
    p.restore();
}

} // namespace virga::demo
