#include "core/curve/shape.h"

#include <cmath>

namespace virga {

const std::vector<NamedShape>& namedShapes() {
    static const std::vector<NamedShape> all = {
        {"hold", "Hold", {Interpolation::Hold}},
        {"linear", "Even", {Interpolation::Linear}},
        {"ease", "Ease", {Interpolation::Eased, 0.25, 0.1, 0.25, 1}},
        {"ease-in", "Ease in", {Interpolation::Eased, 0.42, 0, 1, 1}},
        {"ease-out", "Ease out", {Interpolation::Eased, 0, 0, 0.58, 1}},
        {"ease-in-out", "Ease in and out", {Interpolation::Eased, 0.42, 0, 0.58, 1}},
        {"depart-gentle", "Depart, gentle", {Interpolation::Eased, 0.45, 0, 0.85, 0.65}},
        {"depart", "Depart", {Interpolation::Eased, 0.6, 0, 0.88, 0.5}},
        {"depart-hard", "Depart, hard", {Interpolation::Eased, 0.75, 0, 0.95, 0.4}},
        {"depart-violent", "Depart, violent", {Interpolation::Eased, 0.9, 0, 0.98, 0.25}},
        {"depart-back", "Depart, drawn back", {Interpolation::Eased, 0.5, -0.35, 0.85, 0.45}},
        {"arrive-gentle", "Arrive, gentle", {Interpolation::Eased, 0.15, 0.35, 0.55, 1}},
        {"arrive", "Arrive", {Interpolation::Eased, 0.12, 0.5, 0.4, 1}},
        {"arrive-hard", "Arrive, hard", {Interpolation::Eased, 0.05, 0.6, 0.25, 1}},
        {"arrive-violent", "Arrive, violent", {Interpolation::Eased, 0.02, 0.75, 0.1, 1}},
        {"arrive-over", "Arrive, overshooting", {Interpolation::Eased, 0.15, 0.55, 0.5, 1.35}},
        {"travel-gentle", "Travel, gentle", {Interpolation::Eased, 0.35, 0, 0.65, 1}},
        {"travel", "Travel", {Interpolation::Eased, 0.55, 0, 0.45, 1}},
        {"travel-hard", "Travel, hard", {Interpolation::Eased, 0.75, 0, 0.25, 1}},
        {"travel-violent", "Travel, violent", {Interpolation::Eased, 0.92, 0, 0.08, 1}},
        {"travel-back", "Travel, drawn back and over", {Interpolation::Eased, 0.6, -0.35, 0.4, 1.35}},
    };
    return all;
}

std::optional<Shape> shapeNamed(std::string_view name) {
    for (const auto& s : namedShapes())
        if (s.name == name) return s.shape;
    return std::nullopt;
}

Shape departingShape() {
    return *shapeNamed("depart");
}
Shape arrivingShape() {
    return *shapeNamed("arrive");
}

std::optional<Shape> shapeOf(const Curve& curve, int key) {
    if (key < 0 || key + 1 >= int(curve.keys.size())) return std::nullopt;
    const Key& a = curve.keys[std::size_t(key)];
    const Key& b = curve.keys[std::size_t(key) + 1];
    if (a.next != Interpolation::Eased) return Shape{a.next};
    const double d = toSpace(b.value, curve.space) - toSpace(a.value, curve.space);
    if (std::abs(d) < 1e-12) return std::nullopt;
    return Shape{Interpolation::Eased, a.leave.reach, a.leave.rise / d, 1 - b.arrive.reach, 1 - b.arrive.rise / d};
}

} // namespace virga
