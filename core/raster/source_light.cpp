#include "core/raster/source_light.h"

#include <algorithm>
#include <cmath>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"

namespace virga {
namespace {

Matrix3 inverse(const Matrix3& m) {
    Matrix3 out{};
    const auto minor = [&](int r, int c) {
        const int r0 = (r + 1) % 3, r1 = (r + 2) % 3, c0 = (c + 1) % 3, c1 = (c + 2) % 3;
        return m[std::size_t(r0)][std::size_t(c0)] * m[std::size_t(r1)][std::size_t(c1)] -
               m[std::size_t(r0)][std::size_t(c1)] * m[std::size_t(r1)][std::size_t(c0)];
    };
    const double all = m[0][0] * minor(0, 0) + m[0][1] * minor(0, 1) + m[0][2] * minor(0, 2);
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c) out[std::size_t(c)][std::size_t(r)] = minor(r, c) / all;
    return out;
}

Matrix3 product(const Matrix3& a, const Matrix3& b) {
    Matrix3 out{};
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c)
            for (std::size_t k = 0; k < 3; ++k) out[r][c] += a[r][k] * b[k][c];
    return out;
}

// Linear R, G, B to CIE XYZ with white at Y = 1: SMPTE RP 177. Chromaticities: ITU-R BT.709-6 and BT.2020-2; SMPTE EG
// 432-1 (P3 with the white D65).
Matrix3 toXyz(Primaries primaries) {
    using Place = std::array<double, 2>;
    constexpr Place white{0.3127, 0.3290};
    std::array<Place, 3> at{{{0.640, 0.330}, {0.300, 0.600}, {0.150, 0.060}}};
    if (primaries == Primaries::Bt2020) at = {{{0.708, 0.292}, {0.170, 0.797}, {0.131, 0.046}}};
    if (primaries == Primaries::P3) at = {{{0.680, 0.320}, {0.265, 0.690}, {0.150, 0.060}}};
    const auto xyz = [](Place p) { return std::array<double, 3>{p[0] / p[1], 1, (1 - p[0] - p[1]) / p[1]}; };
    Matrix3 m{};
    for (std::size_t c = 0; c < 3; ++c)
        for (std::size_t r = 0; r < 3; ++r) m[r][c] = xyz(at[c])[r];
    const Matrix3 back = inverse(m);
    const auto w = xyz(white);
    for (std::size_t c = 0; c < 3; ++c) {
        const double share = back[c][0] * w[0] + back[c][1] * w[1] + back[c][2] * w[2];
        for (std::size_t r = 0; r < 3; ++r) m[r][c] *= share;
    }
    return m;
}

constexpr double m1 = 2610.0 / 16384, m2 = 2523.0 / 4096 * 128, c1 = 3424.0 / 4096, c2 = 2413.0 / 4096 * 32,
                 c3 = 2392.0 / 4096 * 32, pqPeak = 10000;
constexpr double hlgGamma = 1.2; // of a screen of 1000 cd/m²
constexpr int steps = 4096;

// Between two entries of a table over the fourth root.
float at(const std::vector<float>& table, float share) {
    const float place = std::sqrt(std::sqrt(share > 0 ? std::min(share, 1.0f) : 0.0f)) * steps;
    const int i = std::min(int(place), steps - 1);
    return table[std::size_t(i)] + (table[std::size_t(i) + 1] - table[std::size_t(i)]) * (place - float(i));
}

Linear16 kept(const std::array<float, 3>& v, float a) {
    const LinearF p = keptOf(LinearF{v[0] * a, v[1] * a, v[2] * a, a});
    const auto held = [a](float part) { return std::uint16_t(std::min(std::max(part, 0.0f), a) * linearOne + 0.5f); };
    return {held(p.r), held(p.g), held(p.b), held(a)};
}

} // namespace

