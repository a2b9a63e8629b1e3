#include "core/motion/stack_speed.h"

#include <cmath>
namespace virga {
namespace {

Stack pulledBy(const Stack& stack, Side side, double time, double factor, Kept kept) {
    Stack out = stack;
    for (Move& move : out) {
        if (!isOn(stack, move) || moveInfo(move.kind).role != MoveRole::Movement) continue;
        const auto& info = moveInfo(move.kind).channels;
        for (std::size_t c = 0; c < info.size(); ++c) {
            Curve& curve = move.channels[c].side(side);
            const double speed = side == Side::Outgoing ? speedBefore(curve, time) : speedAfter(curve, time);
            if (speed == 0) continue;
            Curve next = withSpeedPulled(curve, time, speed * factor, kept);
            for (const Key& key : next.keys)
                if (key.value < info[c].lowest || key.value > info[c].highest) return stack;
            curve = std::move(next);
        }
    }
    return out;
}

} // namespace

Stack withScreenSpeedPulled(const Stack& stack, Side side, double time, double speed, Kept kept,
                            const std::function<double(const Stack&)>& measured) {
    const double now = measured(stack);
    if (!(now > 1e-6) || !(speed >= 0) || !std::isfinite(speed)) return stack;
    double k0 = 1, f0 = now, k1 = speed / now;
    Stack out = pulledBy(stack, side, time, k1, kept);
    for (int i = 0; i < 20; ++i) {
        const double f1 = measured(out);
        if (std::abs(f1 - speed) <= 1e-6 * std::max(speed, now) || f1 == f0) break;
        const double next = k1 + (speed - f1) * (k1 - k0) / (f1 - f0);
        k0 = k1, f0 = f1, k1 = std::max(0.0, next);
        out = pulledBy(stack, side, time, k1, kept);
    }
    return out;
}

} // namespace virga
