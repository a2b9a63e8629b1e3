#include "core/geom/coverage.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>
#include <vector>

namespace virga {
namespace {

using Polygon = std::vector<Point>;

// Sutherland and Hodgman, "Reentrant polygon clipping", CACM 17 (1974): one half plane a*x + b*y <= c.
Polygon clip(const Polygon& in, double a, double b, double c) {
    Polygon out;
    for (std::size_t i = 0; i < in.size(); ++i) {
        const Point &p = in[i], &q = in[(i + 1) % in.size()];
        const double dp = a * p.x + b * p.y - c, dq = a * q.x + b * q.y - c;
        if (dp <= 0) out.push_back(p);
        if ((dp < 0 && dq > 0) || (dp > 0 && dq < 0)) out.push_back(p + (q - p) * (dp / (dp - dq)));
    }
    return out;
}

double area(const Polygon& polygon) {
    double twice = 0;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Point &p = polygon[i], &q = polygon[(i + 1) % polygon.size()];
        twice += p.x * q.y - p.y * q.x;
    }
    return std::abs(twice) / 2;
}

// For lenses: a square of the output counts whole once all that is asked of it agrees; else it is parted.
double outsideShare(const ScreenMap& map, Size source, double x, double y, double w, double h, int depth) {
    int inside = 0;
    constexpr int across = 3;
    for (int j = 0; j < across; ++j)
        for (int i = 0; i < across; ++i) {
            const Point p = map.toSource({x + w * i / (across - 1), y + h * j / (across - 1)});
            inside += p.x >= 0 && p.y >= 0 && p.x <= source.width && p.y <= source.height;
        }
    constexpr int all = across * across;
    if (depth > 3 && (inside == 0 || inside == all)) return inside == 0 ? 1 : 0;
    if (depth == 9) return 1 - double(inside) / all;
    double sum = 0;
    for (const double top : {y, y + h / 2})
        for (const double left : {x, x + w / 2}) sum += outsideShare(map, source, left, top, w / 2, h / 2, depth + 1);
    return sum / 4;
}

// The share of the output that lies outside a polygon on the screen, which need not be convex: where clipping leaves
// edges that run back over each other, their areas cancel.
double shareOutside(Polygon frame, Size output) {
    frame = clip(frame, -1, 0, 0);
    frame = clip(frame, 1, 0, output.width);
    frame = clip(frame, 0, -1, 0);
    frame = clip(frame, 0, 1, output.height);
    const double share = 1 - area(frame) / (double(output.width) * output.height);
    return share < 1e-9 ? 0 : std::min(share, 1.0);
}

// A source's border as it lies on the screen behind lenses: straight pieces that keep within a twentieth of a pixel.
// Empty where a lens sends a part of it nowhere.
std::optional<Polygon> seenBorder(const ScreenMap& map, Size source) {
    Polygon border;
    const auto corners = cornersOf(source);
    const auto add = [&](const auto& self, Point a, Point b, Point seenA, Point seenB, int depth) -> bool {
        const Point middle = (a + b) / 2, seen = map.toScreen(middle);
        if (!std::isfinite(seen.length())) return false;
        // The first few are always made: a curve may cross its chord in the middle.
        if (depth < 3 || (depth < 12 && (seen - (seenA + seenB) / 2).length() > 0.05))
            return self(self, a, middle, seenA, seen, depth + 1) && self(self, middle, b, seen, seenB, depth + 1);
        border.push_back(seenB);
        return true;
    };
    for (std::size_t c = 0; c < corners.size(); ++c) {
        const Point &a = corners[c], &b = corners[(c + 1) % corners.size()];
        const Point seenA = map.toScreen(a), seenB = map.toScreen(b);
        if (!std::isfinite(seenA.length()) || !std::isfinite(seenB.length()) || !add(add, a, b, seenA, seenB, 0))
            return std::nullopt;
    }
    return border;
}

} // namespace

double uncoveredShare(const ScreenMap& map, Size source, Size output) {
    if (output.isEmpty()) return 0;
    if (!map.isVisible() || source.isEmpty()) return 1;
    if (map.hasLens()) {
        const auto border = seenBorder(map, source);
        return border ? shareOutside(*border, output) : outsideShare(map, source, 0, 0, output.width, output.height, 0);
    }
    // The mapped frame as a polygon on the screen, cut to the output. A projective map may send a corner behind the
    // eye; then the frame is first cut where the divisor is safely positive.
    const auto& m = map.matrix();
    Polygon frame;
    for (const Point& c : cornersOf(source)) frame.push_back(c);
    if (!map.isAffine()) {
        double largest = 0;
        for (const Point& c : frame) largest = std::max(largest, c.x * m[0][2] + c.y * m[1][2] + m[2][2]);
        frame = clip(frame, -m[0][2], -m[1][2], m[2][2] - 1e-6 * largest);
    }
    for (Point& p : frame) p = map.toScreen(p);
    return shareOutside(frame, output);
}

} // namespace virga
