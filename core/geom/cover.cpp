#include "core/geom/cover.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <random>
#include <vector>

namespace virga {
namespace {

// Points of the output's border at which a map is asked. Straight edges stay straight without a lens.
std::vector<Point> borderOf(Size output, bool lens) {
    const int steps = lens ? 64 : 1;
    const auto corners = cornersOf(output);
    std::vector<Point> points;
    for (std::size_t c = 0; c < corners.size(); ++c)
        for (int i = 0; i < steps; ++i)
            points.push_back(corners[c] + (corners[(c + 1) % corners.size()] - corners[c]) * (double(i) / steps));
    return points;
}

// How far a source point lies outside each edge, in source pixels; positive is outside.
double outside(Point p, Size source, unsigned edge) {
    switch (edge) {
    case LeftEdge:
        return -p.x;
    case TopEdge:
        return -p.y;
    case RightEdge:
        return p.x - source.width;
    default:
        return p.y - source.height;
    }
}

constexpr unsigned allEdges[] = {LeftEdge, TopEdge, RightEdge, BottomEdge};

ScreenMap zoomed(const ScreenMap& map, double k, Point about) {
    return map.movedBy(then(translation(-about.x, -about.y), then(scaling(k, k), translation(about.x, about.y))));
}

// The edges that the output's border comes nearest to, within a part of the source.
unsigned nearestEdges(const ScreenMap& map, Size source, Size output) {
    double most = -std::numeric_limits<double>::infinity();
    std::array<double, 4> reach;
    reach.fill(most);
    for (const Point& at : borderOf(output, map.hasLens())) {
        const Point p = map.toSource(at);
        for (std::size_t e = 0; e < 4; ++e)
            if (const double out = outside(p, source, allEdges[e]); std::isfinite(out))
                reach[e] = std::max(reach[e], out), most = std::max(most, out);
    }
    unsigned edges = 0;
    const double near = 1e-3 * std::max(source.width, source.height);
    for (std::size_t e = 0; e < 4; ++e)
        if (reach[e] > most - near) edges |= allEdges[e];
    return edges;
}

// A half plane of slides: along . slide >= least. `along` has the length 1.
struct HalfPlane {
    Point along;
    double least = 0;
    std::size_t moment = 0;
    unsigned edge = 0;
};

double lacking(const HalfPlane& plane, Point slide) {
    return plane.least - plane.along.dot(slide);
}

// The point nearest to 0 that lies in all half planes: one after another is taken in, and where the best so far lies
// outside the new one, the best lies on its border (Seidel, "Small-dimensional linear programming", 1991).
std::optional<Point> nearestIn(std::vector<HalfPlane> planes, double enough) {
    // In random order, as he says, the time goes with their number on the mean; in a sorted one with its square at
    // worst. The widest stays first: few changes follow.
    std::mt19937 draw(1);
    std::shuffle(planes.begin(), planes.end(), draw);
    const auto widest = std::min_element(planes.begin(), planes.end(),
                                         [](const HalfPlane& a, const HalfPlane& b) { return a.least > b.least; });
    if (widest != planes.end()) std::iter_swap(planes.begin(), widest);
    Point best(0, 0);
    for (std::size_t i = 0; i < planes.size(); ++i) {
        if (lacking(planes[i], best) <= enough) continue;
        const HalfPlane& on = planes[i];
        const Point foot = on.along * on.least, way(-on.along.y, on.along.x);
        double low = -std::numeric_limits<double>::infinity(), high = -low; // along the border
        for (std::size_t k = 0; k < i; ++k) {
            const double rate = planes[k].along.dot(way), need = lacking(planes[k], foot);
            if (std::abs(rate) < 1e-12) {
                if (need > enough) return std::nullopt;
                continue;
            }
            if (rate > 0)
                low = std::max(low, need / rate);
            else
                high = std::min(high, need / rate);
        }
        if (low > high + enough) return std::nullopt;
        best = foot + way * std::clamp(0.0, std::min(low, high), std::max(low, high));
    }
    return best;
}

// The half planes of a moment, laid about a slide.
bool addPlanes(const SeenSource& seen, std::size_t moment, Size output, Point slide, std::vector<HalfPlane>& planes) {
    const ScreenMap map = seen.map.movedBy(translation(slide.x, slide.y));
    for (const Point& at : borderOf(output, map.hasLens())) {
        const Point p = map.toSource(at);
        if (!std::isfinite(p.length())) return false;
        constexpr double step = 1e-3;
        const Point px = map.toSource(at - Point(step, 0)), py = map.toSource(at - Point(0, step));
        for (const unsigned edge : allEdges) {
            const double out = outside(p, seen.source, edge);
            const Point rate((outside(px, seen.source, edge) - out) / step,
                             (outside(py, seen.source, edge) - out) / step); // of sliding on
            const double length = rate.length();
            if (!std::isfinite(length)) return false;
            if (length < 1e-12) {
                if (out > 1e-9) return false;
                continue;
            }
            const Point along = -rate / length;
            planes.push_back({along, along.dot(slide) + out / length, moment, edge});
        }
    }
    return true;
}

} // namespace

bool covers(const ScreenMap& map, Size source, Size output) {
    if (!map.isVisible()) return false;
    const double slack = 1e-10 * std::max(source.width, source.height);
    for (const Point& at : borderOf(output, map.hasLens())) {
        const Point p = map.toSource(at);
        if (!(p.x >= -slack && p.y >= -slack && p.x <= source.width + slack && p.y <= source.height + slack))
            return false;
    }
    return true;
}

std::optional<LeastZoom> leastZoom(std::span<const SeenSource> moments, Size output, Point about) {
    LeastZoom least;
    const SeenSource* binds = nullptr;
    for (const SeenSource& seen : moments) {
        const auto covered = [&](double k) { return covers(zoomed(seen.map, k, about), seen.source, output); };
        if (covered(least.factor)) continue; // by what another moment needs
        double low = least.factor, high = 2 * low;
        while (!covered(high)) {
            low = high, high *= 2;
            if (high > 64) return std::nullopt;
        }
        for (int i = 0; i < 60 && high - low > 1e-12 * high; ++i) {
            const double middle = (low + high) / 2;
            (covered(middle) ? high : low) = middle;
        }
        least.factor = high;
        binds = &seen;
    }
    if (!binds) return least;
    least.frame = binds->frame;
    least.edges = nearestEdges(zoomed(binds->map, least.factor, about), binds->source, output);
    return least;
}

std::optional<LeastSlide> leastSlide(std::span<const SeenSource> moments, Size output) {
    LeastSlide least;
    const double enough = 1e-7 * std::max(output.width, output.height);
    for (int round = 0; round < 12; ++round) {
        std::vector<HalfPlane> planes;
        for (std::size_t i = 0; i < moments.size(); ++i) {
            if (!moments[i].map.isVisible() || !addPlanes(moments[i], i, output, least.by, planes)) return std::nullopt;
        }
        const auto found = nearestIn(planes, enough);
        if (!found) return std::nullopt;
        const double change = (*found - least.by).length();
        least.by = *found;
        if (change > enough) continue;
        if (least.by.length() <= enough) return LeastSlide{};
        double most = -1e300;
        for (const HalfPlane& plane : planes)
            if (const double lack = lacking(plane, least.by); lack > most)
                most = lack, least.frame = moments[plane.moment].frame;
        for (const HalfPlane& plane : planes)
            if (moments[plane.moment].frame == least.frame && lacking(plane, least.by) > most - 1e-3)
                least.edges |= plane.edge;
        return least;
    }
    return std::nullopt;
}

} // namespace virga
