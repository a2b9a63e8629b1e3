#include "core/raster/walks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/raster/footprint.h"

namespace virga {
namespace {

constexpr int nodes = 4;
using Grid = std::array<std::array<Point, nodes>, nodes>; // [row][column]

// Chebyshev's nodes on -1 .. 1, ascending.
double nodeAt(int k) {
    static const std::array<double, nodes> at = [] {
        std::array<double, nodes> made{};
        for (int i = 0; i < nodes; ++i) made[std::size_t(i)] = -std::cos((2 * i + 1) * std::numbers::pi / (2 * nodes));
        return made;
    }();
    return at[std::size_t(k)];
}

// Row k: the coefficients, of 1, t, t^2, t^3, of the polynomial that is 1 at node k and 0 at the others (Lagrange).
const std::array<std::array<double, nodes>, nodes>& basis() {
    static const auto made = [] {
        std::array<std::array<double, nodes>, nodes> rows{};
        for (int k = 0; k < nodes; ++k) {
            auto& c = rows[std::size_t(k)];
            c[0] = 1;
            int degree = 0;
            for (int j = 0; j < nodes; ++j) {
                if (j == k) continue;
                const double by = 1 / (nodeAt(k) - nodeAt(j));
                for (int i = ++degree; i >= 0; --i)
                    c[std::size_t(i)] =
                        ((i > 0 ? c[std::size_t(i - 1)] : 0) - nodeAt(j) * (i < degree ? c[std::size_t(i)] : 0)) * by;
            }
        }
        return rows;
    }();
    return made;
}

Grid coefficientsOf(const Grid& values) {
    const auto& b = basis();
    Grid across, both; // Imath's points start with anything
    for (auto* grid : {&across, &both})
        for (auto& row : *grid) row.fill(Point(0, 0));
    for (std::size_t j = 0; j < nodes; ++j)
        for (std::size_t i = 0; i < nodes; ++i)
            for (std::size_t k = 0; k < nodes; ++k) across[j][i] += values[j][k] * b[k][i];
    for (std::size_t j = 0; j < nodes; ++j)
        for (std::size_t i = 0; i < nodes; ++i)
            for (std::size_t k = 0; k < nodes; ++k) both[j][i] += across[k][i] * b[k][j];
    return both;
}

Point valueAt(const Grid& c, double x, double y) {
    Point sum(0, 0);
    for (std::size_t j = nodes; j-- > 0;) {
        Point row(0, 0);
        for (std::size_t i = nodes; i-- > 0;) row = row * x + c[j][i];
        sum = sum * y + row;
    }
    return sum;
}

bool isFinite(Point p) {
    return std::isfinite(p.x) && std::isfinite(p.y);
}

Point middleOf(Tile tile) {
    return {tile.x + tile.width / 2.0, tile.y + tile.height / 2.0};
}

// The polynomial over a tile, or nothing where there is none that is near enough.
std::optional<Grid> bentOver(const ScreenMap& map, Tile tile, Point offset, double scale) {
    const Point middle = middleOf(tile) + offset;
    const auto at = [&](double x, double y) {
        return map.toSource({middle.x + x * tile.width / 2, middle.y + y * tile.height / 2});
    };
    Grid values;
    for (std::size_t j = 0; j < nodes; ++j)
        for (std::size_t i = 0; i < nodes; ++i) {
            values[j][i] = at(nodeAt(int(i)), nodeAt(int(j)));
            if (!isFinite(values[j][i])) return std::nullopt;
        }
    // The areas of the mesh's corner cells tell how much the scale changes.
    double least = 1e300, most = 0;
    for (const std::size_t j : {0, nodes - 2})
        for (const std::size_t i : {0, nodes - 2}) {
            const Point a = values[j][i + 1] - values[j][i], b = values[j + 1][i] - values[j][i];
            const double area = std::abs(a.x * b.y - a.y * b.x);
            least = std::min(least, area), most = std::max(most, area);
        }
    if (scale > 1 && !(most <= 1.8 * least)) return std::nullopt;
    const Grid c = coefficientsOf(values);
    const double allowed = std::max(1.0 / 256, scale / 128);
    constexpr double checks[][2] = {{-1, -1}, {1, -1}, {0, 0}, {-1, 1}, {1, 1}};
    for (const auto& [x, y] : checks)
        if (!((valueAt(c, x, y) - at(x, y)).length() <= allowed)) return std::nullopt;
    return c;
}

// A tile that lies whole beyond the horizon of a plane.
bool isUnseen(const ScreenMap& map, Tile tile) {
    if (map.isAffine() || map.hasLens()) return false;
    for (const int x : {0, tile.width})
        for (const int y : {0, tile.height})
            if (isFinite(map.toSource(Point(tile.x + x, tile.y + y)))) return false;
    return true;
}

double wholePeriods(double at, double period) {
    return period * std::floor(at / period);
}

// Far away floats would not do, but nothing changes there.
float kept(double x) {
    return float(std::clamp(x, -1e6, 1e6));
}

struct Placed {
    const Image<Linear16>& level;
    double su, sv;
    Edges edges;

