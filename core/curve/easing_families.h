#pragma once
// Easings by formula. Robert Penner's families (Programming Macromedia Flash MX, 2002, chapter 7), and vibrations that
// die away. Where one cubic Bezier cannot be exact, how far it is off is told; nobody sees two thousandths of the way.
#include "core/curve/easing.h"

namespace virga {

enum class PennerFamily { Sine, Quad, Cubic, Quart, Quint, Expo, Circ, Back, Elastic, Bounce };
enum class EasingWay { In, Out, InOut };

/// Quad, cubic, back and bounce are exact; sine, quart, quint, expo and circ are within 0.002 of the way, elastic
/// within 0.004.
Easing pennerEasing(PennerFamily family, EasingWay way);

/// From rest over the goal and back, each swing `ratio` of the one before: the step response of an underdamped
/// second-order system, whose overshoot is exp(-pi zeta / sqrt(1 - zeta^2)) = ratio (Ogata, Modern Control Engineering,
/// section 5-3), cut off at a turning point after `halfSwings` half swings. Within 0.007 of the way.
Easing settling(double ratio, int halfSwings);

/// Arrives at full speed, overshoots and swings out: 1 - r^(2 t / T) cos(2 pi t / T), T the time of a swing that loses
/// the part 1 - r^2, ending at a turning point after `halfSwings` half swings.
Easing arrivingSettling(double ratio, int halfSwings);

} // namespace virga
