#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/raster/pyramid.h"

namespace virga {
namespace {

constexpr int taps = 6;
using Kernel = std::array<float, taps>;

double sinc(double x) {
    const double a = x * std::numbers::pi;
    return x == 0 ? 1 : std::sin(a) / a;
}

double weightAt(Enlarging how, double x) {
    x = std::abs(x);
    if (how == Enlarging::Lanczos) return x < 3 ? sinc(x) * sinc(x / 3) : 0;
    if (x < 1) return 1 + x * x * (1.5 * x - 2.5);
    return x < 2 ? 2 + x * (-4 + x * (2.5 - 0.5 * x)) : 0;
}

// Weights of pixels i - 3 .. i + 2 for the left half of pixel i; those of the right half are the same backwards.
Kernel kernelFor(Enlarging how) {
    std::array<double, taps> exact{};
    double sum = 0;
    for (int k = 0; k < taps; ++k) sum += exact[std::size_t(k)] = weightAt(how, k - 3 + 0.25);
    Kernel kernel{};
    for (std::size_t k = 0; k < taps; ++k) kernel[k] = float(exact[k] / sum);
    return kernel;
}

// The sum of six rows of floats.
void blend(const std::array<const float*, taps>& from, const Kernel& k, float* to, int count) {
    for (int i = 0; i < count; ++i)
        to[i] = ((from[0][i] * k[0] + from[1][i] * k[1]) + (from[2][i] * k[2] + from[3][i] * k[3])) +
                (from[4][i] * k[4] + from[5][i] * k[5]);
}

std::uint16_t rounded(float v, float most) {
    return std::uint16_t(std::min(std::max(v, 0.0f), most) + 0.5f);
}

} // namespace

Image<Linear16> doubled(const Image<Linear16>& picture, Enlarging how) {
    const Kernel leftKernel = kernelFor(how);
    Kernel rightKernel = leftKernel;
    std::reverse(rightKernel.begin(), rightKernel.end());
    const int w = picture.width(), h = picture.height(), row = 4 * w;
    constexpr int margin = 3; // pixels that go on beyond each end
    // Each row across first, as floats with its two halves apart; then down.
    Image<Linear16> out(2 * w, 2 * h);
    std::vector<float> padded(std::size_t(row + 8 * margin)), down(std::size_t(2 * row));
    std::vector<std::vector<float>> across(8, std::vector<float>(std::size_t(2 * row)));
    int done = 0; // rows that are there; row y lies in across[y % 8]
    const auto make = [&](int y) {
        const Linear16* from = picture.row(y);
        for (int x = -margin; x < w + margin; ++x) {
            const Linear16& p = from[std::clamp(x, 0, w - 1)];
            float* to = &padded[std::size_t(4 * (x + margin))];
            to[0] = p.r, to[1] = p.g, to[2] = p.b, to[3] = p.a;
        }
        std::array<const float*, taps> left{}, right{};
        for (int k = 0; k < taps; ++k) {
            left[std::size_t(k)] = padded.data() + 4 * k;
            right[std::size_t(k)] = padded.data() + 4 * (k + 1);
        }
        float* to = across[std::size_t(y % 8)].data();
        blend(left, leftKernel, to, row);
        blend(right, rightKernel, to + row, row);
    };
    for (int y = 0; y < h; ++y) {
        for (; done < std::min(h, y + 4); ++done) make(done);
        for (const int lower : {0, 1}) {
            std::array<const float*, taps> rows{};
            for (int k = 0; k < taps; ++k)
                rows[std::size_t(k)] = across[std::size_t(std::clamp(y + k - 3 + lower, 0, h - 1) % 8)].data();
            blend(rows, lower ? rightKernel : leftKernel, down.data(), 2 * row);
            Linear16* to = out.row(2 * y + lower);
            for (int x = 0; x < w; ++x)
                for (const int right : {0, 1}) {
                    const float* p = down.data() + right * row + 4 * x;
                    const std::uint16_t a = rounded(p[3], linearOne);
                    to[2 * x + right] = {rounded(p[0], a), rounded(p[1], a), rounded(p[2], a), a};
                }
        }
    }
    return out;
}

} // namespace virga
