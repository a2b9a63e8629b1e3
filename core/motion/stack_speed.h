#pragma once
// Shaping a whole stack by its on-screen speed.
#include "core/curve/speed_pull.h"
#include "core/motion/move.h"

namespace virga {

/// The stack with an on-screen speed (instantSpeed, % of the frame width per frame) at a time of one side: every
/// channel that moves there is pulled by the same factor (withSpeedPulled), found by the secant method to 1e-6 of the
/// speed. Standing still, and values that a channel does not take, leave the stack as it is.
Stack withScreenSpeedPulled(const Stack& stack, Side side, double time, double speed, Size frame, Kept kept);

} // namespace virga
