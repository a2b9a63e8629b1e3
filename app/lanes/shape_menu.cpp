#include "app/lanes/shape_menu.h"

#include <QMenu>
#include <QPainter>
#include <QPainterPath>

#include "app/style/theme.h"

namespace virga {
namespace {

void drawShape(QPainter& p, const Shape& shape, const QRectF& r, const QColor& colour) {
    const auto at = [&](double x, double y) { return QPointF(r.left() + x * r.width(), r.bottom() - y * r.height()); };
    QPainterPath path(at(0, 0));
    if (shape.kind == Interpolation::Hold) {
        path.lineTo(at(1, 0));
        path.lineTo(at(1, 1));
    } else if (shape.kind == Interpolation::Linear) {
        path.lineTo(at(1, 1));
    } else {
        path.cubicTo(at(shape.x1, shape.y1), at(shape.x2, shape.y2), at(1, 1));
    }
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(colour, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(path);
}

} // namespace

QPixmap shapePixmap(const Shape& shape, int size, const QColor& colour, double dpr) {
    QPixmap pixmap(QSize(size, size) * dpr);
    pixmap.setDevicePixelRatio(dpr);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    drawShape(p, shape, QRectF(4, 5, size - 8, size - 10), colour);
    return pixmap;
}

void fillShapeMenu(QMenu* menu, const std::function<void(const NamedShape&)>& chosen) {
    for (const NamedShape& shape : namedShapes()) {
        auto* action = menu->addAction(QIcon(shapePixmap(shape.shape, 24, theme().text, 2)),
                                       QString::fromUtf8(shape.label.data(), int(shape.label.size())));
        QObject::connect(action, &QAction::triggered, menu, [chosen, shape] { chosen(shape); });
        if (shape.name == "linear" || shape.name == "ease-in-out" || shape.name == "depart-back") menu->addSeparator();
    }
}

ShapeChip::ShapeChip(QWidget* parent) : QToolButton(parent) {
    setFixedSize(26, 20);
    setPopupMode(QToolButton::InstantPopup);
    setFocusPolicy(Qt::TabFocus);
    setToolTip(tr("Shape of the curve: click for others"));
    setAccessibleName(tr("Shape"));
    auto* menu = new QMenu(this);
    fillShapeMenu(menu, [this](const NamedShape& s) {
        emit chosen(s.shape, QString::fromUtf8(s.label.data(), int(s.label.size())));
    });
    setMenu(menu);
}

void ShapeChip::setShape(const std::optional<Shape>& shape, const QColor& colour) {
    m_shape = shape;
    m_colour = colour;
    setEnabled(shape.has_value());
    update();
}

void ShapeChip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(underMouse() || hasFocus() ? theme().faint : theme().line, 1));
    p.setBrush(theme().chart);
    p.drawRoundedRect(QRectF(0.5, 0.5, width() - 1, height() - 1), 3, 3);
    if (m_shape) drawShape(p, *m_shape, QRectF(6, 5, width() - 12, height() - 10), m_colour);
}

} // namespace virga
