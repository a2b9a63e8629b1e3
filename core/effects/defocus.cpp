#include "core/effects/defocus.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/parallel.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;

// Where a line at height y crosses the shape: half widths to both sides; empty where it does not.
bool crossing(double y, double radius, int blades, double& from, double& to) {
    if (blades < 3) {
        if (std::abs(y) >= radius) return false;
        to = std::sqrt(radius * radius - y * y);
        from = -to;
        return true;
    }
    from = 1e300, to = -1e300;
    const auto corner = [&](int k) {
        const double a = 2 * std::numbers::pi * k / blades - std::numbers::pi / 2;
        return Point(radius * std::cos(a), radius * std::sin(a));
    };
    for (int k = 0; k < blades; ++k) {
        const Point a = corner(k), b = corner(k + 1);
        if ((a.y > y) == (b.y > y)) continue;
        const double x = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y);
        from = std::min(from, x), to = std::max(to, x);
    }
    return to > from;
}

// Running sums of each row, with room for the aperture on both sides.
class RowSums {
public:
    RowSums(const Canvas& canvas, int reach)
        : m_reach(reach), m_width(canvas.width() + 2 * reach + 1), m_height(canvas.height()) {
        m_sums.resize(std::size_t(m_width) * std::size_t(m_height));
        inParallel(std::size_t(m_height), [&](std::size_t y) {
            Floats* row = m_sums.data() + y * std::size_t(m_width);
            const LinearF* from = canvas.row(int(y));
            Floats sum = {};
            row[0] = sum;
            for (int i = 0; i + 1 < m_width; ++i) {
                sum += four::load(from[mirrored(i - reach, canvas.width())]);
                row[i + 1] = sum;
            }
        });
    }
    /// The sums of the row at y, mirrored, where [0] is left of the canvas's first pixel.
    const Floats* row(int y) const {
        return m_sums.data() + std::size_t(mirrored(y, m_height)) * std::size_t(m_width) + m_reach;
    }

private:
    int m_reach, m_width, m_height;
    std::vector<Floats> m_sums;
};

void meanUnder(Canvas& canvas, const std::vector<ApertureRow>& rows, int reach) {
    double area = 0;
    for (const ApertureRow& r : rows) area += (r.to - r.from) * r.height;
    if (area <= 0) return;
    const RowSums sums(canvas, reach);
    const int width = canvas.width();
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        std::vector<Floats> total(std::size_t(width), Floats{});
        for (const ApertureRow& r : rows) {
            const Floats* s = sums.row(int(y) + r.y);
            const double from = 0.5 + r.from, to = 0.5 + r.to;
            const int a = int(std::floor(from)), b = int(std::floor(to));
            const auto weight = float(r.height / area), fa = float(from - a) * weight, fb = float(to - b) * weight;
            const float ga = weight - fa, gb = weight - fb;
            for (int x = 0; x < width; ++x)
                total[std::size_t(x)] += s[x + b] * gb + s[x + b + 1] * fb - s[x + a] * ga - s[x + a + 1] * fa;
        }
        LinearF* out = canvas.row(int(y));
        for (int x = 0; x < width; ++x) four::store(total[std::size_t(x)], out[x]);
    });
}

// Two pixels to one, and back between their middles.
Canvas halved(const Canvas& canvas) {
    const auto half = [](int n) { return (n + 1) / 2; };
    Canvas out({half(canvas.width()), half(canvas.height())}, {});
    inParallel(std::size_t(out.height()), [&](std::size_t y) {
        const LinearF* a = canvas.row(std::min(2 * int(y), canvas.height() - 1));
        const LinearF* b = canvas.row(std::min(2 * int(y) + 1, canvas.height() - 1));
        for (int x = 0; x < out.width(); ++x) {
            const int i = 2 * x, j = std::min(2 * x + 1, canvas.width() - 1);
            four::store((four::load(a[i]) + four::load(a[j]) + four::load(b[i]) + four::load(b[j])) * 0.25f,
                        out.row(int(y))[x]);
        }
    });
    return out;
}

void enlarge(const Canvas& from, Canvas& to) {
    inParallel(std::size_t(to.height()), [&](std::size_t y) {
        const int j = (int(y) - 1) >> 1;
        const float g = y % 2 ? 0.25f : 0.75f;
        const LinearF* a = from.row(std::clamp(j, 0, from.height() - 1));
        const LinearF* b = from.row(std::clamp(j + 1, 0, from.height() - 1));
        for (int x = 0; x < to.width(); ++x) {
            const int i = std::clamp((x - 1) >> 1, 0, from.width() - 1),
                      k = std::clamp(((x - 1) >> 1) + 1, 0, from.width() - 1);
            const float f = x % 2 ? 0.25f : 0.75f;
            const Floats top = four::load(a[i]) * (1 - f) + four::load(a[k]) * f,
                         bottom = four::load(b[i]) * (1 - f) + four::load(b[k]) * f;
            four::store(top * (1 - g) + bottom * g, to.row(int(y))[x]);
        }
    });
}

void shapedMean(Canvas& canvas, double radius, int blades) {
    constexpr double most = 28; // pixels: from there on half the pixels show the shape well enough
    if (radius > most) {
        Canvas small = halved(canvas);
        shapedMean(small, radius / 2, blades);
        enlarge(small, canvas);
        return;
    }
    meanUnder(canvas, apertureRows(radius, blades), int(std::ceil(radius)) + 2);
}

float luminance(const LinearF& p) {
    return 0.2126f * p.r + 0.7152f * p.g + 0.0722f * p.b;
}

} // namespace

std::vector<ApertureRow> apertureRows(double radius, int blades) {
    std::vector<ApertureRow> rows;
    constexpr int parts = 16;
    const int reach = int(std::ceil(radius + 0.5));
    for (int y = -reach; y <= reach; ++y) {
        ApertureRow row{y, 0, 0, 0};
        int inside = 0;
        for (int i = 0; i < parts; ++i) {
            double from = 0, to = 0;
            if (!crossing(y + (i + 0.5) / parts - 0.5, radius, blades, from, to)) continue;
            row.from += from, row.to += to;
            ++inside;
        }
        if (inside == 0) continue;
        row.from /= inside, row.to /= inside;
        row.height = double(inside) / parts;
        rows.push_back(row);
    }
    return rows;
}

void defocus(Canvas& canvas, double radius, int blades, double highlights) {
    if (!(radius >= 0.5)) return;
    if (highlights <= 0) return shapedMean(canvas, radius, blades);
    // The weighted mean needs the weight as a fifth channel: one canvas has the colours times the weight, one alpha
    // times the weight and the weight itself.
    Canvas weights = emptyLike(canvas);
    const auto power = float(3 * highlights);
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        LinearF *colours = canvas.row(int(y)), *others = weights.row(int(y));
        for (int x = 0; x < canvas.width(); ++x) {
            const float w = std::pow(std::max(luminance(colours[x]), 1e-3f), power);
            others[x] = {colours[x].a * w, w, 0, 0};
            four::store(four::load(colours[x]) * w, colours[x]);
        }
    });
    shapedMean(canvas, radius, blades);
    shapedMean(weights, radius, blades);
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        LinearF *colours = canvas.row(int(y)), *others = weights.row(int(y));
        for (int x = 0; x < canvas.width(); ++x) {
            const float each = 1 / std::max(others[x].g, 1e-30f);
            colours[x] = {colours[x].r * each, colours[x].g * each, colours[x].b * each, others[x].r * each};
        }
    });
}

} // namespace virga
