#include "core/finish/glow.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/finish/gaussian.h"
#include "core/raster/four.h"

namespace virga {

float glowingShare(float brightest, float threshold, float knee) {
    if (brightest <= 1e-6f) return 0;
    const float x = std::clamp(brightest - threshold + knee, 0.0f, 2 * knee);
    const float soft = knee > 1e-6f ? x * x / (4 * knee) : 0;
    return std::max(soft, brightest - threshold) / brightest;
}

void glow(Canvas& canvas, const Glow& glow) {
    Canvas bright = emptyLike(canvas);
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
    // Each octave is blurred from the one before: variances add.
    const auto weight = float(glow.amount / glowOctaves);
    double before = 0;
    for (int octave = glowOctaves - 1; octave >= 0; --octave) {
        const double sigma = glow.radius * canvas.frame().height / double(1 << octave);
        const double more = std::sqrt(sigma * sigma - before * before);
        gaussianBlur(bright, more, more);
        before = sigma;
        inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
            const LinearF* from = bright.row(int(y));
            LinearF* to = canvas.row(int(y));
            for (int x = 0; x < canvas.width(); ++x)
                four::store(four::load(to[x]) + four::load(from[x]) * weight, to[x]);
        });
    }
}

} // namespace virga
