#include "core/plan/shot_movement.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

namespace virga {
namespace {

using Complex = std::complex<double>;

bool isSimilarity(const Matrix& m) {
    const double size = std::abs(m[0][0]) + std::abs(m[0][1]);
    return m[0][2] == 0 && m[1][2] == 0 && std::abs(m[0][0] - m[1][1]) + std::abs(m[0][1] + m[1][0]) < 1e-12 * size;
}

} // namespace

TurnZoomSlide partsOf(const Matrix& map) {
    // The middle of what the derivative at the centre does.
    constexpr double h = 1e-4;
    const Point o = through(map, {0, 0}), x = (through(map, {h, 0}) - through(map, {-h, 0})) / (2 * h),
                y = (through(map, {0, h}) - through(map, {0, -h})) / (2 * h);
    const Complex turn((x.x + y.y) / 2, (x.y - y.x) / 2);
    return {std::abs(turn), std::arg(turn) * 180 / std::numbers::pi, o};
}

Matrix matrixOf(const TurnZoomSlide& p) {
    return then(then(scaling(p.zoom, p.zoom), rotation(p.degrees)), translation(p.slide.x, p.slide.y));
}

Matrix partOf(const Matrix& step, double part) {
    if (part == 1) return step;
    if (!isSimilarity(step)) {
        Matrix m;
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j) m[i][j] += (step[i][j] / step[2][2] - m[i][j]) * part;
        return m;
    }
    // z' = w z + t is one of the movements z' = w^s z + t (w^s - 1) / (w - 1).
    const Complex w(step[0][0], step[0][1]), t(step[2][0], step[2][1]);
    const Complex power = std::exp(std::log(w) * part);
    const Complex slide = std::abs(w - 1.0) < 1e-9 ? t * part : t * (power - 1.0) / (w - 1.0);
    Matrix m;
    m[0][0] = m[1][1] = power.real();
    m[0][1] = power.imag();
    m[1][0] = -power.imag();
    m[2][0] = slide.real();
    m[2][1] = slide.imag();
    return m;
}

double travelOf(const Matrix& map, double aspect) {
    double most = 0;
    for (const double x : {-0.5, 0.0, 0.5})
        for (const double y : {-0.5, 0.0, 0.5}) {
            const Point from(x, y / aspect);
            const double way = (through(map, from) - from).length();
            if (std::isfinite(way)) most = std::max(most, way);
        }
    return most;
}

double ShotMovement::indexAt(double seconds) const {
    if (times.size() < 2 || seconds <= times.front().toDouble()) return 0;
    if (seconds >= times.back().toDouble()) return double(times.size() - 1);
    const auto after =
        std::upper_bound(times.begin(), times.end(), seconds, [](double s, Rational t) { return s < t.toDouble(); });
    const auto i = std::size_t(after - times.begin()) - 1;
    const double from = times[i].toDouble(), to = times[i + 1].toDouble();
    return double(i) + (to > from ? (seconds - from) / (to - from) : 0);
}

Matrix ShotMovement::between(double from, double to) const {
    if (steps.empty()) return {};
    if (to < from) return inverseOf(between(to, from)).value_or(Matrix());
    const double a = indexAt(from), b = indexAt(to);
    Matrix all;
    for (auto i = std::size_t(a); i < steps.size() && double(i) < b; ++i) {
        const double begin = std::max(a, double(i)) - double(i), end = std::min(b, double(i) + 1) - double(i);
        if (end <= begin) continue;
        const Matrix& step = steps[i].map;
        if (begin == 0)
            all = then(all, partOf(step, end));
        else
            all = then(then(all, inverseOf(partOf(step, begin)).value_or(Matrix())), partOf(step, end));
    }
    return all;
}

double ShotMovement::knownShare(double from, double to) const {
    return shareOf(from, to, [](const PictureStep& s) { return s.isKnown(); });
}

double ShotMovement::subjectShare(double from, double to) const {
    return shareOf(from, to, [](const PictureStep& s) { return s.ofSubject; });
}

double ShotMovement::shareOf(double from, double to, bool (*counts)(const PictureStep&)) const {
    const auto a = std::size_t(indexAt(std::min(from, to))), b = std::size_t(std::ceil(indexAt(std::max(from, to))));
    std::size_t some = 0, all = 0;
    for (std::size_t i = a; i < std::min(std::max(b, a + 1), steps.size()); ++i, ++all) some += counts(steps[i]);
    return all ? double(some) / double(all) : 0;
}

void bridge(std::vector<PictureStep>& steps, int most) {
    for (std::size_t i = 0; i < steps.size();) {
        if (steps[i].isKnown()) {
            ++i;
            continue;
        }
        std::size_t end = i;
        while (end < steps.size() && !steps[end].isKnown()) ++end;
        const bool before = i > 0, after = end < steps.size();
        for (std::size_t k = i; k < end; ++k) {
            steps[k].map = Matrix();
            if (int(end - i) > most || (!before && !after)) continue;
            const TurnZoomSlide a = partsOf(steps[before ? i - 1 : end].map),
                                b = partsOf(steps[after ? end : i - 1].map);
            const double s = double(k - i + 1) / double(end - i + 1);
            steps[k].map = matrixOf({a.zoom * std::pow(b.zoom / a.zoom, s), a.degrees + (b.degrees - a.degrees) * s,
                                     a.slide + (b.slide - a.slide) * s});
        }
        i = end;
    }
}

} // namespace virga
