#include "core/effects/line_blur.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/base/parallel.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;

// Catmull and Rom's weights for the four samples around a place, f past the second.
std::array<float, 4> cubic(double f) {
    const double f2 = f * f, f3 = f2 * f;
    return {float(-0.5 * f3 + f2 - 0.5 * f), float(1.5 * f3 - 2.5 * f2 + 1), float(-1.5 * f3 + 2 * f2 + 0.5 * f),
            float(0.5 * f3 - 0.5 * f2)};
}

// Lines go along x and fall by `slope` a pixel, at most 1 either way; columns are worked on in blocks.
class ShearedBlur {
public:
    ShearedBlur(const Canvas& from, Canvas& to, double slope, double length)
        : m_from(from), m_to(to), m_slope(slope), m_half(length / 2), m_reach(int(std::ceil(length / 2)) + 2) {}

    int blockWidth() const { return std::min(m_from.width(), std::max(256, m_reach)); }

    void block(int x0) const {
        const int width = std::min(blockWidth(), m_from.width() - x0), height = m_from.height();
        // Line c goes through (x0, c).
        const double fall = m_slope * width;
        const int first = int(std::floor(std::min(0.0, -fall))) - 2,
                  last = height + int(std::ceil(std::max(0.0, -fall))) + 2;
        std::vector<Floats> lines(std::size_t(last - first + 1) * std::size_t(width));
        std::vector<Floats> sums(std::size_t(width + 2 * m_reach) + 1);
        for (int c = first; c <= last; ++c)
            along(c, x0, width, sums, lines.data() + std::size_t(c - first) * std::size_t(width));
        // At (x0 + x, y) the line is y - slope x.
        struct Place {
            std::size_t at;
            std::array<float, 4> weights;
        };
        std::vector<Place> places;
        for (int x = 0; x < width; ++x) {
            const double c = -m_slope * x, floor = std::floor(c);
            places.push_back(
                {std::size_t(int(floor) - 1 - first) * std::size_t(width) + std::size_t(x), cubic(c - floor)});
        }
        const Floats* from = lines.data();
        const auto step = std::size_t(width);
        for (int y = 0; y < height; ++y, from += step) {
            LinearF* out = m_to.row(y) + x0;
            for (std::size_t x = 0; x < step; ++x) {
                const Floats* line = from + places[x].at;
                const auto& w = places[x].weights;
                four::store(line[0] * w[0] + line[step] * w[1] + line[2 * step] * w[2] + line[3 * step] * w[3], out[x]);
            }
        }
    }

private:
    // The mean over the line's length at each of its places.
    void along(int c, int x0, int width, std::vector<Floats>& sums, Floats* out) const {
        const int w = m_from.width(), h = m_from.height(), count = width + 2 * m_reach;
        Floats sum = {};
        sums[0] = sum;
        for (int i = 0; i < count; ++i) {
            const int x = i - m_reach;
            const double y = c + m_slope * x, floor = std::floor(y);
            const int row = int(floor), column = mirrored(x0 + x, w);
            const auto at = [&](int j) { return four::load(m_from.row(mirrored(j, h))[column]); };
            if (y == floor) {
                sum += at(row);
            } else {
                const auto k = cubic(y - floor);
                if (row >= 1 && row + 2 < h) {
                    const LinearF* p = m_from.row(row - 1) + column;
                    sum += four::load(p[0]) * k[0] + four::load(p[w]) * k[1] + four::load(p[2 * w]) * k[2] +
                           four::load(p[3 * w]) * k[3];
                } else {
                    sum += at(row - 1) * k[0] + at(row) * k[1] + at(row + 1) * k[2] + at(row + 2) * k[3];
                }
            }
            sums[std::size_t(i) + 1] = sum;
        }
        // Pixels are flat, so that the sum between two places is straight.
        const double from = m_reach + 0.5 - m_half, to = m_reach + 0.5 + m_half;
        const int a = int(from), b = int(to);
        const auto fa = float(from - a), fb = float(to - b), each = float(1 / (2 * m_half));
        for (int x = 0; x < width; ++x) {
            const Floats* s = sums.data() + x;
            const Floats upper = s[b] + (s[b + 1] - s[b]) * fb, lower = s[a] + (s[a + 1] - s[a]) * fa;
            out[x] = (upper - lower) * each;
        }
    }

    const Canvas& m_from;
    Canvas& m_to;
    double m_slope, m_half;
    int m_reach;
};

Canvas transposed(const Canvas& canvas) {
    Canvas out({canvas.frame().height, canvas.frame().width}, {canvas.margin().down, canvas.margin().across});
    constexpr int side = 32;
    const int across = (canvas.width() + side - 1) / side, down = (canvas.height() + side - 1) / side;
    inParallel(std::size_t(down), [&](std::size_t j) {
        for (int i = 0; i < across; ++i)
            for (int x = i * side; x < std::min(canvas.width(), (i + 1) * side); ++x)
                for (int y = int(j) * side; y < std::min(canvas.height(), int(j + 1) * side); ++y)
                    out.row(x)[y] = canvas.row(y)[x];
    });
    return out;
}

} // namespace

void lineBlur(Canvas& canvas, double length, double angle) {
    if (!(length >= 0.25)) return;
    const double radians = angle * std::numbers::pi / 180;
    double c = std::cos(radians), s = std::sin(radians);
    if (std::abs(c) < 1e-12) c = 0;
    if (std::abs(s) < 1e-12) s = 0;
    if (std::abs(s) > std::abs(c)) { // steep: along y
        Canvas turned = transposed(canvas);
        lineBlur(turned, length, std::atan2(c, s) * 180 / std::numbers::pi);
        canvas = transposed(turned);
        return;
    }
    Canvas out = emptyLike(canvas);
    const ShearedBlur blur(canvas, out, s / c, std::max(0.25, length * std::abs(c)));
    const int width = blur.blockWidth();
    inParallel(std::size_t((canvas.width() + width - 1) / width), [&](std::size_t i) { blur.block(int(i) * width); });
    canvas = std::move(out);
}

} // namespace virga
