#include "core/motion/move_parts.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/motion/shake.h"

namespace virga::parts {
namespace {

Point anchorIn(const MoveValues& v, Size frame) {
    return {v.anchor.x * frame.width, v.anchor.y * frame.height};
}

Matrix about(Point anchor, const Matrix& matrix) {
    return then(then(translation(-anchor.x, -anchor.y), matrix), translation(anchor.x, anchor.y));
}

double radians(double degrees) {
    return degrees * std::numbers::pi / 180;
}

} // namespace

MovePart zoom(const MoveValues& v, Size frame) {
    const double factor = v.channels[0];
    if (factor == 1) return {};
    return about(anchorIn(v, frame), scaling(factor, factor));
}

MovePart spin(const MoveValues& v, Size frame) {
    if (v.channels[0] == 0) return {};
    return about(anchorIn(v, frame), rotation(v.channels[0]));
}

MovePart slide(const MoveValues& v, Size frame) {
    if (v.channels[0] == 0 && v.channels[1] == 0) return {};
    return translation(v.channels[0] * frame.width, v.channels[1] * frame.height);
}

MovePart push(const MoveValues& v, Size frame) {
    const double d = v.channels[0];
    if (d == 0) return {};
    const double scale = d < 1 ? 1 / (1 - d) : 0; // 0: nothing is seen
    return about(anchorIn(v, frame), scaling(scale, scale));
}

MovePart tilt(const MoveValues& v, Size frame) {
    if (v.channels[0] == 0 && v.channels[1] == 0) return {};
    const double a = radians(v.channels[0]), b = radians(v.channels[1]);
    const double f = frame.height / 2.0 / std::tan(radians(std::clamp(v.parameters[0], 1.0, 170.0)) / 2);
    const Point anchor = anchorIn(v, frame), middle{frame.width / 2.0, frame.height / 2.0};
    // Of (u, v) from the anchor: depth after the first turn is -v sin a, after the second u sin b - v sin a cos b.
    const double xu = std::cos(b), xv = std::sin(a) * std::sin(b), yv = std::cos(a);
    const double wu = std::sin(b) / f, wv = -std::sin(a) * std::cos(b) / f;
    const Point off = anchor - middle;
    // Row vectors: x, y and w of u, of v and of 1; the eye stands before the frame's middle.
    const Matrix m(xu + middle.x * wu, middle.y * wu, wu, xv + middle.x * wv, yv + middle.y * wv, wv, off.x + middle.x,
                   off.y + middle.y, 1);
    return then(translation(-anchor.x, -anchor.y), m);
}

MovePart warp(const MoveValues& v, Size frame) {
    if (v.channels[0] == 0) return {};
    const double half = std::hypot(frame.width, frame.height) / 2;
    return Lens{anchorIn(v, frame), std::max(0.01, v.parameters[0]) * half, std::clamp(v.channels[0], -1.0, 1.0)};
}

namespace {

// Its parameters: pattern, cycles a second, across, down, turn, in and out, seed.
double courseOf(const MoveValues& v, std::uint32_t axis) {
    const auto& p = v.parameters;
    return v.channels[0] * shakeAt(ShakePattern(int(p[0])), v.seconds * p[1], axis, std::uint32_t(p[6]));
}

} // namespace

double shakePattern(const MoveValues& v) {
    for (const std::uint32_t axis : {0U, 1U, 2U})
        if (v.parameters[2 + axis] != 0) return courseOf(v, axis);
    return courseOf(v, 3);
}

MovePart shake(const MoveValues& v, Size frame) {
    if (v.channels[0] == 0) return {};
    const auto& p = v.parameters;
    const auto at = [&](std::uint32_t axis) { return courseOf(v, axis); };
    Matrix m;
    if (p[5] > 1) {
        const double z = std::pow(p[5], at(3));
        m = scaling(z, z);
    }
    if (p[4] != 0) m = then(m, rotation(p[4] * at(2)));
    m = about(anchorIn(v, frame), m);
    return then(m, translation(p[2] * at(0) * frame.width, p[3] * at(1) * frame.height));
}

} // namespace virga::parts
