#include "core/effects/glow.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/parallel.h"
#include "core/effects/gaussian.h"
#include "core/raster/four.h"

namespace virga {
namespace {

// Halving by the binomial 1 3 3 1 between samples, and doubling by its like, add a variance of 3/4 of a pixel of the
// finer level each (Burt, "Fast filter transforms for image processing", CGIP 16, 1981, for such pyramids).
constexpr double halving = 0.75;
constexpr double narrowest = 2.0; // standard deviations left to blur on a level: its grid is not seen then

// Variances that k halvings, or k doublings, add, in pixels of the finest level.
double addedBy(int k) {
    return halving * (std::pow(4.0, k) - 1) / 3;
}

Canvas halved(const Canvas& from) {
    const Size size{(from.width() + 1) / 2, (from.height() + 1) / 2};
    Canvas to(size, {});
    inParallel(std::size_t(size.height), [&](std::size_t y) {
        std::vector<LinearF> line(std::size_t(from.width()));
        const LinearF* rows[4];
        for (int k = 0; k < 4; ++k) rows[k] = from.row(mirrored(2 * int(y) - 1 + k, from.height()));
        for (int x = 0; x < from.width(); ++x)
            four::store((four::load(rows[0][x]) + four::load(rows[3][x])) * 0.125f +
                            (four::load(rows[1][x]) + four::load(rows[2][x])) * 0.375f,
                        line[std::size_t(x)]);
        LinearF* out = to.row(int(y));
        const auto at = [&](int x) { return four::load(line[std::size_t(mirrored(x, from.width()))]); };
        for (int x = 0; x < size.width; ++x)
            four::store((at(2 * x - 1) + at(2 * x + 2)) * 0.125f + (at(2 * x) + at(2 * x + 1)) * 0.375f, out[x]);
    });
    return to;
}

// Adds what lies on the next coarser level.
void addDoubled(const Canvas& from, Canvas& to) {
    inParallel(std::size_t(to.height()), [&](std::size_t y) {
        const int near = int(y) / 2, far = near + (y % 2 ? 1 : -1);
        const LinearF *a = from.row(near), *b = from.row(mirrored(far, from.height()));
        std::vector<LinearF> line(std::size_t(from.width()));
        for (int x = 0; x < from.width(); ++x)
            four::store(four::load(a[x]) * 0.75f + four::load(b[x]) * 0.25f, line[std::size_t(x)]);
        LinearF* out = to.row(int(y));
        for (int x = 0; x < to.width(); ++x) {
            const auto p = std::size_t(x / 2), q = std::size_t(mirrored(x / 2 + (x % 2 ? 1 : -1), from.width()));
            four::store(four::load(out[x]) + four::load(line[p]) * 0.75f + four::load(line[q]) * 0.25f, out[x]);
        }
    });
}

void addScaled(const Canvas& from, float weight, Canvas& to) {
    inParallel(std::size_t(to.height()), [&](std::size_t y) {
        const LinearF* a = from.row(int(y));
        LinearF* b = to.row(int(y));
        for (int x = 0; x < to.width(); ++x) four::store(four::load(b[x]) + four::load(a[x]) * weight, b[x]);
    });
}

} // namespace

float glowingShare(float brightest, float threshold, float knee) {
    if (brightest <= 1e-6f) return 0;
    const float x = std::clamp(brightest - threshold + knee, 0.0f, 2 * knee);
    const float soft = knee > 1e-6f ? x * x / (4 * knee) : 0;
    return std::max(soft, brightest - threshold) / brightest;
}

void glow(Canvas& canvas, const Glow& glow) {
    Canvas bright(canvas.size(), {});
    const auto threshold = float(glow.threshold), knee = float(glow.knee);
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        const LinearF* from = canvas.row(int(y));
        LinearF* to = bright.row(int(y));
        for (int x = 0; x < canvas.width(); ++x) {
            const float share =
                std::max(0.0f, glowingShare(std::max({from[x].r, from[x].g, from[x].b}), threshold, knee));
            to[x] = {from[x].r * share, from[x].g * share, from[x].b * share, 0};
        }
    });
    // Each octave is blurred from the one before, on the coarsest level that still holds it; variances add.
    const auto weight = float(glow.amount / glowOctaves);
    std::vector<Canvas> sums; // by level, what is to be doubled and added
    int level = 0;
    double variance = 0; // of what is in `bright`, in pixels of the canvas
    for (int octave = glowOctaves - 1; octave >= 0; --octave) {
        const double sigma = glow.radius * canvas.frame().height / double(1 << octave), wanted = sigma * sigma;
        const auto leftAt = [&](int k, double had) { return (wanted - addedBy(k) - had) / std::pow(4.0, k); };
        while (std::min(bright.width(), bright.height()) > 8 &&
               leftAt(level + 1, variance + halving * std::pow(4.0, level)) >= narrowest * narrowest) {
            bright = halved(bright);
            variance += halving * std::pow(4.0, level++);
        }
        const double left = std::sqrt(std::max(0.0, leftAt(level, variance)));
        gaussianBlur(bright, left, left);
        variance = wanted - addedBy(level);
        while (int(sums.size()) <= level) {
            Size size = canvas.size();
            for (std::size_t k = 0; k < sums.size(); ++k) size = {(size.width + 1) / 2, (size.height + 1) / 2};
            sums.emplace_back(size, Margin{});
        }
        addScaled(bright, weight, sums[std::size_t(level)]);
    }
    for (std::size_t k = sums.size(); k-- > 1;) addDoubled(sums[k], sums[k - 1]);
    addScaled(sums.front(), 1, canvas);
}

} // namespace virga