    Walk begun(int weight) const {
        Walk walk;
        walk.pixels = &level.row(0)->r;
        walk.width = level.width();
        walk.height = level.height();
        walk.weight = weight;
        return walk;
    }
    // Whole periods are taken off in double, so that floats stay small inside the tile.
    Point periodsAt(Point p) const {
        if (!edges.isPeriodic()) return {0, 0};
        return {wholePeriods(p.x, 2.0 * level.width()), wholePeriods(p.y, 2.0 * level.height())};
    }
    void limit(Walk& walk, Point off) const {
        const int n = edges.isPeriodic() ? edges.copies : 0;
        walk.lowU = kept(-double(n) * level.width() - off.x), walk.highU = kept((n + 1.0) * level.width() - off.x);
        walk.lowV = kept(-double(n) * level.height() - off.y), walk.highV = kept((n + 1.0) * level.height() - off.y);
    }
    // An edge ends within a pixel of the screen or, where the source is enlarged, of the source, in whatever level it
    // is sampled: by how far u and v change over a pixel of the screen.
    void sharpen(Walk& walk, double ux, double uy, double vx, double vy) const {
        const auto ramp = [](double least, double x, double y) {
            return float(1 / std::clamp(std::hypot(x, y), least, 1e6));
        };
        walk.rampU = ramp(su, ux, uy), walk.rampV = ramp(sv, vx, vy);
    }
};

void addLevel(const Pyramid& source, int k, Edges edges, int weight, const auto& place, WalkSet& to) {
    const auto& level = source.level(k);
    const Placed placed{level, double(level.width()) / source.size().width,
                        double(level.height()) / source.size().height, edges};
    Walk walk = placed.begun(weight);
    place(placed, walk);
    to.walks.push_back(walk);
}

} // namespace

bool addWalksOf(const ScreenMap& map, const Pyramid& source, Edges edges, Tile tile, int weight, double pick,
                WalkSet& to) {
    if (isUnseen(map, tile)) return true;
    const Footprint print = footprintAt(map, middleOf(tile));
    if (!std::isfinite(print.scale)) return false;
    const double detail = detailFor(print.scale, source.finest(), source.levels() - 1);
    const int k = int(std::floor(detail));
    int coarser = int(std::lround((detail - k) * wholeWeight));
    if (pick >= 0) coarser = detail - k > pick ? wholeWeight : 0;
    const auto addProbe = [&](int part, const auto& place) {
        const int second = int((std::int64_t(part) * coarser + wholeWeight / 2) / wholeWeight);
        if (part > second) addLevel(source, k, edges, part - second, place, to);
        if (second > 0) addLevel(source, k + 1, edges, second, place, to);
    };
    const std::size_t before = to.walks.size();
    for (int probe = 0; probe < print.probes; ++probe) {
        const int part = weight * (probe + 1) / print.probes - weight * probe / print.probes;
        const Point offset = print.offset(probe);
        if (map.isAffine()) {
            const Matrix& m = map.inverse();
            const Point o = map.toSource(Point(tile.x + 0.5, tile.y + 0.5) + offset);
            addProbe(part, [&](const Placed& at, Walk& walk) {
                const Point p(o.x * at.su, o.y * at.sv), off = at.periodsAt(p);
                walk.u = kept(p.x - off.x), walk.v = kept(p.y - off.y);
                walk.ux = kept(m[0][0] * at.su), walk.vx = kept(m[0][1] * at.sv);
                walk.uy = kept(m[1][0] * at.su), walk.vy = kept(m[1][1] * at.sv);
                at.sharpen(walk, walk.ux, walk.uy, walk.vx, walk.vy);
                at.limit(walk, off);
            });
            continue;
        }
        const auto c = bentOver(map, tile, offset, print.scale);
        if (!c) {
            to.walks.resize(before);
            return false;
        }
        addProbe(part, [&](const Placed& at, Walk& walk) {
            const Point off = at.periodsAt({(*c)[0][0].x * at.su, (*c)[0][0].y * at.sv});
            Bend& bend = to.bends.emplace_back();
            for (std::size_t j = 0; j < nodes; ++j)
                for (std::size_t i = 0; i < nodes; ++i) {
                    const bool first = i == 0 && j == 0;
                    bend.u[j][i] = kept((*c)[j][i].x * at.su - (first ? off.x : 0));
                    bend.v[j][i] = kept((*c)[j][i].y * at.sv - (first ? off.y : 0));
                }
            bend.scaleX = 2.0f / float(tile.width), bend.scaleY = 2.0f / float(tile.height);
            walk.bend = &bend;
            const double sx = double(bend.scaleX), sy = double(bend.scaleY); // at the tile's middle
            at.sharpen(walk, (*c)[0][1].x * at.su * sx, (*c)[1][0].x * at.su * sy, (*c)[0][1].y * at.sv * sx,
                       (*c)[1][0].y * at.sv * sy);
            at.limit(walk, off);
        });
    }
    return true;
}

} // namespace virga
