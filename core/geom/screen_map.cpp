#include "core/geom/screen_map.h"

#include <cmath>
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

bool ScreenMap::isAffine() const {
    return m_matrix[0][2] == 0 && m_matrix[1][2] == 0;
}

Point ScreenMap::toScreen(Point source) const {
    Point out;
    m_matrix.multVecMatrix(source, out);
    return out;
}

Point ScreenMap::toSource(Point screen) const {
    Point out;
    m_inverse->multVecMatrix(screen, out);
    return out;
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
