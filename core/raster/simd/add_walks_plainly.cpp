#include <algorithm>
#include <cmath>

#include "core/raster/simd/add_walks.h"

namespace virga {
namespace {

// Two taps along one axis, the second one's share, and which of them count.
struct Taps {
    int a = 0, b = 0;
    float f = 0;
    bool first = true, second = true;
};

Taps tapsAt(float u, int n, EdgeFill edges) {
    const float size = float(n);
    if (edges == EdgeFill::Mirror) { // the fold p = W - |u mod 2W - W|
        const float period = 2.0f * size, t = u - period * std::floor(u * (1.0f / period));
        u = size - std::abs(t - size);
    } else if (edges == EdgeFill::Repeat) {
        u = u - size * std::floor(u * (1.0f / size));
    } else if (edges == EdgeFill::Hold) {
        u = std::min(std::max(u, 0.5f), size - 0.5f);
    } else {
        u = std::min(std::max(u, -2.0f), size + 2.0f);
    }
    const float at = u - 0.5f, whole = std::floor(at);
    Taps taps;
    taps.a = int(whole);
    taps.b = taps.a + 1;
    taps.f = at - whole;
    if (edges == EdgeFill::Empty) {
        taps.first = taps.a >= 0 && taps.a < n;
        taps.second = taps.b >= 0 && taps.b < n;
    }
    if (edges == EdgeFill::Repeat) {
        if (taps.a < 0) taps.a += n;
        if (taps.b >= n) taps.b -= n;
    }
    taps.a = std::clamp(taps.a, 0, n - 1);
    taps.b = std::clamp(taps.b, 0, n - 1);
    return taps;
}

} // namespace

int shiftFor(std::size_t count) {
    int shift = 0;
    while (std::size_t(2) << shift < count) ++shift;
    return shift;
}

void addWalksPlainly(std::span<const Walk> walks, EdgeFill edges, int width, int height, int shift,
                     std::int32_t* sums) {
    const std::int32_t half = shift > 0 ? 1 << (shift - 1) : 0;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x, sums += 4)
            for (std::size_t s = 0; s < walks.size(); s += 2) {
                std::int32_t pair[4] = {};
                for (std::size_t k = s; k < std::min(s + 2, walks.size()); ++k) {
                    const Walk& w = walks[k];
                    const float u = w.u + (float(x) * w.ux + float(y) * w.uy);
                    const float v = w.v + (float(x) * w.vx + float(y) * w.vy);
                    const Taps h = tapsAt(u, w.width, edges), t = tapsAt(v, w.height, edges);
                    const float all = float(w.weight), f = h.f, g = t.f;
                    const int w01 = int(f * (1.0f - g) * all + 0.5f), w10 = int((1.0f - f) * g * all + 0.5f),
                              w11 = int(f * g * all + 0.5f), w00 = w.weight - w01 - w10 - w11;
                    const auto tap = [&](int row, int column, int weight, bool counts) {
                        const std::uint16_t* p = w.pixels + 4 * (std::ptrdiff_t(row) * w.width + column);
                        if (counts)
                            for (int c = 0; c < 4; ++c) pair[c] += int(p[c]) * weight;
                    };
                    tap(t.a, h.a, w00, t.first && h.first);
                    tap(t.a, h.b, w01, t.first && h.second);
                    tap(t.b, h.a, w10, t.second && h.first);
                    tap(t.b, h.b, w11, t.second && h.second);
                }
                for (int c = 0; c < 4; ++c) sums[c] += (pair[c] + half) >> shift;
            }
}

} // namespace virga
