#include "core/raster/pyramid.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

// The pixels of the finer level that one coarser pixel covers, with weights in 1/4096 that sum to 4096.
struct Taps {
    int first = 0, count = 0;
    int weight[3] = {};
};

std::vector<Taps> tapsFor(int fine, int coarse) {
    std::vector<Taps> all;
    const double scale = double(fine) / coarse;
    for (int i = 0; i < coarse; ++i) {
        const double from = i * scale, to = std::min(double(fine), (i + 1) * scale);
        Taps taps;
        taps.first = int(from + 1e-9);
        int sum = 0;
        for (int j = taps.first; j < fine && j < to - 1e-9 && taps.count < 3; ++j) {
            const double share = (std::min(to, j + 1.0) - std::max(from, double(j))) / (to - from);
            taps.weight[taps.count] = int(std::lround(share * 4096));
            sum += taps.weight[taps.count++];
        }
        taps.weight[0] += 4096 - sum;
        all.push_back(taps);
    }
    return all;
}

Image<Linear16> halved(const Image<Linear16>& fine) {
    const Size size{(fine.width() + 1) / 2, (fine.height() + 1) / 2};
    Image<Linear16> out(size);
    if (fine.width() % 2 == 0 && fine.height() % 2 == 0) { // the common case: four equal pixels
        for (int y = 0; y < size.height; ++y) {
            const Linear16 *a = fine.row(2 * y), *b = fine.row(2 * y + 1);
            Linear16* to = out.row(y);
            for (int x = 0; x < size.width; ++x, a += 2, b += 2)
                to[x] = {std::uint16_t((a[0].r + a[1].r + b[0].r + b[1].r + 2) / 4),
                         std::uint16_t((a[0].g + a[1].g + b[0].g + b[1].g + 2) / 4),
                         std::uint16_t((a[0].b + a[1].b + b[0].b + b[1].b + 2) / 4),
                         std::uint16_t((a[0].a + a[1].a + b[0].a + b[1].a + 2) / 4)};
        }
        return out;
    }
    const auto across = tapsFor(fine.width(), size.width), down = tapsFor(fine.height(), size.height);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            std::uint64_t r = 0, g = 0, b = 0, a = 0;
            const Taps &h = across[std::size_t(x)], &v = down[std::size_t(y)];
            for (int j = 0; j < v.count; ++j)
                for (int i = 0; i < h.count; ++i) {
                    const Linear16& p = fine.at(h.first + i, v.first + j);
                    const std::uint64_t w = std::uint64_t(v.weight[j]) * std::uint64_t(h.weight[i]);
                    r += w * p.r, g += w * p.g, b += w * p.b, a += w * p.a;
                }
            constexpr std::uint64_t half = 1u << 23;
            out.at(x, y) = {std::uint16_t((r + half) >> 24), std::uint16_t((g + half) >> 24),
                            std::uint16_t((b + half) >> 24), std::uint16_t((a + half) >> 24)};
        }
    return out;
}

} // namespace

Pyramid::Pyramid(Image<Linear16> picture, Enlarging how) {
    if (picture.isEmpty()) return;
    if (how != Enlarging::Bilinear) m_larger = doubled(picture, how);
    m_levels.push_back(std::move(picture));
    while (m_levels.back().width() > 1 || m_levels.back().height() > 1) m_levels.push_back(halved(m_levels.back()));
}

Pyramid Pyramid::flat(Image<Linear16> picture) {
    Pyramid pyramid;
    if (!picture.isEmpty()) pyramid.m_levels.push_back(std::move(picture));
    return pyramid;
}

std::size_t Pyramid::bytes() const {
    std::size_t sum = m_larger.bytes();
    for (const auto& level : m_levels) sum += level.bytes();
    return sum;
}

} // namespace virga
