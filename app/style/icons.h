#pragma once
// Virga's own icon set: SVG, one stroke width, in any colour of the theme.
#include <QIcon>
#include <QPixmap>

class QPainter;
class QRectF;

namespace virga {

/// An icon for a button: text-coloured, faint while disabled.
QIcon icon(const QString& name);

/// Draws an icon in a colour, sharp at any size.
void drawIcon(QPainter& painter, const QString& name, const QRectF& where, const QColor& colour);

} // namespace virga
