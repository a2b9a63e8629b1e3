#pragma once
// How a whole stack moves the screen at the cut, and the rates at which the incoming side carries that movement on:
// speed and direction of every point together, not channel by channel. Rates are in units of each channel's space per
// frame. Free of shared state.
#include <array>
#include <vector>

#include "core/base/error.h"
#include "core/motion/move.h"

namespace virga {

/// Velocities of the screen's nine probe points (see probePointsOf), in frame widths per frame.
using ScreenFlow = std::array<Point, 9>;

/// At the cut: the limit from before for the outgoing side, from after for the incoming one.
ScreenFlow screenFlowAtCut(const Stack& stack, Side side, Size frame);

/// The largest difference of the two sides' velocities at a probe point, in % of the frame width per frame: 0 where
/// speed and direction carry on.
double velocityStep(const Stack& stack, Size frame);

/// For every channel of every move the rate that its incoming side needs, so that with its values as they are the two
/// sides' velocities are equal everywhere on the screen. Of all answers the one that is nearest to each channel's own
/// outgoing rate; channels that stand still on both sides are used only where the others do not suffice. A channel that
/// moves nothing (a fade, a move that is off) keeps its incoming rate. Errors: BadInput with what is missing.
Expected<std::vector<std::vector<double>>> matchingRates(const Stack& stack, Size frame);

} // namespace virga