Matrix3 toBt709(Primaries primaries) {
    if (primaries == Primaries::Bt709) return {{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
    return product(inverse(toXyz(Primaries::Bt709)), toXyz(primaries));
}

double lightFromPq(double code) {
    const double p = std::pow(std::clamp(code, 0.0, 1.0), 1 / m2);
    return pqPeak * std::pow(std::max(p - c1, 0.0) / (c2 - c3 * p), 1 / m1);
}

double pqFromLight(double light) {
    const double y = std::pow(std::clamp(light / pqPeak, 0.0, 1.0), m1);
    return std::pow((c1 + c2 * y) / (1 + c3 * y), m2);
}

double sceneFromHlg(double code) {
    constexpr double a = 0.17883277, b = 1 - 4 * a;
    const double c = 0.5 - a * std::log(4 * a);
    code = std::clamp(code, 0.0, 1.0);
    return code <= 0.5 ? code * code / 3 : (std::exp((code - c) / a) + b) / 12;
}

double toneMapped(double light, double peak) {
    if (peak <= referenceWhite) return std::min(light, referenceWhite);
    const double top = pqFromLight(peak), most = pqFromLight(referenceWhite) / top, knee = 1.5 * most - 0.5;
    const double e = std::min(pqFromLight(light) / top, 1.0);
    if (e < knee) return light;
    const double t = (e - knee) / (1 - knee), t2 = t * t, t3 = t2 * t;
    const double mapped = (2 * t3 - 3 * t2 + 1) * knee + (t3 - 2 * t2 + t) * (1 - knee) + (-2 * t3 + 3 * t2) * most;
    return lightFromPq(mapped * top);
}

LightTable::LightTable(const SourceLight& light) : m_light(light), m_linear(65536) {
    const Matrix3 matrix = toBt709(light.primaries);
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c) m_matrix[r][c] = float(matrix[r][c]);
    for (int i = 0; i < 65536; ++i) {
        const double code = double(i - deepBlack) / (deepWhite - deepBlack);
        m_linear[std::size_t(i)] =
            float(light.transfer == Transfer::Pq      ? lightFromPq(code)
                  : light.transfer == Transfer::Hlg   ? sceneFromHlg(code)
                  : light.transfer == Transfer::Power ? std::pow(std::max(code, 0.0), light.power)
                                                      : linearFromCode(code));
    }
    if (!light.isHdr()) return;
    const double peak = std::clamp(light.peak, 100.0, pqPeak);
    m_highest = float(light.transfer == Transfer::Hlg ? 1000 : pqPeak);
    for (int i = 0; i <= steps; ++i) {
        const double share = std::pow(double(i) / steps, 4), shown = std::max(share, 1e-12) * m_highest;
        m_gain.push_back(float(toneMapped(shown, peak) / shown / referenceWhite));
        m_ootf.push_back(float(m_highest * std::pow(std::max(share, 1e-12), hlgGamma - 1)));
    }
}

std::array<float, 3> LightTable::operator()(std::uint16_t r, std::uint16_t g, std::uint16_t b) const {
    std::array<float, 3> v{m_linear[r], m_linear[g], m_linear[b]};
    if (m_light.isHdr()) {
        float gain = 1;
        if (m_light.transfer == Transfer::Hlg) // the OOTF: by the scene's luminance (weights of BT.2020)
            gain = at(m_ootf, 0.2627f * v[0] + 0.6780f * v[1] + 0.0593f * v[2]);
        // The brightest of the three is mapped and the others keep their ratio to it, so that no hue turns.
        gain *= at(m_gain, std::max({v[0], v[1], v[2]}) * gain / m_highest);
        for (float& c : v) c *= gain;
    }
    std::array<float, 3> out{};
    for (std::size_t i = 0; i < 3; ++i)
        out[i] = std::max(0.0f, m_matrix[i][0] * v[0] + m_matrix[i][1] * v[1] + m_matrix[i][2] * v[2]);
    return out;
}

Image<Linear16> linearise(ImageView<const Rgba16> picture, const LightTable& table) {
    Image<Linear16> out(picture.size());
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x) {
            const Rgba16 p = picture.at(x, y);
            const auto level = [](unsigned full) {
                return std::uint16_t(deepBlack + (full * (deepWhite - deepBlack) + 32767u) / 65535u);
            };
            out.at(x, y) = kept(table(level(p.r), level(p.g), level(p.b)), float(p.a) / 65535.0f);
        }
    return out;
}

Image<Linear16> linearise(ImageView<const std::uint16_t> r, ImageView<const std::uint16_t> g,
                          ImageView<const std::uint16_t> b, const LightTable& table) {
    Image<Linear16> out(r.size());
    for (int y = 0; y < r.height; ++y) {
        const std::uint16_t *red = r.row(y), *green = g.row(y), *blue = b.row(y);
        Linear16* to = out.row(y);
        for (int x = 0; x < r.width; ++x) to[x] = kept(table(red[x], green[x], blue[x]), 1);
    }
    return out;
}

} // namespace virga
