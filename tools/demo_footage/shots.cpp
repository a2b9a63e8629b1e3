#include "tools/demo_footage/shots.h"

#include <cmath>

#include "tools/demo_footage/props.h"

namespace virga::demo {
namespace {

// A painter on a fresh picture, its camera drifting; the texture laid over at the end drifts along.
class Scene {
public:
    Scene(const QImage& grain, double driftX, double driftY, double zoom = 1)
        : m_grain(grain), m_x(driftX), m_y(driftY), m_image(shotWidth, shotHeight, QImage::Format_RGB32),
          m_painter(&m_image) {
        m_painter.setRenderHint(QPainter::Antialiasing);
        m_painter.translate(shotWidth / 2.0 + driftX, shotHeight / 2.0 + driftY);
        m_painter.scale(zoom, zoom);
        m_painter.translate(-shotWidth / 2.0, -shotHeight / 2.0);
    }
    QPainter& painter() { return m_painter; }
    QImage finish() {
        m_painter.end();
        multiply(m_image, m_grain, m_x, m_y);
        return m_image;
    }

private:
    const QImage& m_grain;
    double m_x, m_y;
    QImage m_image;
    QPainter m_painter;
};

const QImage& paper() {
    static const QImage t = texture(46, 46, 0.30, 5);
    return t;
}
const QImage& sea() {
    static const QImage t = texture(90, 14, 0.42, 8);
    return t;
}

void water(QPainter& p, double horizon, const QColor& far, const QColor& near) {
    QLinearGradient g(0, horizon, 0, shotHeight);
    g.setColorAt(0, far);
    g.setColorAt(1, near);
    p.fillRect(QRectF(-200, horizon, shotWidth + 400, shotHeight - horizon + 200), g);
}

// Broken reflection of a light in the water below it.
void glitter(QPainter& p, double x, double horizon, double width, const QColor& colour, double time,
             std::uint32_t seed) {
    for (int i = 0; i < 170; ++i) {
        const auto n = std::uint32_t(i);
        const double depth = random(n, seed), y = horizon + 3 + depth * (shotHeight - horizon);
        const double spread = width * (0.25 + depth),
                     dx = (random(n, seed, 1) + random(n, seed, 2) - 1) * spread + 6 * std::sin(time * 2.5 + i);
        QColor c = colour;
        c.setAlphaF(float((0.25 + 0.5 * random(n, seed, 3)) * (0.6 + 0.4 * std::sin(time * 6 + i * 1.9))));
        p.setPen(QPen(c, 1 + 2.6 * depth, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(QPointF(x + dx, y), QPointF(x + dx + 5 + 30 * depth * random(n, seed, 4), y));
    }
}

QImage dawnCrane(double t) {
    Scene s(paper(), -14 * t, 0, 1.05);
    QPainter& p = s.painter();
    const double horizon = 452;
    skyGradient(p, QColor(38, 62, 96), QColor(150, 116, 128), QColor(246, 176, 112), horizon);
    for (int i = 0; i < 26; ++i) { // streaks of cloud
        const auto n = std::uint32_t(i);
        QColor c(255, 208, 164, int(24 + 46 * random(n, 2)));
        p.setPen(Qt::NoPen);
        p.setBrush(c);
        p.drawEllipse(QPointF(shotWidth * random(n, 3) * 1.2 - 100 + 6 * t, 120 + 260 * random(n, 4)),
                      90 + 160 * random(n, 5), 3 + 8 * random(n, 6));
    }
    const QPointF sun(860, 400 - 8 * t);
    glow(p, sun, 420, QColor(255, 190, 110), 0.8);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(255, 236, 190));
    p.drawEllipse(sun, 56, 56);
    for (int i = 0; i < 9; ++i) {
        const auto n = std::uint32_t(i);
        const double w = 70 + 90 * random(n, 11), h = 40 + 90 * random(n, 12);
        warehouse(p, QRectF(-60 + i * 160 + 50 * random(n, 13), horizon - h, w, h), QColor(58, 50, 64),
                  QColor(255, 190, 110), n);
    }
    water(p, horizon, QColor(206, 140, 112), QColor(38, 56, 84));
    ripples(p, horizon, shotHeight, QColor(255, 206, 160), QColor(28, 42, 70), t, 21, 1300);
    glitter(p, sun.x(), horizon, 150, QColor(255, 226, 170), t, 22);
    const QColor iron(34, 32, 46);
    crane(p, {1120, horizon + 4}, 250, 0.5 + 0.3 * std::sin(t * 0.5 + 2), QColor(64, 54, 68));
    crane(p, {330, horizon + 26}, 372, 0.5 + 0.4 * std::sin(t * 0.7), iron);
    p.fillRect(QRectF(-200, horizon + 20, 760, 16), iron);
    for (int i = 0; i < 8; ++i) {
        p.fillRect(QRectF(-150 + i * 90, horizon + 30, 14, 90), iron);
        rope(p, {-150.0 + i * 90 + 7, horizon + 22}, {-60.0 + i * 90 + 7, horizon + 22}, 12, 2.5, QColor(92, 76, 72));
    }
    for (int i = 0; i < 4; ++i)
        gull(p, {300 + 190.0 * i + 46 * t, 190 + 40.0 * (i % 3) + 6 * std::sin(t * 2 + i)}, 13 + 3 * i, t * 8 + i);
    return s.finish();
}

QImage lanternRig(double t) {
    Scene s(paper(), 8 * std::sin(t * 0.5), 5 * t - 8, 1.06);
    QPainter& p = s.painter();
    const double horizon = 560;
    skyGradient(p, QColor(14, 18, 44), QColor(26, 32, 70), QColor(54, 50, 92), horizon);
    for (int i = 0; i < 220; ++i) {
        const auto n = std::uint32_t(i);
        p.setPen(QPen(QColor(220, 226, 255, int(60 + 150 * random(n, 1) * (0.7 + 0.3 * std::sin(t * 3 + i)))),
                      0.8 + 1.6 * random(n, 2)));
        p.drawPoint(QPointF(shotWidth * random(n, 3), horizon * random(n, 4)));
    }
    for (int i = 0; i < 10; ++i)
        warehouse(p, QRectF(-50 + i * 140, horizon - 60 - 70 * random(std::uint32_t(i), 6), 120, 150),
                  QColor(28, 28, 54), QColor(255, 196, 110), std::uint32_t(40 + i));
    water(p, horizon, QColor(36, 38, 78), QColor(12, 16, 38));
    ripples(p, horizon, shotHeight, QColor(120, 120, 180), QColor(8, 10, 28), t, 33, 900);
    glitter(p, 640, horizon, 170, QColor(255, 176, 80), t, 34);
    glitter(p, 210, horizon, 60, QColor(240, 110, 100), t, 35);
    glitter(p, 1090, horizon, 70, QColor(250, 210, 110), t, 36);
    rope(p, {-80, 30}, {1360, 70}, 66, 7, QColor(58, 48, 62));
    rope(p, {-80, -20}, {1360, 10}, 30, 4, QColor(44, 38, 54));
    static const QColor papers[] = {QColor(232, 96, 84), QColor(250, 206, 92), QColor(240, 130, 70),
                                    QColor(214, 92, 120)};
    const double spots[][3] = {{80, 70, 92},   {250, 92, 120},  {430, 110, 80},
                               {860, 112, 84}, {1060, 96, 128}, {1225, 82, 90}};
    for (int i = 0; i < 6; ++i)
        lantern(p, {spots[i][0], spots[i][1]}, spots[i][2], 5 * std::sin(t * 1.7 + i * 1.1), papers[i % 4],
                0.85 + 0.1 * std::sin(t * 7 + i));
    lantern(p, {640, 108}, 268, 4 * std::sin(t * 1.3 + 0.4), QColor(245, 150, 50), 1);
    return s.finish();
}

QImage heat(double t, bool second) {
    Scene s(sea(), second ? 10 * t : -10 * t, 3 * std::sin(t * 1.1), 1.06);
    QPainter& p = s.painter();
    const double horizon = second ? 232 : 280;
    if (second)
        skyGradient(p, QColor(86, 132, 158), QColor(138, 176, 190), QColor(216, 222, 206), horizon);
    else
        skyGradient(p, QColor(70, 122, 146), QColor(104, 156, 172), QColor(176, 202, 200), horizon);
    QPainterPath hills(QPointF(-200, horizon));
    for (int i = 0; i <= 40; ++i)
        hills.lineTo(-200 + i * 42, horizon - 18 - 74 * noise(i * 0.23 + (second ? 9 : 0), 0, 4, 3));
    hills.lineTo(1500, horizon);
    p.setPen(Qt::NoPen);
    p.setBrush(second ? QColor(86, 122, 128) : QColor(58, 104, 120));
    p.drawPath(hills);
    water(p, horizon, second ? QColor(108, 156, 166) : QColor(74, 128, 148),
          second ? QColor(24, 82, 98) : QColor(30, 82, 104));
    ripples(p, horizon, shotHeight, QColor(206, 232, 236), QColor(18, 60, 80), t * 1.6, second ? 54 : 53, 1900);
    const double bob = std::sin(t * 2.2);
    for (int i = 0; i < 5; ++i) // the field, far off
        boat(p, {150.0 + i * 250 + (second ? -26 : 26) * t, horizon + 34.0 + 9 * (i % 2)}, 56, QColor(120, 84, 66),
             QColor(236, 230, 216), 3 + 2 * std::sin(t + i), {}, second);
    for (int i = 0; i < 3; ++i) { // marks
        const double x = second ? 1180 - i * 420 : 180 + i * 420;
        p.setBrush(QColor(236, 122, 50));
        p.setPen(Qt::NoPen);
        p.drawRoundedRect(QRectF(x - 12, horizon + 84 + 3 * std::sin(t * 2 + i), 24, 34), 6, 6);
        p.setBrush(QColor(250, 240, 220));
        p.drawRect(QRectF(x - 12, horizon + 96 + 3 * std::sin(t * 2 + i), 24, 7));
    }
    if (second) {
        boat(p, {930 - 62 * t, 452 + 4 * bob}, 250, QColor(52, 84, 120), QColor(240, 214, 150), 9 + 2 * bob, "7", true);
        boat(p, {560 - 84 * t, 640 - 5 * bob}, 430, QColor(226, 172, 66), QColor(246, 240, 226), 12 + 3 * bob, "12",
             true);
    } else {
        boat(p, {860 + 40 * t, 488 - 4 * bob}, 260, QColor(228, 178, 74), QColor(230, 236, 238), -7 + 2 * bob, "4",
             false);
        boat(p, {330 + 66 * t, 604 + 6 * bob}, 420, QColor(200, 81, 61), QColor(244, 234, 214), -8 + 3 * bob, "9",
             false);
    }
    for (int i = 0; i < 240; ++i) { // spray
        const auto n = std::uint32_t(i);
        const double age = std::fmod(t * (0.8 + random(n, 61)) + random(n, 62), 1.0);
        const double x0 = second ? 360 - 84 * t : 560 + 66 * t, dir = second ? 1 : -1;
        p.setBrush(QColor(246, 252, 252, int(150 * (1 - age))));
        p.drawEllipse(QPointF(x0 + dir * 220 * random(n, 63) * age - dir * 30,
                              636 + (second ? 14 : 0) - 70 * age * (1 - age) * 3 * random(n, 64)),
                      1 + 4 * age, 1 + 3 * age);
    }
    return s.finish();
}
QImage firstHeat(double t) {
    return heat(t, false);
}
QImage secondHeat(double t) {
    return heat(t, true);
}

QImage lighthouseShot(double t) {
    Scene s(paper(), 4 * t - 6, -3 * t + 4, 1.06);
    QPainter& p = s.painter();
    const double horizon = 500;
    skyGradient(p, QColor(112, 156, 178), QColor(150, 186, 196), QColor(208, 216, 206), horizon);
    for (int i = 0; i < 60; ++i) {
        const auto n = std::uint32_t(i);
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(245, 244, 236, int(14 + 34 * random(n, 1))));
        p.drawEllipse(
            QPointF(std::fmod(1600 * random(n, 2) + 16 * t, 1600) - 160, 60 + 280 * std::pow(random(n, 3), 1.4)),
            60 + 130 * random(n, 4), 10 + 26 * random(n, 5));
    }
    water(p, horizon, QColor(116, 156, 168), QColor(40, 86, 104));
    ripples(p, horizon, shotHeight, QColor(226, 240, 240), QColor(30, 70, 88), t, 73, 1300);
    QPainterPath rock(QPointF(330, 650));
    for (int i = 0; i <= 60; ++i) {
        const double a = i / 60.0;
        rock.lineTo(330 + 620 * a, 640 - 128 * std::sin(3.1416 * a) - 40 * noise(a * 9, 1, 4, 14));
    }
    rock.lineTo(1000, 690);
    rock.lineTo(290, 690);
    QLinearGradient g(0, 480, 0, 690);
    g.setColorAt(0, QColor(128, 116, 104));
    g.setColorAt(1, QColor(58, 54, 56));
    p.setBrush(g);
    p.setPen(Qt::NoPen);
    p.drawPath(rock);
    p.save();
    p.setClipPath(rock);
    for (int i = 0; i < 420; ++i) {
        const auto n = std::uint32_t(i);
        p.setPen(
            QPen(random(n, 21) < 0.5 ? QColor(40, 38, 40, 110) : QColor(190, 178, 160, 90), 1 + 2 * random(n, 22)));
        const QPointF at(290 + 710 * random(n, 23), 460 + 240 * random(n, 24));
        p.drawLine(at, at + QPointF(8 + 30 * random(n, 25), 14 * (random(n, 26) - 0.3)));
    }
    p.restore();
    lighthouse(p, {640, 500}, 430, 0, false);
    for (int i = 0; i < 110; ++i) { // surf
        const auto n = std::uint32_t(i);
        const double wash = std::sin(t * 1.8 + random(n, 31) * 6.28);
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(248, 252, 250, int(90 + 90 * wash)));
        p.drawEllipse(QPointF(280 + 740 * random(n, 32), 676 + 16 * random(n, 33) - 5 * wash), 8 + 26 * random(n, 34),
                      3 + 3 * random(n, 35));
    }
    for (int i = 0; i < 7; ++i)
        gull(p, {180 + 150.0 * i + 40 * std::sin(t * 0.8 + i), 200 + 46.0 * (i % 4) + 18 * std::cos(t * 0.9 + 2 * i)},
             15 + 3 * (i % 3), t * 7 + 1.7 * i);
    return s.finish();
}

QImage quayStalls(double t) {
    Scene s(paper(), -22 * t + 20, 0, 1.05);
    QPainter& p = s.painter();
    skyGradient(p, QColor(58, 74, 116), QColor(166, 128, 132), QColor(240, 184, 130), 420);
    for (int i = 0; i < 12; ++i) {
        const auto n = std::uint32_t(i);
        const double h = 170 + 110 * random(n, 1);
        warehouse(p, QRectF(-160 + i * 140, 430 - h, 136, h + 60),
                  QColor::fromHsv(int(15 + 20 * random(n, 2)), 90, int(100 + 50 * random(n, 3))), QColor(255, 206, 130),
                  n + 7);
    }
    bunting(p, {-100, 120}, {520, 96}, 60, t);
    bunting(p, {520, 96}, {1420, 130}, 74, t + 1);
    planks(p, 470, 720, QColor(134, 98, 70), 77);
    stall(p, {170, 520}, 290, QColor(200, 81, 61), QColor(244, 234, 214), "TAR & ROPE", 1, t);
    stall(p, {560, 526}, 310, QColor(60, 118, 140), QColor(240, 226, 196), "HOT CHESTNUTS", 2, t);
    stall(p, {970, 522}, 300, QColor(227, 179, 76), QColor(250, 240, 220), "SAILCLOTH", 3, t);
    stall(p, {1330, 526}, 280, QColor(120, 90, 140), QColor(244, 234, 214), "LANTERNS", 4, t);
    static const QColor coats[] = {QColor(70, 90, 120), QColor(160, 70, 60), QColor(90, 120, 96), QColor(196, 150, 80),
                                   QColor(100, 74, 110)};
    for (int i = 0; i < 11; ++i) {
        const auto n = std::uint32_t(i);
        const double dir = i % 2 ? 1 : -1,
                     x = std::fmod(1700 * random(n, 5) + dir * (50 + 26 * random(n, 6)) * t + 3400, 1700) - 200,
                     y = 560 + 110 * random(n, 7);
        person(p, {x, y}, 118 + (y - 560) * 0.6, coats[i % 5], t * 7 + i * 1.3);
    }
    rope(p, {-100, 640}, {420, 650}, 26, 9, QColor(150, 124, 92));
    rope(p, {420, 650}, {960, 646}, 30, 9, QColor(150, 124, 92));
    rope(p, {960, 646}, {1480, 652}, 28, 9, QColor(150, 124, 92));
    for (const double x : {420.0, 960.0, 1460.0}) {
        p.fillRect(QRectF(x - 16, 610, 32, 110), QColor(70, 52, 42));
        p.fillRect(QRectF(x - 20, 604, 40, 14), QColor(96, 72, 56));
    }
    return s.finish();
}

QImage lampsLit(double t) {
    Scene s(paper(), 16 * t - 30, 2 * std::sin(t), 1.06);
    QPainter& p = s.painter();
    const double horizon = 430;
    skyGradient(p, QColor(24, 28, 66), QColor(70, 56, 104), QColor(196, 120, 112), horizon);
    for (int i = 0; i < 12; ++i)
        warehouse(p, QRectF(-120 + i * 130, horizon - 50 - 60 * random(std::uint32_t(i), 4), 112, 120),
                  QColor(46, 40, 72), QColor(255, 200, 120), std::uint32_t(i + 90));
    water(p, horizon, QColor(120, 84, 112), QColor(28, 30, 62));
    ripples(p, horizon, 620, QColor(240, 170, 150), QColor(24, 22, 54), t, 93, 800);
    for (int i = 0; i < 3; ++i)
        boat(p, {260.0 + i * 380 - 10 * t, horizon + 50.0 + 14 * (i % 2)}, 92, QColor(66, 52, 70),
             QColor(176, 150, 160), 2 * std::sin(t + i), {}, i % 2 == 1);
    planks(p, 560, 720, QColor(92, 70, 74), 44);
    for (int i = 0; i < 7; ++i) { // the lamplighter's row, one after the other
        const double x = 60 + i * 195,
                     lit = std::clamp((t - 0.35 * i) * 2.4, 0.0, 1.0) * (0.93 + 0.07 * std::sin(t * 11 + 3 * i));
        if (lit > 0) glow(p, {x, 628}, 150, QColor(255, 180, 100), 0.4 * lit);
        lampPost(p, {x, 620}, 390, lit);
        if (i < 6) {
            rope(p, {x, 330}, {x + 195, 330}, 30, 3.5, QColor(52, 44, 58));
            static const QColor papers[] = {QColor(236, 110, 90), QColor(250, 206, 92), QColor(240, 140, 70)};
            lantern(p, {x + 97, 358}, 60, 4 * std::sin(t * 1.9 + i), papers[i % 3], lit);
        }
    }
    person(p, {std::min(60 + 557 * t * 0.72, 1190.0), 664}, 150, QColor(52, 58, 84), t * 8);
    for (int i = 0; i < 4; ++i)
        person(p, {1180 - 120.0 * i - 24 * t, 690}, 164, QColor(70 + 30 * i, 60, 90), t * 6 + i);
    return s.finish();
}

QImage lastLight(double t) {
    Scene s(sea(), 0, 4 * t - 8, 1.06);
    QPainter& p = s.painter();
    const double horizon = 470;
    skyGradient(p, QColor(10, 14, 36), QColor(34, 40, 84), QColor(132, 92, 118), horizon);
    for (int i = 0; i < 320; ++i) {
        const auto n = std::uint32_t(i);
        p.setPen(QPen(QColor(230, 234, 255, int(50 + 180 * random(n, 1) * (0.7 + 0.3 * std::sin(t * 4 + i)))),
                      0.8 + 1.8 * random(n, 2)));
        p.drawPoint(QPointF(shotWidth * random(n, 3), horizon * 0.9 * random(n, 4)));
    }
    glow(p, {960, 150}, 260, QColor(230, 236, 255), 0.55);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(238, 240, 250));
    p.drawEllipse(QPointF(960, 150), 44, 44);
    for (int i = 0; i < 16; ++i) {
        const auto n = std::uint32_t(i);
        p.setBrush(QColor(206, 212, 230, 120));
        p.drawEllipse(QPointF(960 + 60 * (random(n, 5) - 0.5), 150 + 60 * (random(n, 6) - 0.5)), 2 + 7 * random(n, 7),
                      2 + 6 * random(n, 8));
    }
    water(p, horizon, QColor(86, 70, 112), QColor(10, 16, 40));
    ripples(p, horizon, shotHeight, QColor(160, 160, 214), QColor(6, 10, 28), t, 103, 1500);
    glitter(p, 960, horizon, 120, QColor(236, 240, 255), t, 104);
    glitter(p, 400, horizon, 90, QColor(255, 214, 140), t, 105);
    QPainterPath rock(QPointF(180, 520));
    for (int i = 0; i <= 40; ++i)
        rock.lineTo(180 + 440 * i / 40.0, 512 - 64 * std::sin(3.1416 * i / 40) - 24 * noise(i * 0.3, 2, 4, 24));
    rock.closeSubpath();
    p.setBrush(QColor(22, 22, 40));
    p.drawPath(rock);
    lighthouse(p, {400, 466}, 300, 22 + 55 * t, true);
    for (int i = 0; i < 14; ++i) { // lanterns set afloat
        const auto n = std::uint32_t(i);
        const double x = 60 + 88 * i + 9 * std::sin(t + i), y = 540 + 150 * random(n, 41) + 3 * std::sin(t * 2 + i),
                     size = 8 + (y - 540) * 0.12;
        glow(p, {x, y}, size * 6, QColor(255, 170, 80), 0.65);
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(255, 206, 130));
        p.drawRoundedRect(QRectF(x - size / 2, y - size, size, size * 1.3), 2, 2);
        p.setPen(QPen(QColor(150, 80, 40), 1));
        p.drawLine(QPointF(x - size / 2, y - size * 0.4), QPointF(x + size / 2, y - size * 0.4));
    }
    return s.finish();
}

} // namespace

const std::vector<Shot>& shots() {
    // Each is a second longer at both ends than the demo uses, so that there are spare frames.
    static const std::vector<Shot> all = {
        {"dawn-crane", 125, dawnCrane},      {"lantern-rig", 100, lanternRig}, {"first-heat", 150, firstHeat},
        {"lighthouse", 100, lighthouseShot}, {"quay-stalls", 125, quayStalls}, {"second-heat", 150, secondHeat},
        {"lamps-lit", 125, lampsLit},        {"last-light", 125, lastLight},
    };
    return all;
}

} // namespace virga::demo
