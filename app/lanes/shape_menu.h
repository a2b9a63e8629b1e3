#pragma once
// Shapes offered as drawn curves.
#include <QIcon>
#include <QMenu>
#include <QToolButton>
#include <functional>
#include <optional>

#include "core/curve/easing.h"

class QPainter;

namespace virga {

struct OfferedShape {
    QString label, family;
    Easing easing;
    bool own = false; // the user's
};
/// The library's and the user's own.
std::vector<OfferedShape> offeredShapes();

void drawEasing(QPainter& p, const Easing& easing, const QRectF& where, const QColor& colour, double width = 1.6);
/// An easing drawn in a square of that many pixels.
QPixmap easingPixmap(const Easing& easing, int size, const QColor& colour, double dpr);

/// Plain ones on the menu itself, each other family as a menu of its own. `tried` is told what is pointed at.
void fillShapeMenu(QMenu* menu, const std::function<void(const OfferedShape&)>& tried,
                   const std::function<void(const OfferedShape&)>& chosen);

/// A small button that shows a shape; a click asks for others.
class ShapeChip : public QToolButton {
    Q_OBJECT
public:
    explicit ShapeChip(QWidget* parent = nullptr);
    void setEasing(const std::optional<Easing>& easing, const QColor& colour);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<Easing> m_easing;
    QColor m_colour;
};

} // namespace virga
