#pragma once
// Points, matrices and the map from a source's pixels to the screen's. x to the right, y down, angles clockwise on
// screen; pixel (i, j) covers [i, i+1) x [j, j+1). Matrices are Imath's and act on row vectors: then(a, b) does a
// first, then b. Everything here is total: what cannot be mapped is an empty optional.
#include <Imath/ImathMatrix.h>
#include <Imath/ImathVec.h>
#include <array>
#include <optional>

namespace virga {

using Point = Imath::V2d;
using Matrix = Imath::M33d;

struct Size {
    int width = 0;
    int height = 0;
    bool operator==(const Size&) const = default;
    bool isEmpty() const { return width <= 0 || height <= 0; }
    double aspect() const { return height > 0 ? double(width) / height : 1; }
};

inline Matrix then(const Matrix& first, const Matrix& second) {
    return first * second;
}
Matrix translation(double x, double y);
Matrix scaling(double x, double y);
/// Clockwise on screen, in degrees.
Matrix rotation(double degrees);
/// The inverse, or nothing where the matrix is singular (a zoom of 0, say).
std::optional<Matrix> inverseOf(const Matrix& matrix);

/// How a source's continuous pixel coordinates land on the screen: a projective matrix now, with room for a lens behind
/// it. Value type; a screen point's source is found by the inverse.
class ScreenMap {
public:
    ScreenMap() = default;
    explicit ScreenMap(const Matrix& sourceToScreen) : m_matrix(sourceToScreen), m_inverse(inverseOf(sourceToScreen)) {}

    /// False where the picture is flattened to nothing; it then covers no pixel.
    bool isVisible() const { return m_inverse.has_value(); }
    bool isAffine() const;
    Point toScreen(Point source) const;
    /// REQUIRES: isVisible().
    Point toSource(Point screen) const;
    const Matrix& matrix() const { return m_matrix; }
    /// REQUIRES: isVisible().
    const Matrix& inverse() const { return *m_inverse; }
    bool operator==(const ScreenMap& other) const { return m_matrix == other.m_matrix; }

private:
    Matrix m_matrix;
    std::optional<Matrix> m_inverse = Matrix();
};

/// Corners of [0, w] x [0, h], clockwise from the top left.
std::array<Point, 4> cornersOf(Size size);
/// Corners, edge middles and the centre: the nine points by which on-screen speed is measured.
std::array<Point, 9> probePointsOf(Size size);

} // namespace virga
