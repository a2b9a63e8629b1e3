#include "core/raster/sampler.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "core/raster/simd/add_walks.h"

namespace virga {
namespace {

using Floats = float __attribute__((vector_size(16)));
using Shorts = std::uint16_t __attribute__((vector_size(8)));

Floats load(const Linear16* pixel) {
    Shorts raw;
    std::memcpy(&raw, pixel, sizeof raw);
    return __builtin_convertvector(raw, Floats);
}

// floor() as an integer; std::floor is a library call without SSE4.1.
inline int floorInt(float v) {
    const int i = int(v);
    return i - (float(i) > v);
}

// Two taps along one axis and the weight of the second.
struct Pair {
    int a, b;
    float wa, wb;
};

template <EdgeFill edges> inline Pair tapsAt(float u, int n, float period, float inversePeriod) {
    if constexpr (edges == EdgeFill::Mirror) {
        const float t = u - period * float(floorInt(u * inversePeriod));
        u = float(n) - std::abs(t - float(n));
    } else if constexpr (edges == EdgeFill::Repeat) {
        u = u - period * float(floorInt(u * inversePeriod));
    } else if constexpr (edges == EdgeFill::Hold) {
        u = std::min(std::max(u, 0.5f), float(n) - 0.5f);
    } else {
        u = std::min(std::max(u, -2.0f), float(n) + 2.0f);
    }
    const float at = u - 0.5f;
    const int i = floorInt(at);
    const float f = at - float(i);
    if constexpr (edges == EdgeFill::Repeat)
        return {i < 0 ? n - 1 : i >= n ? i - n : i, i + 1 >= n ? i + 1 - n : i + 1, 1 - f, f};
    const int a = std::clamp(i, 0, n - 1), b = std::clamp(i + 1, 0, n - 1);
    if constexpr (edges == EdgeFill::Empty) return {a, b, i == a ? 1 - f : 0, i + 1 == b ? f : 0};
    return {a, b, 1 - f, f};
}

// Source coordinates over the tile, in pixels of one mip level.
struct ProjectiveWalk {
    const ScreenMap& map;
    double left, top, su, sv, periodU, periodV;
    void at(int x, int y, float& u, float& v) const {
        const Point p = map.toSource({left + x, top + y});
        double pu = p.x * su, pv = p.y * sv;
        if (!std::isfinite(pu) || !std::isfinite(pv)) pu = pv = -1e6;
        u = float(pu - periodU * std::floor(pu / periodU));
        v = float(pv - periodV * std::floor(pv / periodV));
    }
};

template <EdgeFill edges, typename Path>
void accumulate(const Image<Linear16>& level, const Path& walk, Tile tile, float weight, Floats* out) {
    const int w = level.width(), h = level.height();
    const float periodU = edges == EdgeFill::Mirror ? 2.0f * float(w) : float(w),
                periodV = edges == EdgeFill::Mirror ? 2.0f * float(h) : float(h);
    const float inverseU = 1 / periodU, inverseV = 1 / periodV;
    const Linear16* pixels = level.row(0);
    for (int y = 0; y < tile.height; ++y)
        for (int x = 0; x < tile.width; ++x, ++out) {
            float u, v;
            walk.at(x, y, u, v);
            const Pair h2 = tapsAt<edges>(u, w, periodU, inverseU), v2 = tapsAt<edges>(v, h, periodV, inverseV);
            const Linear16 *top = pixels + std::ptrdiff_t(v2.a) * w, *bottom = pixels + std::ptrdiff_t(v2.b) * w;
            *out += (load(top + h2.a) * (v2.wa * h2.wa * weight) + load(top + h2.b) * (v2.wa * h2.wb * weight)) +
                    (load(bottom + h2.a) * (v2.wb * h2.wa * weight) + load(bottom + h2.b) * (v2.wb * h2.wb * weight));
        }
}

template <typename Path>
void accumulateBy(EdgeFill edges, const Image<Linear16>& level, const Path& walk, Tile tile, float weight,
                  Floats* out) {
    switch (edges) {
    case EdgeFill::Empty:
        return accumulate<EdgeFill::Empty>(level, walk, tile, weight, out);
    case EdgeFill::Hold:
        return accumulate<EdgeFill::Hold>(level, walk, tile, weight, out);
    case EdgeFill::Repeat:
        return accumulate<EdgeFill::Repeat>(level, walk, tile, weight, out);
    case EdgeFill::Mirror:
        return accumulate<EdgeFill::Mirror>(level, walk, tile, weight, out);
    }
}

bool isPeriodic(EdgeFill edges) {
    return edges == EdgeFill::Mirror || edges == EdgeFill::Repeat;
}

// Source pixels per screen pixel about a screen point.
double scaleAt(const ScreenMap& map, Point p) {
    const Point o = map.toSource(p), dx = map.toSource(p + Point(1, 0)) - o, dy = map.toSource(p + Point(0, 1)) - o;
    const double area = std::abs(dx.x * dy.y - dx.y * dy.x);
    return std::isfinite(area) ? std::sqrt(area) : 1e9;
}

// The level of detail: 0 at natural size and larger, 1 at half size, and so on.
double detailLevel(const Pyramid& source, double scale) {
    const double level = scale > 1 + 1e-6 ? std::log2(scale) : 0;
    return std::min(level, double(source.levels() - 1));
}

double wholePeriods(double at, double period) {
    return period * std::floor(at / period);
}

void addLevel(const Pyramid& source, int k, EdgeFill edges, const ScreenMap& map, Tile tile, float weight,
              Floats* out) {
    const auto& level = source.level(k);
    const double su = double(level.width()) / source.size().width, sv = double(level.height()) / source.size().height;
    const double left = tile.x + 0.5, top = tile.y + 0.5;
    if (isPeriodic(edges))
        return accumulateBy(edges, level,
                            ProjectiveWalk{map, left, top, su, sv, 2.0 * level.width(), 2.0 * level.height()}, tile,
                            weight, out);
    struct PlainWalk {
        const ScreenMap& map;
        double left, top, su, sv;
        void at(int x, int y, float& u, float& v) const {
            const Point p = map.toSource({left + x, top + y});
            u = float(std::clamp(p.x * su, -1e6, 1e6));
            v = float(std::clamp(p.y * sv, -1e6, 1e6));
        }
    };
    accumulateBy(edges, level, PlainWalk{map, left, top, su, sv}, tile, weight, out);
}

// An affine map over the tile, in pixels of one mip level.
Walk walkFor(const Pyramid& source, int k, EdgeFill edges, const ScreenMap& map, Tile tile, int weight) {
    const auto& level = source.level(k);
    const double su = double(level.width()) / source.size().width, sv = double(level.height()) / source.size().height;
    const Matrix& m = map.inverse();
    const Point o = map.toSource({tile.x + 0.5, tile.y + 0.5});
    double u = o.x * su, v = o.y * sv;
    if (isPeriodic(edges)) { // whole periods are taken off in double, so that floats stay small inside the tile
        u -= wholePeriods(u, 2.0 * level.width());
        v -= wholePeriods(v, 2.0 * level.height());
    }
    // Far away floats would not do, but nothing changes there.
    const auto kept = [](double x) { return float(std::clamp(x, -1e6, 1e6)); };
    return {&level.row(0)->r,   level.width(),      level.height(),     kept(u), kept(v), kept(m[0][0] * su),
            kept(m[0][1] * sv), kept(m[1][0] * su), kept(m[1][1] * sv), weight};
}

// All maps affine: in integers, by the vector kernel.
void sampleAffine(const Pyramid& source, EdgeFill edges, std::span<const ScreenMap> maps, Tile tile, LinearF* out) {
    const Point middle(tile.x + tile.width / 2.0, tile.y + tile.height / 2.0);
    std::vector<Walk> walks;
    walks.reserve(2 * maps.size());
    for (const ScreenMap& map : maps) {
        if (!map.isVisible()) continue;
        const double detail = detailLevel(source, scaleAt(map, middle));
        const int k = int(detail), coarser = int(std::lround((detail - k) * wholeWeight));
        if (coarser < wholeWeight) walks.push_back(walkFor(source, k, edges, map, tile, wholeWeight - coarser));
        if (coarser > 0) walks.push_back(walkFor(source, k + 1, edges, map, tile, coarser));
    }
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    alignas(64) std::int32_t sums[tileSide * tileSide * 4];
    assert(count <= tileSide * tileSide);
    std::fill_n(sums, 4 * count, 0);
    const int shift = shiftFor(maps.size());
    addWalks(walks, edges, tile.width, tile.height, shift, sums);
    const float unit = float(double(1 << shift) / (double(linearOne) * wholeWeight * double(maps.size())));
    for (std::size_t i = 0; i < count; ++i)
        out[i] = {float(sums[4 * i]) * unit, float(sums[4 * i + 1]) * unit, float(sums[4 * i + 2]) * unit,
                  float(sums[4 * i + 3]) * unit};
}

} // namespace

const Linear16* stillPixels(const Pyramid& source, std::span<const ScreenMap> maps, Tile tile) {
    if (maps.size() != 1 || !maps[0].isVisible() || !maps[0].isAffine()) return nullptr;
    const Matrix& m = maps[0].inverse();
    const double x = m[2][0], y = m[2][1], rx = std::round(x), ry = std::round(y);
    constexpr double tiny = 1e-7;
    if (std::abs(m[0][0] - 1) > tiny || std::abs(m[1][1] - 1) > tiny || std::abs(m[0][1]) > tiny ||
        std::abs(m[1][0]) > tiny || std::abs(x - rx) > 1e-5 || std::abs(y - ry) > 1e-5)
        return nullptr;
    const auto& level = source.level(0);
    if (tile.x + rx < 0 || tile.y + ry < 0 || tile.x + tile.width + rx > level.width() ||
        tile.y + tile.height + ry > level.height())
        return nullptr;
    return level.row(tile.y + int(ry)) + tile.x + int(rx);
}

void sampleTile(const Pyramid& source, EdgeFill edges, std::span<const ScreenMap> maps, Tile tile, LinearF* out) {
    if (const Linear16* from = stillPixels(source, maps, tile)) {
        constexpr float unit = 1.0f / linearOne;
        for (int y = 0; y < tile.height; ++y, from += source.size().width)
            for (int x = 0; x < tile.width; ++x, ++out)
                *out = {float(from[x].r) * unit, float(from[x].g) * unit, float(from[x].b) * unit,
                        float(from[x].a) * unit};
        return;
    }
    if (std::all_of(maps.begin(), maps.end(), [](const ScreenMap& m) { return !m.isVisible() || m.isAffine(); }))
        return sampleAffine(source, edges, maps, tile, out);
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    Floats sums[tileSide * tileSide] = {};
    assert(count <= std::size(sums));
    const float weight = 1.0f / (float(linearOne) * float(maps.size()));
    const Point middle(tile.x + tile.width / 2.0, tile.y + tile.height / 2.0);
    for (const ScreenMap& map : maps) {
        if (!map.isVisible()) continue;
        const double detail = detailLevel(source, scaleAt(map, middle));
        const int k = int(detail);
        const float blend = float(detail - k);
        if (blend < 1.0f / 256) {
            addLevel(source, k, edges, map, tile, weight, sums);
        } else {
            addLevel(source, k, edges, map, tile, weight * (1 - blend), sums);
            addLevel(source, k + 1, edges, map, tile, weight * blend, sums);
        }
    }
    std::memcpy(out, sums, count * sizeof(LinearF));
}

LinearF sampleReference(const Pyramid& source, EdgeFill edges, std::span<const ScreenMap> maps, Point screen) {
    double sum[4] = {};
    const auto tap = [&](const Image<Linear16>& level, long i, long j, double weight) {
        const auto fold = [edges](long at, long n) -> long {
            const auto modulo = [](long a, long b) { return ((a % b) + b) % b; };
            switch (edges) {
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
        };
        i = fold(i, level.width()), j = fold(j, level.height());
        if (i < 0 || j < 0) return;
        const Linear16& p = level.at(int(i), int(j));
        sum[0] += weight * p.r, sum[1] += weight * p.g, sum[2] += weight * p.b, sum[3] += weight * p.a;
    };
    for (const ScreenMap& map : maps) {
        if (!map.isVisible()) continue;
        const double detail = detailLevel(source, scaleAt(map, screen));
        const Point p = map.toSource(screen);
        for (int k = int(detail); k <= int(detail) + 1 && k < source.levels(); ++k) {
            const double share = k == int(detail) ? 1 - (detail - k) : detail - int(detail);
            const auto& level = source.level(k);
            const double u = p.x * level.width() / source.size().width - 0.5,
                         v = p.y * level.height() / source.size().height - 0.5;
            const double i = std::floor(u), j = std::floor(v), f = u - i, g = v - j;
            tap(level, long(i), long(j), share * (1 - f) * (1 - g));
            tap(level, long(i) + 1, long(j), share * f * (1 - g));
            tap(level, long(i), long(j) + 1, share * (1 - f) * g);
            tap(level, long(i) + 1, long(j) + 1, share * f * g);
        }
    }
    const double unit = 1.0 / (double(linearOne) * double(maps.size()));
    return {float(sum[0] * unit), float(sum[1] * unit), float(sum[2] * unit), float(sum[3] * unit)};
}

} // namespace virga
