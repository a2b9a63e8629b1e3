#pragma once
// What the Picture's handles measure on the widget.
#include <QLineF>

namespace virga {

inline double distanceOf(QPointF a, QPointF b) {
    return QLineF(a, b).length();
}

} // namespace virga
