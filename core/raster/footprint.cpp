#include "core/raster/footprint.h"

#include <algorithm>
#include <cmath>

namespace virga {

Footprint footprintAt(const ScreenMap& map, Point screen) {
    Point dx, dy;
    if (map.isAffine()) {
        const Matrix& m = map.inverse();
        dx = {m[0][0], m[0][1]}, dy = {m[1][0], m[1][1]};
    } else {
        const Point o = map.toSource(screen);
        dx = map.toSource(screen + Point(1, 0)) - o, dy = map.toSource(screen + Point(0, 1)) - o;
    }
    // Singular values of the Jacobian from the first fundamental form.
    const double e = dx.dot(dx), g = dy.dot(dy), f = dx.dot(dy);
    const double longer = std::sqrt((e + g) / 2 + std::hypot((e - g) / 2, f));
    const double area = std::abs(dx.x * dy.y - dx.y * dy.x);
    Footprint print;
    print.scale = std::sqrt(area);
    const double ratio = longer / std::max(longer > 0 ? area / longer : 0, 1.0);
    if (!(ratio > 1.2)) return print; // not a number: nothing is seen
    print.probes = std::min(mostProbes, int(std::ceil(std::min(ratio, 1e6) - 0.1)));
    print.scale = longer / print.probes;
    const double angle = std::atan2(2 * f, e - g) / 2;
    print.along = {std::cos(angle), std::sin(angle)};
    return print;
}

double detailAt(const ScreenMap& map, Point screen) {
    const Footprint print = footprintAt(map, screen);
    if (print.probes > 1 || !std::isfinite(print.scale)) return 1;
    return std::clamp(print.scale, 0.05, 1.0);
}

double detailFor(double scale, int finest, int coarsest) {
    if (!(scale > 0)) return finest;
    const double detail = std::log2(scale);
    if (std::abs(detail) < 1e-6) return std::clamp(0, finest, coarsest);
    return std::clamp(detail, double(finest), double(coarsest));
}

} // namespace virga
