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

// The pixel that lies at place `at` of a row of n and its surroundings; -1 for none.
long pixelAt(long at, long n, Edges edges) {
    if (edges.isPeriodic() && edges.copies > 0 && (at < -edges.copies * n || at >= (edges.copies + 1) * n)) return -1;
    switch (edges.fill) {
    case EdgeFill::Empty:
        return at >= 0 && at < n ? at : -1;
    case EdgeFill::Hold:
        return std::clamp(at, 0l, n - 1);
    case EdgeFill::Repeat:
        return modulo(at, n);
    case EdgeFill::Mirror:
        return modulo(at, 2 * n) < n ? modulo(at, 2 * n) : 2 * n - 1 - modulo(at, 2 * n);
    }
    return -1;
}

void addBilinear(const Image<Linear16>& level, Edges edges, double u, double v, double weight, Sum& sum) {
    if (!(std::abs(u) < 1e15 && std::abs(v) < 1e15)) return;
    const double i = std::floor(u), j = std::floor(v), f = u - i, g = v - j;
    const auto tap = [&](double x, double y, double share) {
        const long column = pixelAt(long(x), level.width(), edges), row = pixelAt(long(y), level.height(), edges);
        if (column >= 0 && row >= 0) sum.add(level.at(int(column), int(row)), weight * share);
    };
    tap(i, j, (1 - f) * (1 - g));
    tap(i + 1, j, f * (1 - g));
    tap(i, j + 1, (1 - f) * g);
    tap(i + 1, j + 1, f * g);
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
        for (int probe = 0; probe < print.probes; ++probe) {
            const Point p = map.toSource(screen + print.offset(probe));
            if (!std::isfinite(p.x) || !std::isfinite(p.y)) continue;
            for (int k = first; k <= first + 1 && k < source.levels(); ++k) {
                const double share = (k == first ? 1 - (detail - first) : detail - first) / print.probes;
                const auto& level = source.level(k);
                addBilinear(level, edges, p.x * level.width() / source.size().width - 0.5,
                            p.y * level.height() / source.size().height - 0.5, share, sum);
            }
        }
    }
    const double unit = 1.0 / (double(linearOne) * double(maps.size()));
    return {float(sum.r * unit), float(sum.g * unit), float(sum.b * unit), float(sum.a * unit)};
}

} // namespace virga
