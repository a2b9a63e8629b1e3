#pragma once
// Shared drawing for the demo shots: repeatable random numbers, smooth noise, textures, glows, ripples, ropes.
#include <QImage>
#include <QPainter>
#include <QPainterPath>
#include <cstdint>

namespace virga::demo {

inline constexpr int shotWidth = 1280, shotHeight = 720;

/// A number in [0, 1) that depends only on its arguments.
double random(std::uint32_t a, std::uint32_t b = 0, std::uint32_t c = 0);

/// Value noise summed over octaves, about 0 to 1, smooth in x and y.
double noise(double x, double y, int octaves, std::uint32_t seed);

/// A grey texture the size of a shot and a margin, around 128: stretched noise, for wood along x, for paper evenly.
QImage texture(double scaleX, double scaleY, double contrast, std::uint32_t seed);

/// Multiplies a picture by a texture (128 is 1), shifted by whole and part pixels.
void multiply(QImage& picture, const QImage& texture, double shiftX, double shiftY);

void skyGradient(QPainter& p, const QColor& top, const QColor& middle, const QColor& bottom, double horizon);
void glow(QPainter& p, QPointF at, double radius, QColor colour, double strength);
/// Short strokes on water below the horizon, larger and farther apart towards the viewer, drifting with time.
void ripples(QPainter& p, double horizon, double bottom, const QColor& light, const QColor& dark, double time,
             std::uint32_t seed, int count = 900);
/// A hanging rope with twist marks between two points.
void rope(QPainter& p, QPointF a, QPointF b, double sag, double width, const QColor& colour);
/// Planks across the picture with grain, nails and gaps, in perspective towards the horizon.
void planks(QPainter& p, double top, double bottom, const QColor& colour, std::uint32_t seed);

} // namespace virga::demo
