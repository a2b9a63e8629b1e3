#include "core/effects/colour_split.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/parallel.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;

// A row of the canvas seen between two of its rows, at places that go on by `scale` a pixel.
struct RowMap {
    const LinearF *upper, *lower;
    float v;            // towards the lower one
    float start, scale; // where the first pixel is read, between pixels' middles
    Floats weights;
};

Floats readAt(const RowMap& m, float x, int width) {
    const float fx = std::floor(x);
    const int i = int(fx);
    const float u = x - fx;
    const int left = unsigned(i) < unsigned(width) ? i : mirrored(i, width),
              right = unsigned(i + 1) < unsigned(width) ? i + 1 : mirrored(i + 1, width);
    const Floats top = four::load(m.upper[left]) + (four::load(m.upper[right]) - four::load(m.upper[left])) * u,
                 bottom = four::load(m.lower[left]) + (four::load(m.lower[right]) - four::load(m.lower[left])) * u;
    return top + (bottom - top) * m.v;
}

} // namespace

std::vector<SplitSample> splitSamples(int count) {
    count = std::clamp(count, 3, 16);
    std::vector<SplitSample> samples;
    std::array<double, 3> sums{};
    const auto share = [](double u) { return std::array{std::max(0.0, u), 1 - std::abs(u), std::max(0.0, -u)}; };
    for (int i = 0; i < count; ++i) {
        const double u = 1 - 2.0 * i / (count - 1);
        for (int c = 0; c < 3; ++c) sums[std::size_t(c)] += share(u)[std::size_t(c)];
    }
    for (int i = 0; i < count; ++i) {
        SplitSample sample{1 - 2.0 * i / (count - 1), {}};
        for (std::size_t c = 0; c < 3; ++c) sample.weights[c] = float(share(sample.place)[c] / sums[c]);
        samples.push_back(sample);
    }
    return samples;
}

void colourSplit(Canvas& canvas, const ColourSplit& split) {
    const Canvas from = copyOf(canvas);
    struct Map { // of a place on the canvas to where it is read
        float scale, x, y;
        Floats weights;
    };
    std::vector<Map> maps;
    const Point centre = canvas.at(split.centre);
    const double across = canvas.frame().width, angle = split.angle * std::numbers::pi / 180;
    for (const SplitSample& s : splitSamples(split.samples)) {
        const Floats weights = {s.weights[0], s.weights[1], s.weights[2], s.weights[1]}; // alpha goes with green
        if (split.radial) {
            const double scale = 1 / std::max(0.05, 1 + 2 * split.amount * s.place);
            maps.push_back({float(scale), float(centre.x * (1 - scale)), float(centre.y * (1 - scale)), weights});
        } else {
            const double off = split.amount * s.place * across;
            maps.push_back({1, float(-off * std::cos(angle)), float(-off * std::sin(angle)), weights});
        }
    }
    const int width = canvas.width(), height = canvas.height();
    inParallel(std::size_t(height), [&](std::size_t y) {
        std::vector<RowMap> rows;
        for (const Map& m : maps) {
            const float at = (float(y) + 0.5f) * m.scale + m.y - 0.5f, floor = std::floor(at);
            rows.push_back({from.row(mirrored(int(floor), height)), from.row(mirrored(int(floor) + 1, height)),
                            at - floor, 0.5f * m.scale + m.x - 0.5f, m.scale, m.weights});
        }
        LinearF* out = canvas.row(int(y));
        for (int x = 0; x < width; ++x) {
            Floats sum = {};
            for (const RowMap& m : rows) sum += readAt(m, m.start + float(x) * m.scale, width) * m.weights;
            four::store(sum, out[x]);
        }
    });
}

} // namespace virga
