#include "core/motion/stack_map.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

double channelAt(const Move& move, int channel, Side side, double time) {
    const auto& info = moveInfo(move.kind).channels[std::size_t(channel)];
    if (channel >= int(move.channels.size())) return info.neutral;
    return evaluate(move.channels[std::size_t(channel)].side(side), time, info.neutral);
}

double farthest(const Matrix& from, const Matrix& middle, const Matrix& to, Size size) {
    const ScreenMap a(from), m(middle), b(to);
    if (!m.isVisible()) return 0;
    double most = 0;
    for (const Point& screen : probePointsOf(size)) {
        const Point p = m.toSource(screen);
        most = std::max(most, (b.toScreen(p) - a.toScreen(p)).length());
    }
    return std::isfinite(most) ? most : 0;
}

} // namespace

Matrix moveMatrix(const Move& move, Side side, double time, Size frame) {
    if (!move.enabled) return {};
    const double ax = move.anchor.x * frame.width, ay = move.anchor.y * frame.height;
    const auto about = [&](const Matrix& m) { return then(then(translation(-ax, -ay), m), translation(ax, ay)); };
    switch (move.kind) {
    case MoveKind::Zoom: {
        const double z = channelAt(move, 0, side, time);
        return z == 1 ? Matrix() : about(scaling(z, z));
    }
    case MoveKind::Spin: {
        const double angle = channelAt(move, 0, side, time);
        return angle == 0 ? Matrix() : about(rotation(angle));
    }
    case MoveKind::Slide:
        return translation(channelAt(move, 0, side, time) * frame.width, channelAt(move, 1, side, time) * frame.height);
    case MoveKind::Fade:
    case MoveKind::Unknown:
        break;
    }
    return {};
}

Matrix stackMatrix(const Stack& stack, Side side, double time, Size frame) {
    Matrix whole;
    const bool solo = hasSolo(stack);
    for (const Move& move : stack)
        if (move.solo || !solo) whole = then(whole, moveMatrix(move, side, time, frame));
    return whole;
}

double stackOpacity(const Stack& stack, Side side, double time) {
    double opacity = 1;
    for (const Move& move : stack)
        if (move.kind == MoveKind::Fade && isOn(stack, move))
            opacity *= std::clamp(channelAt(move, 0, side, time), 0.0, 1.0);
    return opacity;
}

double frameSpeed(const Stack& stack, Side side, double frame, Size size) {
    const auto at = [&](double t) { return stackMatrix(stack, side, t, size); };
    return 100 * farthest(at(frame - 0.5), at(frame), at(frame + 0.5), size) / size.width;
}

double instantSpeed(const Stack& stack, Side side, double time, Size size) {
    constexpr double step = 1e-6; // short enough for the sharpest handles, long enough for doubles
    const double from = side == Side::Outgoing ? time - step : time;
    const auto a = stackMatrix(stack, side, from, size), b = stackMatrix(stack, side, from + step, size);
    return 100 * farthest(a, side == Side::Outgoing ? b : a, b, size) / (size.width * step);
}

} // namespace virga
