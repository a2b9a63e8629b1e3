#include "core/measure/grey.h"

#include <algorithm>

#include "core/raster/pyramid.h"
#include "core/raster/transfer.h"

namespace virga {
namespace {

Image<Linear16> halved(const Image<Linear16>& from) {
    Image<Linear16> half((from.width() + 1) / 2, (from.height() + 1) / 2);
    for (int y = 0; y < half.height(); ++y)
        for (int x = 0; x < half.width(); ++x) {
            const int x1 = std::min(2 * x + 1, from.width() - 1), y1 = std::min(2 * y + 1, from.height() - 1);
            const Linear16 &a = from.at(2 * x, 2 * y), &b = from.at(x1, 2 * y), &c = from.at(2 * x, y1),
                           &d = from.at(x1, y1);
            const auto mean = [](int p, int q, int r, int s) { return std::uint16_t((p + q + r + s + 2) / 4); };
            half.at(x, y) = {mean(a.r, b.r, c.r, d.r), mean(a.g, b.g, c.g, d.g), mean(a.b, b.b, c.b, d.b),
                             mean(a.a, b.a, c.a, d.a)};
        }
    return half;
}

} // namespace

Grey greyOf(const Image<Linear16>& picture, int longest) {
    Grey grey;
    grey.source = picture.size();
    Image<Linear16> reduced;
    const Image<Linear16>* from = &picture;
    while (std::max(from->width(), from->height()) > longest) {
        reduced = halved(*from);
        from = &reduced;
    }
    grey.size = from->size();
    grey.pixels.resize(std::size_t(from->width()) * std::size_t(from->height()));
    std::vector<Rgba8> row(std::size_t(from->width()));
    for (int y = 0; y < from->height(); ++y) {
        encodeRow(from->row(y), row.data(), from->width());
        for (int x = 0; x < from->width(); ++x) { // luma of ITU-R BT.709
            const Rgba8 p = row[std::size_t(x)];
            grey.pixels[std::size_t(y) * std::size_t(from->width()) + std::size_t(x)] =
                std::uint8_t((54 * p.r + 183 * p.g + 19 * p.b + 128) / 256);
        }
    }
    return grey;
}

} // namespace virga
