#include "core/raster/transfer.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <vector>

namespace virga {
namespace {

template <int Count> std::vector<std::uint16_t> linearTable() {
    std::vector<std::uint16_t> table(Count);
    for (int i = 0; i < Count; ++i)
        table[std::size_t(i)] = std::uint16_t(std::lround(linearFromCode(double(i) / (Count - 1)) * linearOne));
    return table;
}

const std::vector<std::uint8_t>& codeTable() {
    static const std::vector<std::uint8_t> table = [] {
        std::vector<std::uint8_t> t(65536);
        for (int i = 0; i < 65536; ++i)
            t[std::size_t(i)] = std::uint8_t(std::lround(codeFromLinear(i / 65535.0) * 255));
        return t;
    }();
    return table;
}

template <int Most, typename Pixel>
Image<Linear16> lineariseBy(ImageView<const Pixel> picture, const std::vector<std::uint16_t>& table) {
    Image<Linear16> out(picture.size());
    for (int y = 0; y < picture.height; ++y) {
        const Pixel* from = picture.row(y);
        Linear16* to = out.row(y);
        for (int x = 0; x < picture.width; ++x) {
            const Pixel p = from[x];
            if (p.a == Most) {
                to[x] = {table[p.r], table[p.g], table[p.b], linearOne};
                continue;
            }
            const std::uint32_t a = (std::uint32_t(p.a) * linearOne + Most / 2) / Most;
            const auto times = [a](std::uint32_t v) { return std::uint16_t((v * a + linearOne / 2) / linearOne); };
            to[x] = {times(table[p.r]), times(table[p.g]), times(table[p.b]), std::uint16_t(a)};
        }
    }
    return out;
}

} // namespace

double linearFromCode(double code) {
    return code <= 0.04045 ? code / 12.92 : std::pow((code + 0.055) / 1.055, 2.4);
}
double codeFromLinear(double linear) {
    return linear <= 0.0031308 ? linear * 12.92 : 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
}

Image<Linear16> linearise(ImageView<const Rgba8> picture) {
    static const auto table = linearTable<256>();
    return lineariseBy<255>(picture, table);
}

Image<Linear16> linearise(ImageView<const Rgba16> picture) {
    static const auto table = linearTable<65536>();
    return lineariseBy<65535>(picture, table);
}

void encodeRow(const LinearF* from, Rgba8* to, int count) {
    const std::uint8_t* table = codeTable().data();
    const auto code = [table](float v) { return table[int(std::clamp(v, 0.0f, 1.0f) * 65535.0f + 0.5f)]; };
    for (int x = 0; x < count; ++x) {
        const LinearF p = from[x];
        to[x] = {code(p.r), code(p.g), code(p.b), std::uint8_t(std::clamp(p.a, 0.0f, 1.0f) * 255.0f + 0.5f)};
    }
}

void encodeRow(const Linear16* from, Rgba8* to, int count) {
    struct Codes {
        std::uint8_t colour[linearOne + 1], alpha[linearOne + 1];
    };
    static const auto codes = [] {
        auto made = std::make_unique<Codes>();
        for (int v = 0; v <= linearOne; ++v) {
            const float part = float(v) * (1.0f / linearOne);
            Rgba8 code;
            const LinearF pixel{part, part, part, part};
            encodeRow(&pixel, &code, 1);
            made->colour[v] = code.r;
            made->alpha[v] = code.a;
        }
        return made;
    }();
    const Codes& c = *codes;
    for (int x = 0; x < count; ++x)
        to[x] = {c.colour[from[x].r], c.colour[from[x].g], c.colour[from[x].b], c.alpha[from[x].a]};
}

} // namespace virga
