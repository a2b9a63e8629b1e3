#pragma once
// Shapes offered as drawn curves.
#include <QIcon>
#include <QToolButton>
#include <functional>

#include "core/curve/shape.h"

class QMenu;

namespace virga {

void fillShapeMenu(QMenu* menu, const std::function<void(const NamedShape&)>& chosen);

/// A shape drawn in a square of that many pixels.
QPixmap shapePixmap(const Shape& shape, int size, const QColor& colour, double dpr);

/// A small button that shows a segment's shape and offers others.
class ShapeChip : public QToolButton {
    Q_OBJECT
public:
    explicit ShapeChip(QWidget* parent = nullptr);
    void setShape(const std::optional<Shape>& shape, const QColor& colour);

signals:
    void chosen(const virga::Shape& shape, const QString& label);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<Shape> m_shape;
    QColor m_colour;
};

} // namespace virga
