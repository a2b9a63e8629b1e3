#include "core/effects/finish.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/parallel.h"
#include "core/effects/colour_split.h"
#include "core/effects/defocus.h"
#include "core/effects/gaussian.h"
#include "core/effects/glow.h"
#include "core/effects/line_blur.h"
#include "core/effects/pointwise.h"
#include "core/effects/sharpen.h"

namespace virga {
namespace {

Margin all(double pixels) {
    const int whole = int(std::ceil(std::min(pixels, 1e6)));
    return {whole, whole};
}

struct Needs {
    Size frame;
    FilterNeeds operator()(const GaussianBlur& t) const {
        return {{gaussianReach(t.across * frame.height), gaussianReach(t.down * frame.height)}, 0};
    }
    FilterNeeds operator()(const LineBlur& t) const {
        const double angle = t.angle * std::numbers::pi / 180, half = t.length * frame.width / 2;
        return {{all(std::abs(half * std::cos(angle)) + 2).across, all(std::abs(half * std::sin(angle)) + 2).down}, 3};
    }
    FilterNeeds operator()(const ZoomBlur& t) const {
        // What lies outside comes in where the picture is made smaller.
        const double most = std::max(std::sqrt(std::max(t.factor, 1e-6)), 1 / std::sqrt(std::max(t.factor, 1e-6)));
        return {{all((most - 1) * frame.width).across, all((most - 1) * frame.height).down}, 2};
    }
    FilterNeeds operator()(const SpinBlur& t) const {
        const double half = std::min(std::abs(t.angle) / 2, 90.0) * std::numbers::pi / 180;
        return {all(std::sin(half) * std::hypot(frame.width, frame.height) / 2), 2};
    }
    FilterNeeds operator()(const Defocus& t) const {
        return {all(t.radius * frame.height + 1), std::size_t(t.highlights > 0 ? 2 : 1)};
    }
    FilterNeeds operator()(const ColourSplit& t) const { return {all(std::abs(t.amount) * frame.width + 1), 1}; }
    FilterNeeds operator()(const Glow& t) const { return {all(gaussianReach(t.radius * frame.height)), 1}; }
    FilterNeeds operator()(const Sharpen& t) const {
        return {all(std::ceil(3.5 * std::max(0.3, t.radius * frame.height))), 1};
    }
    FilterNeeds operator()(const Vignette&) const { return {}; }
    FilterNeeds operator()(const Light&) const { return {}; }
    FilterNeeds operator()(const Bars&) const { return {}; }
};

struct Doer {
    Canvas& canvas;
    void operator()(const GaussianBlur& t) const {
        gaussianBlur(canvas, t.across * canvas.frame().height, t.down * canvas.frame().height);
    }
    void operator()(const LineBlur& t) const { lineBlur(canvas, t.length * canvas.frame().width, t.angle); }
    void operator()(const Defocus& t) const {
        defocus(canvas, t.radius * canvas.frame().height, t.blades, t.highlights);
    }
    void operator()(const ColourSplit& t) const { colourSplit(canvas, t); }
    void operator()(const Glow& t) const { glow(canvas, t); }
    void operator()(const Sharpen& t) const { sharpen(canvas, t); }
    void operator()(const ZoomBlur&) const {}
    void operator()(const SpinBlur&) const {}
    template <typename T> void operator()(const T& t) const { // pointwise
        const Pointwise pointwise(t, canvas.frame());
        const Margin margin = canvas.margin();
        inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
            pointwise.treat(canvas.row(int(y)), canvas.width(), -margin.across, int(y) - margin.down);
        });
    }
};

} // namespace

FilterNeeds needsOf(const Treatment& treatment, Size frame) {
    return std::visit(Needs{frame}, treatment);
}

bool finish(const Treatment& treatment, Canvas& canvas) {
    if (std::holds_alternative<ZoomBlur>(treatment) || std::holds_alternative<SpinBlur>(treatment)) return false;
    std::visit(Doer{canvas}, treatment);
    return true;
}

} // namespace virga
