#include "core/effects/sharpen.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <vector>

#include "core/base/parallel.h"
#include "core/effects/gaussian.h"
#include "core/raster/four.h"
#include "core/raster/transfer.h"

namespace virga {
namespace {

// A curve by a table over a float's leading bits: 128 straight pieces an octave, from 2^-14 to 2^5; within 3e-6 of it.
class CurveTable {
public:
    template <typename F> explicit CurveTable(const F& curve) {
        for (std::uint32_t i = 0; i <= count; ++i) {
            const float x = std::bit_cast<float>((first + i) << shift);
            m_values[i] = float(curve(double(x)));
        }
        m_slope = m_values[0] / std::bit_cast<float>(first << shift);
    }
    float operator()(float x) const {
        if (!(x > std::bit_cast<float>(first << shift))) return std::max(x, 0.0f) * m_slope;
        const auto bits = std::bit_cast<std::uint32_t>(x);
        const std::uint32_t i = std::min((bits >> shift) - first, count - 1);
        const float from = std::bit_cast<float>((first + i) << shift),
                    to = std::bit_cast<float>((first + i + 1) << shift);
        return m_values[i] + (m_values[i + 1] - m_values[i]) * ((x - from) / (to - from));
    }

private:
    static constexpr int shift = 16; // seven bits of the fraction stay
    static constexpr std::uint32_t first = (127u - 14) << 7, count = 19 * 128;
    float m_values[count + 1] = {};
    float m_slope = 1;
};

const CurveTable& encoded() {
    static const CurveTable table(codeFromLinear);
    return table;
}
const CurveTable& decoded() {
    static const CurveTable table(linearFromCode);
    return table;
}

using Plane = Image<float>;

void blurPlane(const Plane& from, Plane& to, const std::vector<float>& weights) {
    const int reach = int(weights.size()) - 1, width = from.width(), height = from.height();
    Plane between(from.size());
    inParallel(std::size_t(height), [&](std::size_t y) { // along columns first: whole rows at a time
        float* out = between.row(int(y));
        for (int k = -reach; k <= reach; ++k) {
            const float* row = from.row(mirrored(int(y) + k, height));
            const float w = weights[std::size_t(std::abs(k))];
            for (int x = 0; x < width; ++x) out[x] += row[x] * w;
        }
    });
    inParallel(std::size_t(height), [&](std::size_t y) {
        const float* row = between.row(int(y));
        float* out = to.row(int(y));
        std::fill_n(out, width, 0.0f);
        for (int k = -reach; k <= reach; ++k) {
            const float w = weights[std::size_t(std::abs(k))];
            const int inner = std::min(reach, width);
            for (int x = 0; x < inner; ++x) out[x] += row[mirrored(x + k, width)] * w;
            for (int x = inner; x < width - inner; ++x) out[x] += row[x + k] * w;
            for (int x = std::max(inner, width - inner); x < width; ++x) out[x] += row[mirrored(x + k, width)] * w;
        }
    });
}

} // namespace

float beyondThreshold(float difference, float threshold) {
    const float size = std::abs(difference) - threshold;
    return size <= 0 ? 0 : std::copysign(size, difference);
}

void sharpen(Canvas& canvas, const Sharpen& sharpen) {
    const double sigma = std::max(0.3, sharpen.radius * canvas.frame().height);
    const int width = canvas.width();
    Plane luminance(canvas.size()), soft(canvas.size());
    const CurveTable &encode = encoded(), &decode = decoded();
    const auto brightness = [](const LinearF& p) { return 0.2126f * p.r + 0.7152f * p.g + 0.0722f * p.b; };
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        const LinearF* row = canvas.row(int(y));
        float* out = luminance.row(int(y));
        for (int x = 0; x < width; ++x) out[x] = encode(brightness(row[x]));
    });
    // The plain kernel: sharpening is done with a few pixels.
    std::vector<float> weights;
    double sum = 0;
    const int reach = std::max(1, int(std::ceil(3.5 * sigma)));
    for (int k = 0; k <= reach; ++k) {
        weights.push_back(float(std::exp(-k * k / (2 * sigma * sigma))));
        sum += (k ? 2 : 1) * weights.back();
    }
    for (float& w : weights) w = float(w / sum);
    blurPlane(luminance, soft, weights);
    const auto amount = float(sharpen.amount), threshold = float(sharpen.threshold);
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        LinearF* row = canvas.row(int(y));
        const float *sharp = luminance.row(int(y)), *blurred = soft.row(int(y));
        for (int x = 0; x < width; ++x) {
            const float now = sharp[x], wanted = now + amount * beyondThreshold(now - blurred[x], threshold);
            const float light = brightness(row[x]);
            if (light <= 1e-6f || wanted == now) continue;
            const float ratio = decode(std::max(0.0f, wanted)) / light, alpha = row[x].a;
            four::store(four::load(row[x]) * ratio, row[x]);
            row[x].a = alpha;
        }
    });
}

} // namespace virga
