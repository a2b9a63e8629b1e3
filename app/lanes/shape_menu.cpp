#include "app/lanes/shape_menu.h"

#include "app/document/words.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/document/kept_shapes.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/curve/easing_library.h"

namespace virga {

std::vector<OfferedShape> offeredShapes() {
    std::vector<OfferedShape> all;
    const auto text = [](std::string_view s) { return textOf(s); };
    for (const NamedEasing& named : allEasings())
        all.push_back({text(named.label), text(named.family), named.easing, false});
    for (const KeptShape& kept : KeptShapes::instance().all())
        all.push_back({kept.name, QObject::tr("My own"), kept.easing, true});
    return all;
}

void drawEasing(QPainter& p, const Easing& easing, const QRectF& r, const QColor& colour, double width) {
    const auto& keys = easing.unit.keys;
    double low = 0, high = 1; // what overshoots is drawn whole
    for (int i = 1; i < 40; ++i) {
        const double way = wayAt(easing, i / 40.0);
        low = std::min(low, way), high = std::max(high, way);
    }
    const auto at = [&](double x, double y) {
        return QPointF(r.left() + x * r.width(), r.bottom() - (y - low) / (high - low) * r.height());
    };
    QPainterPath path(at(0, 0));
    for (std::size_t i = 0; i + 1 < keys.size(); ++i) {
        const Key &a = keys[i], &b = keys[i + 1];
        const double d = b.time - a.time;
        if (a.next == Interpolation::Hold) {
            path.lineTo(at(b.time, a.value));
            path.lineTo(at(b.time, b.value));
        } else if (a.next == Interpolation::Linear) {
            path.lineTo(at(b.time, b.value));
        } else {
            path.cubicTo(at(a.time + a.leave.reach * d, a.value + a.leave.rise),
                         at(b.time - b.arrive.reach * d, b.value - b.arrive.rise), at(b.time, b.value));
        }
    }
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    if (low < -0.01 || high > 1.01) { // where start and goal lie
        p.setPen(QPen(theme().line, 1));
        for (const double level : {0.0, 1.0}) p.drawLine(at(0, level), at(1, level));
    }
    p.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(path);
}

QPixmap easingPixmap(const Easing& easing, int size, const QColor& colour, double dpr) {
    QPixmap pixmap(QSize(size, size) * dpr);
    pixmap.setDevicePixelRatio(dpr);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    drawEasing(p, easing, QRectF(4, 5, size - 8, size - 10), colour);
    return pixmap;
}

void fillShapeMenu(QMenu* menu, const std::function<void(const OfferedShape&)>& tried,
                   const std::function<void(const OfferedShape&)>& chosen) {
    QString family;
    QMenu* into = menu;
    for (const OfferedShape& shape : offeredShapes()) {
        if (shape.family != family) {
            into = family.isEmpty() ? menu : menu->addMenu(shape.family);
            family = shape.family;
        }
        auto* action = into->addAction(QIcon(easingPixmap(shape.easing, 24, theme().text, 2)), shape.label);
        QObject::connect(action, &QAction::hovered, menu, [tried, shape] { tried(shape); });
        QObject::connect(action, &QAction::triggered, menu, [chosen, shape] { chosen(shape); });
    }
}

ShapeChip::ShapeChip(QWidget* parent) : QToolButton(parent) {
    setFixedSize(26, 20);
    setFocusPolicy(Qt::TabFocus);
    setTip(this, tr("Shape of the curve: click for others"));
    setAccessibleName(tr("Shape"));
}

void ShapeChip::setEasing(const std::optional<Easing>& easing, const QColor& colour) {
    if (m_easing == easing && m_colour == colour) return;
    m_easing = easing;
    m_colour = colour;
    setEnabled(easing.has_value());
    update();
}

void ShapeChip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(underMouse() || hasFocus() ? theme().faint : theme().line, 1));
    p.setBrush(theme().chart);
    p.drawRoundedRect(QRectF(0.5, 0.5, width() - 1, height() - 1), 3, 3);
    if (m_easing) drawEasing(p, *m_easing, QRectF(6, 5, width() - 12, height() - 10), m_colour);
}

} // namespace virga
