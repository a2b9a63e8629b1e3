#include "core/raster/transfer.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <vector>

#include "core/raster/four.h"
#include "core/raster/kept_light.h"
#include "core/raster/simd/deep_codes.h"

namespace virga {
namespace {

// What is kept of each code value, where `black` and `white` are 0 and 1.
std::vector<std::uint16_t> keptTable(int count, double black, double white) {
    std::vector<std::uint16_t> table(static_cast<std::size_t>(count));
    for (int i = 0; i < count; ++i)
        table[std::size_t(i)] = keptOf(linearFromCode((double(i) - black) / (white - black)));
    return table;
}

// Code values in 1/256 for linear light in 1/65535.
const std::vector<std::uint16_t>& codeTable() {
    static const std::vector<std::uint16_t> table = [] {
        std::vector<std::uint16_t> t(65536);
        for (int i = 0; i < 65536; ++i)
            t[std::size_t(i)] = std::uint16_t(std::lround(codeFromLinear(i / 65535.0) * 255 * 256));
        return t;
    }();
    return table;
}

// The pattern of Bayer 1973, in 1/256 of a code value, from 1/16 to 15/16.
using Pattern = std::array<std::array<std::uint16_t, 8>, 8>;
const Pattern& pattern() {
    static const Pattern made = [] {
        Pattern p{};
        for (unsigned y = 0; y < 8; ++y)
            for (unsigned x = 0; x < 8; ++x) {
                unsigned rank = 0; // bits of x ^ y and y, interleaved and turned round
                for (unsigned bit = 0; bit < 3; ++bit)
                    rank |= ((((x ^ y) >> bit) & 1) << (5 - 2 * bit)) | (((y >> bit) & 1) << (4 - 2 * bit));
                p[y][x] = std::uint16_t(16 + (2 * rank + 1) * 224 / 128);
            }
        return p;
    }();
    return made;
}

const DeepCurve& deepCurve() {
    constexpr int octaves = DeepCurve::octaves;
    static const std::vector<float> table = [] {
        std::vector<float> t;
        for (int i = 0; i <= (octaves + 1) * 256 + 1; ++i) {
            const double v = std::ldexp(1 + (i % 256) / 256.0, i / 256 - octaves);
            t.push_back(float(codeFromLinear(v) * (deepWhite - deepBlack)));
        }
        return t;
    }();
    static const DeepCurve curve{table.data(), 12.92f * (deepWhite - deepBlack), deepBlack, lightFloor, lightCeiling};
    return curve;
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
    if (code < 0) return -linearFromCode(-code);
    return code <= 0.04045 ? code / 12.92 : std::pow((code + 0.055) / 1.055, 2.4);
}
double codeFromLinear(double linear) {
    if (linear < 0) return -codeFromLinear(-linear);
    return linear <= 0.0031308 ? linear * 12.92 : 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
}

Image<Linear16> linearise(ImageView<const Rgba8> picture) {
    static const auto table = keptTable(256, 0, 255);
    return lineariseBy<255>(picture, table);
}

Image<Linear16> linearise(ImageView<const Rgba16> picture) {
    static const auto table = keptTable(65536, 0, 65535);
    return lineariseBy<65535>(picture, table);
}

Image<Linear16> linearise(ImageView<const std::uint16_t> r, ImageView<const std::uint16_t> g,
                          ImageView<const std::uint16_t> b) {
    static const auto table = keptTable(65536, deepBlack, deepWhite);
    Image<Linear16> out(r.size());
    for (int y = 0; y < r.height; ++y) {
        const std::uint16_t *red = r.row(y), *green = g.row(y), *blue = b.row(y);
        Linear16* to = out.row(y);
        for (int x = 0; x < r.width; ++x) to[x] = {table[red[x]], table[green[x]], table[blue[x]], linearOne};
    }
    return out;
}

namespace {

// A pixel's light, by vectors.
four::Floats light(four::Floats kept) {
    constexpr four::Floats span = {lightSpan, lightSpan, lightSpan, 1};
    constexpr four::Floats floor = {lightFloor, lightFloor, lightFloor, 0};
    return kept * span - floor * kept[3];
}

// 8-bit codes with a threshold, in 1/256 of a code value, for each pixel.
template <typename Threshold> void codesOf(const LinearF* from, Rgba8* to, int count, const Threshold& thresholdAt) {
    const std::uint16_t* table = codeTable().data();
    for (int i = 0; i < count; ++i) {
        const four::Ints at = four::scaled(light(four::load(from[i])), 65535.0f);
        const unsigned threshold = thresholdAt(i);
        const auto code = [&](std::int32_t v) { return std::uint8_t((table[v] + threshold) >> 8); };
        to[i] = {code(at[0]), code(at[1]), code(at[2]), std::uint8_t((unsigned(at[3]) * 255 + 32767) / 65535)};
    }
}

} // namespace

void encodeRow(const LinearF* from, Rgba8* to, int count) {
    codesOf(from, to, count, [](int) { return 128u; });
}

void ditherRow(const LinearF* from, Rgba8* to, int count, int x, int y) {
    const auto& row = pattern()[std::size_t(y & 7)];
    codesOf(from, to, count, [&](int i) { return unsigned(row[std::size_t((x + i) & 7)]); });
}

void encodeRow(const LinearF* from, Deep16* to, int count) {
    static_assert(sizeof(LinearF) == 4 * sizeof(float) && sizeof(Deep16) == 4 * sizeof(std::uint16_t));
    deepCodes(&from->r, &to->r, count, lightSpan, deepCurve());
}

namespace {

// Stored pixels: by tables where they are opaque, else as floats.
template <typename Pixel, typename Channel, Channel opaque>
void encodeStored(const Linear16* from, Pixel* to, int count) {
    static const auto codes = [] {
        auto made = std::make_unique<std::array<Channel, linearOne + 1>>();
        for (int v = 0; v <= linearOne; ++v) {
            const float part = float(v) * (1.0f / linearOne);
            const LinearF pixel{part, part, part, 1};
            Pixel code;
            encodeRow(&pixel, &code, 1);
            (*made)[std::size_t(v)] = code.r;
        }
        return made;
    }();
    const auto& c = *codes;
    for (int x = 0; x < count; ++x) {
        if (from[x].a == linearOne) {
            to[x] = {c[from[x].r], c[from[x].g], c[from[x].b], opaque};
            continue;
        }
        LinearF pixel;
        four::store(four::load(from[x]) * (1.0f / linearOne), pixel);
        encodeRow(&pixel, to + x, 1);
    }
}

} // namespace

void encodeRow(const Linear16* from, Deep16* to, int count) {
    encodeStored<Deep16, std::uint16_t, 65535>(from, to, count);
}

void encodeRow(const Linear16* from, Rgba8* to, int count) {
    encodeStored<Rgba8, std::uint8_t, 255>(from, to, count);
}

} // namespace virga
