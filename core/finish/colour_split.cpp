#include "core/finish/colour_split.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/parallel.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;

Floats bilinear(const Canvas& canvas, float x, float y) {
    // Places are those of pixels' middles.
    x -= 0.5f, y -= 0.5f;
    const float fx = std::floor(x), fy = std::floor(y);
    const int i = int(fx), j = int(fy), w = canvas.width(), h = canvas.height();
    const float u = x - fx, v = y - fy;
    const LinearF* a = canvas.row(mirrored(j, h));
    const LinearF* b = canvas.row(mirrored(j + 1, h));
    const int left = mirrored(i, w), right = mirrored(i + 1, w);
    const Floats top = four::load(a[left]) + (four::load(a[right]) - four::load(a[left])) * u,
                 bottom = four::load(b[left]) + (four::load(b[right]) - four::load(b[left])) * u;
    return top + (bottom - top) * v;
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
    const double width = canvas.frame().width, angle = split.angle * std::numbers::pi / 180;
    for (const SplitSample& s : splitSamples(split.samples)) {
        const Floats weights = {s.weights[0], s.weights[1], s.weights[2], s.weights[1]}; // alpha goes with green
        if (split.radial) {
            const double scale = 1 / std::max(0.05, 1 + 2 * split.amount * s.place);
            maps.push_back({float(scale), float(centre.x * (1 - scale)), float(centre.y * (1 - scale)), weights});
        } else {
            const double off = split.amount * s.place * width;
            maps.push_back({1, float(-off * std::cos(angle)), float(-off * std::sin(angle)), weights});
        }
    }
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        LinearF* out = canvas.row(int(y));
        for (int x = 0; x < canvas.width(); ++x) {
            Floats sum = {};
            for (const Map& m : maps)
                sum += bilinear(from, (float(x) + 0.5f) * m.scale + m.x, (float(y) + 0.5f) * m.scale + m.y) * m.weights;
            four::store(sum, out[x]);
        }
    });
}

} // namespace virga
