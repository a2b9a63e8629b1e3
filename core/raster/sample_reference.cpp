#include <algorithm>
#include <cmath>

#include "core/raster/footprint.h"
#include "core/raster/sampler.h"

namespace virga {
namespace {

struct Sum {
    double r = 0, g = 0, b = 0, a = 0;
    void add(const Linear16& p, double weight) {
        r += weight * p.r, g += weight * p.g, b += weight * p.b, a += weight * p.a;
    }
};

long modulo(long a, long b) {
    return ((a % b) + b) % b;
}

// The pixel that lies at place `at` of a row of n and its surroundings.
long pixelAt(long at, long n, EdgeFill fill) {
    if (fill == EdgeFill::Repeat) return modulo(at, n);
    if (fill == EdgeFill::Mirror) return modulo(at, 2 * n) < n ? modulo(at, 2 * n) : 2 * n - 1 - modulo(at, 2 * n);
    return std::clamp(at, 0l, n - 1);
}

// Where there is an end, how much of a stretch of `step` about u lies inside it. Holds u to the inside.
double insideAt(double& u, long n, double step, Edges edges) {
    if (edges.fill != EdgeFill::Empty && (!edges.isPeriodic() || edges.copies <= 0)) return 1;
    const long copies = edges.isPeriodic() ? edges.copies : 0;
    const double low = -double(copies) * double(n), high = double(copies + 1) * double(n);
    const double share = std::clamp(std::min(u - low, high - u) / step + 0.5, 0.0, 1.0);
    u = std::clamp(u, low + 0.5, high - 0.5);
    return share;
}

// `at` and `step` in pixels of the level.
void addBilinear(const Image<Linear16>& level, Edges edges, Point at, Point step, double weight, Sum& sum) {
    if (!(std::abs(at.x) < 1e15 && std::abs(at.y) < 1e15)) return;
    weight *= insideAt(at.x, level.width(), step.x, edges) * insideAt(at.y, level.height(), step.y, edges);
    const double u = at.x - 0.5, v = at.y - 0.5;
    const double i = std::floor(u), j = std::floor(v), f = u - i, g = v - j;
    const auto tap = [&](double x, double y, double share) {
        const long column = pixelAt(long(x), level.width(), edges.fill);
        const long row = pixelAt(long(y), level.height(), edges.fill);
        sum.add(level.at(int(column), int(row)), weight * share);
    };
    tap(i, j, (1 - f) * (1 - g));
    tap(i + 1, j, f * (1 - g));
    tap(i, j + 1, (1 - f) * g);
    tap(i + 1, j + 1, f * g);
}

// How far the source's place changes along each of its axes over a pixel of the screen.
Point stepAt(const ScreenMap& map, Point screen) {
    const Point h = map.toSource(screen + Point(0.25, 0)) - map.toSource(screen - Point(0.25, 0));
    const Point v = map.toSource(screen + Point(0, 0.25)) - map.toSource(screen - Point(0, 0.25));
    const Point step(2 * std::hypot(h.x, v.x), 2 * std::hypot(h.y, v.y));
    return std::isfinite(step.x) && std::isfinite(step.y) ? step : Point(1, 1);
}

} // namespace

LinearF sampleReference(const Pyramid& source, Edges edges, std::span<const ScreenMap> maps, Point screen) {
    Sum sum;
    for (const ScreenMap& map : maps) {
        if (!map.isVisible()) continue;
        const Footprint print = footprintAt(map, screen);
        const double detail =
            detailFor(std::isfinite(print.scale) ? print.scale : 1e9, source.finest(), source.levels() - 1);
        const int first = int(std::floor(detail));
        const Point step = stepAt(map, screen);
        for (int probe = 0; probe < print.probes; ++probe) {
            const Point p = map.toSource(screen + print.offset(probe));
            if (!std::isfinite(p.x) || !std::isfinite(p.y)) continue;
            for (int k = first; k <= first + 1 && k < source.levels(); ++k) {
                const double share = (k == first ? 1 - (detail - first) : detail - first) / print.probes;
                const auto& level = source.level(k);
                const double su = double(level.width()) / source.size().width;
                const double sv = double(level.height()) / source.size().height;
                addBilinear(level, edges, {p.x * su, p.y * sv},
                            {std::max(step.x, 1.0) * su, std::max(step.y, 1.0) * sv}, share, sum);
            }
        }
    }
    const double unit = 1.0 / (double(linearOne) * double(maps.size()));
    return {float(sum.r * unit), float(sum.g * unit), float(sum.b * unit), float(sum.a * unit)};
}

} // namespace virga
