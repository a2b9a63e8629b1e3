#pragma once
// Shaping a whole stack by its on-screen speed.
#include <functional>

#include "core/curve/speed_pull.h"
#include "core/motion/move.h"

namespace virga {

/// The stack with a speed at a time of one side, as `measured` tells it of a stack: every channel that moves the
/// picture there is pulled by the same factor (withSpeedPulled), found by the secant method to 1e-6 of the speed.
/// Standing still, and values that a channel does not take, leave the stack as it is.
Stack withScreenSpeedPulled(const Stack& stack, Side side, double time, double speed, Kept kept,
                            const std::function<double(const Stack&)>& measured);

} // namespace virga
