#include "core/raster/sampler.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "core/raster/four.h"
#include "core/raster/walks.h"

namespace virga {
namespace {

constexpr int leastSide = 8; // of a block that is parted no further

struct Work {
    const Pyramid& source;
    Edges edges;
    std::span<const ScreenMap> maps;
    std::vector<int> weights; // in the kernel's integers
    double total = 0;
    int shift = 0;

    void sample(Tile tile, LinearF* out, std::ptrdiff_t stride) const;
    void part(Tile tile, LinearF* out, std::ptrdiff_t stride) const;
};

// Few samples are blended of two mip levels; of many each takes one, by multiples of the golden ratio.
double pickOf(std::size_t sample, std::size_t count) {
    constexpr std::size_t few = 8;
    if (count < few) return -1;
    const double at = (double(sample) + 0.5) * 0.6180339887498949;
    return at - std::floor(at);
}

void Work::part(Tile tile, LinearF* out, std::ptrdiff_t stride) const {
    const int left = tile.width > leastSide ? tile.width / 2 : tile.width;
    const int top = tile.height > leastSide ? tile.height / 2 : tile.height;
    for (const int y : {0, top})
        for (const int x : {0, left}) {
            const Tile quarter{tile.x + x, tile.y + y, x == 0 ? left : tile.width - left,
                               y == 0 ? top : tile.height - top};
            if (quarter.width > 0 && quarter.height > 0) sample(quarter, out + y * stride + x, stride);
        }
}

void Work::sample(Tile tile, LinearF* out, std::ptrdiff_t stride) const {
    WalkSet set;
    set.walks.reserve(2 * maps.size());
    std::vector<std::size_t> singly; // maps whose pixels are taken one by one
    for (std::size_t i = 0; i < maps.size(); ++i) {
        if (!maps[i].isVisible() || weights[i] == 0) continue;
        if (addWalksOf(maps[i], source, edges, tile, weights[i], pickOf(i, maps.size()), set)) continue;
        if (tile.width > leastSide || tile.height > leastSide) return part(tile, out, stride);
        singly.push_back(i);
    }
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    alignas(64) std::int32_t sums[4 * mostTilePixels];
    std::fill_n(sums, 4 * count, 0);
    addWalks(set.walks, edges, tile.width, tile.height, shift, sums);
    const float unit = float(double(1 << shift) / (double(linearOne) * total));
    const std::int32_t* from = sums;
    for (int y = 0; y < tile.height; ++y)
        for (int x = 0; x < tile.width; ++x, from += 4) {
            LinearF& to = out[y * stride + x];
            four::Ints sum;
            std::memcpy(&sum, from, sizeof sum);
            four::store(__builtin_convertvector(sum, four::Floats) * unit, to);
            for (const std::size_t i : singly) {
                const LinearF p =
                    sampleReference(source, edges, maps.subspan(i, 1), {tile.x + x + 0.5, tile.y + y + 0.5});
                const float share = float(weights[i] / total);
                to = {to.r + p.r * share, to.g + p.g * share, to.b + p.b * share, to.a + p.a * share};
            }
        }
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

void sampleTile(const Pyramid& source, Edges edges, std::span<const ScreenMap> maps, Tile tile, LinearF* out,
                std::span<const float> weights) {
    assert(std::size_t(tile.width) * std::size_t(tile.height) <= mostTilePixels);
    if (const Linear16* from = stillPixels(source, maps, tile)) {
        constexpr float unit = 1.0f / linearOne;
        for (int y = 0; y < tile.height; ++y, from += source.size().width)
            for (int x = 0; x < tile.width; ++x, ++out) four::store(four::load(from[x]) * unit, *out);
        return;
    }
    Work work{source, edges, maps, std::vector<int>(maps.size(), wholeWeight), 0, shiftFor(maps.size())};
    for (std::size_t i = 0; i < weights.size(); ++i)
        work.weights[i] = int(std::lround(std::clamp(weights[i], 0.0f, 1.0f) * float(wholeWeight)));
    for (const int weight : work.weights) work.total += weight;
    work.sample(tile, out, tile.width);
}

} // namespace virga
