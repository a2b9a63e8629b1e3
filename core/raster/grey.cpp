#include "core/raster/grey.h"

#include <algorithm>
#include <array>

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

Grey greyOf(ImageView<const std::uint8_t> luma, int black, int white, int longest) {
    Grey grey;
    grey.size = grey.source = luma.size();
    std::array<std::uint8_t, 256> spread{};
    for (int i = 0; i < 256; ++i)
        spread[std::size_t(i)] =
            std::uint8_t(std::clamp((255 * (i - black) + (white - black) / 2) / (white - black), 0, 255));
    grey.pixels.resize(std::size_t(luma.width) * std::size_t(luma.height));
    for (int y = 0; y < luma.height; ++y)
        std::transform(luma.row(y), luma.row(y) + luma.width, grey.pixels.begin() + std::ptrdiff_t(y) * luma.width,
                       [&](std::uint8_t v) { return spread[v]; });
    while (std::max(grey.size.width, grey.size.height) > longest) {
        const Size from = grey.size, to{(from.width + 1) / 2, (from.height + 1) / 2};
        std::vector<std::uint8_t> half(std::size_t(to.width) * std::size_t(to.height));
        for (int y = 0; y < to.height; ++y) {
            const std::uint8_t* a = grey.pixels.data() + std::ptrdiff_t(2 * y) * from.width;
            const std::uint8_t* b = 2 * y + 1 < from.height ? a + from.width : a;
            std::uint8_t* into = half.data() + std::ptrdiff_t(y) * to.width;
            const int pairs = from.width / 2;
            for (int x = 0; x < pairs; ++x)
                into[x] = std::uint8_t((a[2 * x] + a[2 * x + 1] + b[2 * x] + b[2 * x + 1] + 2) / 4);
            if (to.width > pairs) into[pairs] = std::uint8_t((a[2 * pairs] + b[2 * pairs] + 1) / 2);
        }
        grey.pixels = std::move(half);
        grey.size = to;
    }
    return grey;
}

} // namespace virga
