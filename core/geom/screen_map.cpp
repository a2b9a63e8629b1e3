#include "core/geom/screen_map.h"

#include <cmath>
#include <limits>
#include <numbers>

namespace virga {

Matrix translation(double x, double y) {
    return Matrix(1, 0, 0, 0, 1, 0, x, y, 1);
}
Matrix scaling(double x, double y) {
    return Matrix(x, 0, 0, 0, y, 0, 0, 0, 1);
}

Matrix rotation(double degrees) {
    // Quarter turns are exact, so that a picture at rest after them is copied and not resampled.
    const double quarters = degrees / 90;
    double c = std::cos(degrees * std::numbers::pi / 180), s = std::sin(degrees * std::numbers::pi / 180);
    if (quarters == std::floor(quarters) && std::abs(quarters) < 1e9) {
        const int q = int(((long long)quarters % 4 + 4) % 4);
        c = q == 0 ? 1 : q == 2 ? -1 : 0;
        s = q == 1 ? 1 : q == 3 ? -1 : 0;
    }
    return Matrix(c, s, 0, -s, c, 0, 0, 0, 1);
}

std::optional<Matrix> inverseOf(const Matrix& matrix) {
    const double det = matrix.determinant();
    if (!std::isfinite(det) || std::abs(det) < 1e-12) return std::nullopt;
    return matrix.gjInverse();
}

namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

// A point by a projective matrix; nothing where it lies behind the eye.
Point projected(const Matrix& m, Point p) {
    const double w = p.x * m[0][2] + p.y * m[1][2] + m[2][2];
    if (!(w > 0)) return {nan, nan};
    return {(p.x * m[0][0] + p.y * m[1][0] + m[2][0]) / w, (p.x * m[0][1] + p.y * m[1][1] + m[2][1]) / w};
}

} // namespace

Point beneath(const Lens& lens, Point screen) {
    constexpr double mostAngle = 80 * std::numbers::pi / 180;
    const double phi = std::abs(lens.amount) * mostAngle;
    const Point off = screen - lens.centre;
    const double r = off.length() / lens.radius;
    if (phi < 1e-9 || r < 1e-12) return screen; // no lens, or its very centre
    if (lens.amount < 0) return lens.centre + off * (std::atan(r * std::tan(phi)) / (phi * r));
    if (phi * r >= std::numbers::pi / 2 - 1e-6) return {nan, nan};
    return lens.centre + off * (std::tan(phi * r) / (std::tan(phi) * r));
}

ScreenMap ScreenMap::seenThrough(const Lens& lens) const {
    ScreenMap map = *this;
    if (lens.amount != 0) map.m_stages.push_back({lens, Matrix(), Matrix()});
    return map;
}

std::vector<ScreenMap::LensStage> ScreenMap::lensStages() const {
    std::vector<LensStage> stages;
    for (const Stage& s : m_stages) stages.push_back({s.lens, s.after});
    return stages;
}

ScreenMap ScreenMap::movedBy(const Matrix& matrix) const {
    ScreenMap map = *this;
    if (m_stages.empty()) {
        map.m_matrix = then(m_matrix, matrix);
        map.m_inverse = inverseOf(map.m_matrix);
        return map;
    }
    Stage& last = map.m_stages.back();
    last.after = then(last.after, matrix);
    last.inverse = inverseOf(last.after);
    return map;
}

ScreenMap ScreenMap::of(const Matrix& matrix) const {
    ScreenMap map = *this;
    map.m_matrix = then(matrix, m_matrix);
    map.m_inverse = inverseOf(map.m_matrix);
    return map;
}

bool ScreenMap::isVisible() const {
    for (const Stage& stage : m_stages)
        if (!stage.inverse) return false;
    return m_inverse.has_value();
}

bool ScreenMap::isAffine() const {
    return m_stages.empty() && m_matrix[0][2] == 0 && m_matrix[1][2] == 0;
}

Point ScreenMap::toScreen(Point source) const {
    Point p = projected(m_matrix, source);
    for (const Stage& stage : m_stages) {
        Lens back = stage.lens; // a pinch undoes a bulge
        back.amount = -back.amount;
        p = projected(stage.after, beneath(back, p));
    }
    return p;
}

Point ScreenMap::toSource(Point screen) const {
    for (auto stage = m_stages.rbegin(); stage != m_stages.rend(); ++stage)
        screen = beneath(stage->lens, projected(*stage->inverse, screen));
    return projected(*m_inverse, screen);
}

std::array<Point, 4> cornersOf(Size size) {
    const double w = size.width, h = size.height;
    return {Point(0, 0), Point(w, 0), Point(w, h), Point(0, h)};
}

std::array<Point, 9> probePointsOf(Size size) {
    const double w = size.width, h = size.height;
    return {Point(0, 0),     Point(w, 0),     Point(w, h),     Point(0, h),        Point(w / 2, 0),
            Point(w, h / 2), Point(w / 2, h), Point(0, h / 2), Point(w / 2, h / 2)};
}

} // namespace virga
