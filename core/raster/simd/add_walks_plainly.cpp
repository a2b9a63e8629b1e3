#include <algorithm>
#include <bit>
#include <cmath>

#include "core/raster/simd/add_walks.h"

namespace virga {
namespace {

// Two taps along one axis, the second one's share, and how much of the sample lies inside the limits.
struct Taps {
    int a = 0, b = 0;
    float f = 0, inside = 1;
};

// Adding this leaves the nearest integer in the lowest bits of a float, halves to even: |values| below 2^22.
constexpr float magic = 12582912.0f; // 1.5 * 2^23

int rounded(float v) {
    return int(std::bit_cast<std::uint32_t>(v + magic) - 0x4b400000u);
}

Taps tapsAt(float u, int n, Edges edges, bool limited, float low, float high, float ramp) {
    const float size = float(n), period = edges.fill == EdgeFill::Mirror ? 2.0f * size : size;
    Taps taps;
    if (limited) {
        taps.inside = std::min(std::max(std::min(u - low, high - u) * ramp + 0.5f, 0.0f), 1.0f);
        u = std::min(std::max(u, low + 0.5f), high - 0.5f);
    }
    if (edges.fill == EdgeFill::Mirror) // the fold |u - 2W round(u / 2W)|
        u = std::abs(u - float(rounded(u * (1.0f / period))) * period);
    if (edges.fill == EdgeFill::Repeat)
        u = u - std::floor(u * (1.0f / period)) * period;
    else
        u = std::min(std::max(u, 0.5f), size - 0.5f);
    // The tap before u - 1/2; where that is a whole number either neighbour may be, with the whole weight.
    float whole = u + (magic - 1.0f);
    if (edges.fill != EdgeFill::Repeat) whole = std::min(whole, magic + float(std::max(n - 2, 0)));
    whole = whole - magic;
    taps.a = int(whole);
    taps.b = taps.a + 1;
    taps.f = (u - 0.5f) - whole;
    if (edges.fill == EdgeFill::Repeat) {
        if (taps.a < 0) taps.a += n;
        if (taps.b >= n) taps.b -= n;
    }
    taps.a = std::clamp(taps.a, 0, n - 1);
    taps.b = std::clamp(taps.b, 0, n - 1);
    return taps;
}

float polynomial(const float (&c)[4], float x) {
    return ((c[3] * x + c[2]) * x + c[1]) * x + c[0];
}

float bent(const float (&c)[4][4], float x, float y) {
    float row[4];
    for (int i = 0; i < 4; ++i) row[i] = ((c[3][i] * y + c[2][i]) * y + c[1][i]) * y + c[0][i];
    return polynomial(row, x);
}

} // namespace

int shiftFor(std::size_t count) {
    int shift = 0;
    while (std::size_t(2) << shift < count) ++shift;
    return shift;
}

void addWalksPlainly(std::span<const Walk> walks, Edges edges, int width, int height, int shift, std::int32_t* sums) {
    const std::int32_t half = shift > 0 ? 1 << (shift - 1) : 0;
    const bool limited = edges.fill == EdgeFill::Empty || (edges.isPeriodic() && edges.copies > 0);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x, sums += 4)
            for (std::size_t s = 0; s < walks.size(); s += 2) {
                std::int32_t pair[4] = {};
                for (std::size_t k = s; k < std::min(s + 2, walks.size()); ++k) {
                    const Walk& w = walks[k];
                    float u = float(x) * w.ux + (w.u + float(y) * w.uy);
                    float v = float(x) * w.vx + (w.v + float(y) * w.vy);
                    if (w.bend) {
                        const float bx = (float(x) + 0.5f) * w.bend->scaleX - 1.0f;
                        const float by = (float(y) + 0.5f) * w.bend->scaleY - 1.0f;
                        u = bent(w.bend->u, bx, by);
                        v = bent(w.bend->v, bx, by);
                    }
                    const Taps h = tapsAt(u, w.width, edges, limited, w.lowU, w.highU, w.rampU),
                               t = tapsAt(v, w.height, edges, limited, w.lowV, w.highV, w.rampV);
                    const int total = rounded(limited ? float(w.weight) * (h.inside * t.inside) : float(w.weight));
                    const float all = float(total), right = h.f * all;
                    const int w11 = rounded(right * t.f), w01 = rounded(right) - w11, w10 = rounded(t.f * all) - w11,
                              w00 = total - w01 - w10 - w11;
                    const auto tap = [&](int row, int column, int weight) {
                        const std::uint16_t* p = w.pixels + 4 * (std::ptrdiff_t(row) * w.width + column);
                        for (int c = 0; c < 4; ++c) pair[c] += int(p[c]) * weight;
                    };
                    tap(t.a, h.a, w00);
                    tap(t.a, h.b, w01);
                    tap(t.b, h.a, w10);
                    tap(t.b, h.b, w11);
                }
                for (int c = 0; c < 4; ++c) sums[c] += (pair[c] + half) >> shift;
            }
}

} // namespace virga
