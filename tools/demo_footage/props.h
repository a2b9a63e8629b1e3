#pragma once
// The things the demo shots are made of. Each draws with its foot or centre at the given point, in shot pixels.
#include "tools/demo_footage/brush.h"

namespace virga::demo {

void crane(QPainter& p, QPointF foot, double height, double trolley, const QColor& colour);
void warehouse(QPainter& p, QRectF where, const QColor& wall, const QColor& window, std::uint32_t seed);
void lighthouse(QPainter& p, QPointF foot, double height, double beam, bool lit);
void stall(QPainter& p, QPointF foot, double width, const QColor& a, const QColor& b, const QString& sign,
           std::uint32_t seed, double time);
void person(QPainter& p, QPointF foot, double height, const QColor& coat, double stride);
void gull(QPainter& p, QPointF at, double size, double flap);
void lantern(QPainter& p, QPointF hook, double size, double swing, const QColor& paper, double lit);
void lampPost(QPainter& p, QPointF foot, double height, double lit);
void bunting(QPainter& p, QPointF a, QPointF b, double sag, double time);
/// A racing boat heeling by degrees; number is painted on the sail.
void boat(QPainter& p, QPointF waterline, double length, const QColor& hull, const QColor& sail, double heel,
          const QString& number, bool flip);

} // namespace virga::demo
