#include "core/raster/two_pass.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/raster/footprint.h"
#include "core/raster/four.h"

namespace virga {
namespace {

constexpr int steps = 32;         // of time at which the path is measured
constexpr double misplaced = 0.3; // screen pixels

// Where along the path, 0 to its length, each of the steps + 1 times is. Length is that of the farthest of the points
// that lie under the probe points at each moment: under a movement that is one and the same all along, equal lengths
// then are equal parts of it, also where a zoom makes the points themselves go farther and farther.
struct Path {
    std::array<double, steps + 1> at{};
    double length = 0;

    double timeAt(double part) const {
        const auto next = std::upper_bound(at.begin() + 1, at.end() - 1, part * length);
        const auto i = std::size_t(next - at.begin());
        const double whole = at[i] - at[i - 1];
        return (double(i - 1) + (whole > 0 ? (part * length - at[i - 1]) / whole : 0)) / steps;
    }
};

Path pathOf(const std::vector<ScreenMap>& maps, Size output) {
    Path path;
    for (std::size_t i = 0; i < steps; ++i) {
        double farthest = 0;
        for (const Point& screen : probePointsOf(output))
            farthest = std::max(farthest, (maps[i + 1].toScreen(maps[i].toSource(screen)) - screen).length());
        path.at[i + 1] = path.at[i] + farthest;
    }
    path.length = path.at.back();
    return path;
}

struct Extent {
    double left = 1e300, top = 1e300, right = -1e300, bottom = -1e300;
    void add(Point p) {
        left = std::min(left, p.x), right = std::max(right, p.x);
        top = std::min(top, p.y), bottom = std::max(bottom, p.y);
    }
};

std::optional<TwoPass> tryWith(const std::function<ScreenMap(double)>& mapAt, Size output, const Path& path,
                               double fineness, int n1, int n2) {
    TwoPass two;
    const ScreenMap about = mapAt(path.timeAt(0.5));
    std::vector<Matrix> moved; // from the moment about which the blur is made to each step's own
    Extent extent;
    for (int k = 0; k < n1; ++k) {
        const double from = path.timeAt(double(k) / n1), to = path.timeAt((k + 1.0) / n1);
        moved.push_back(then(about.inverse(), mapAt(path.timeAt((k + 0.5) / n1)).matrix()));
        two.weights.push_back(float(std::max(to - from, 0.0)));
        const ScreenMap back(moved.back());
        if (!back.isVisible()) return std::nullopt;
        for (const Point& corner : cornersOf(output)) extent.add(back.toSource(corner));
    }
    const float longest = *std::max_element(two.weights.begin(), two.weights.end());
    for (float& weight : two.weights) weight /= longest;
    const Point origin(std::floor(extent.left) - 2, std::floor(extent.top) - 2);
    const double width = extent.right + 2 - origin.x, height = extent.bottom + 2 - origin.y;
    if (!(width * height < 3.0 * output.width * output.height)) return std::nullopt;
    two.size = {int(std::ceil(width * fineness)), int(std::ceil(height * fineness))};
    const Matrix placed = then(translation(-origin.x, -origin.y), scaling(fineness, fineness));
    for (int j = 0; j < n2; ++j)
        two.first.push_back(mapAt(path.timeAt(0.5 + ((j + 0.5) / n2 - 0.5) / n1)).movedBy(placed));
    for (const Matrix& matrix : moved) two.second.emplace_back(then(*inverseOf(placed), matrix));
    // Is every sample where it belongs?
    for (int k = 0; k < n1; ++k)
        for (const int j : {0, n2 - 1}) {
            const ScreenMap exact = mapAt(path.timeAt((k + (j + 0.5) / n2) / n1));
            for (const Point& screen : probePointsOf(output)) {
                const Point source = two.first[std::size_t(j)].toSource(two.second[std::size_t(k)].toSource(screen));
                if (!((exact.toScreen(source) - screen).length() <= misplaced)) return std::nullopt;
            }
        }
    return two;
}

} // namespace

std::optional<TwoPass> twoPassOf(const std::function<ScreenMap(double)>& mapAt, Size output, double pixelsPerSample,
                                 int mostSamples) {
    std::vector<ScreenMap> maps;
    for (int i = 0; i <= steps; ++i) {
        maps.push_back(mapAt(double(i) / steps));
        if (!maps.back().isVisible() || !maps.back().isAffine()) return std::nullopt;
    }
    const Path path = pathOf(maps, output);
    if (!std::isfinite(path.length)) return std::nullopt;
    double detail = 0;
    for (const int i : {0, steps / 2, steps}) detail = std::max(detail, detailAt(maps[std::size_t(i)], {0, 0}));
    const double wanted = std::min(path.length * detail / pixelsPerSample + 1, 4.0 * mostSamples);
    if (wanted < 16) return std::nullopt;
    // The picture between the passes is sampled twice; where it must be good, it is made finer than what it shows.
    const double finer = pixelsPerSample >= 3.5 ? 1
                         : detail < 0.7         ? 2
                                                : 1.5,
                 fineness = std::max(0.25, detail * finer), area = 1.3 * fineness * fineness;
    for (int n1 = std::max(4, int(std::ceil(std::sqrt(area * wanted)))); n1 <= wanted / 2; n1 *= 2)
        if (auto two = tryWith(mapAt, output, path, fineness, n1, std::max(2, int(std::ceil(wanted / n1))))) return two;
    return std::nullopt;
}

bool isNeeded(const TwoPass& two, Tile tile, Size output) {
    const double left = tile.x - 1.0, top = tile.y - 1.0, right = tile.x + tile.width + 1.0,
                 bottom = tile.y + tile.height + 1.0; // bilinear taps look a pixel further
    for (const ScreenMap& second : two.second) {
        Extent seen;
        for (const Point& corner : {Point(left, top), Point(right, top), Point(right, bottom), Point(left, bottom)})
            seen.add(second.toScreen(corner));
        if (seen.right >= 0 && seen.bottom >= 0 && seen.left <= output.width && seen.top <= output.height) return true;
    }
    return false;
}

void quantise(const LinearF* from, Linear16* to, int count) {
    for (int i = 0; i < count; ++i) four::store(four::scaled(four::load(from[i]), float(linearOne)), to[i]);
}

} // namespace virga
