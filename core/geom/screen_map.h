#pragma once
// Points, matrices and the map from a source's pixels to the screen's. x to the right, y down, angles clockwise on
// screen; pixel (i, j) covers [i, i+1) x [j, j+1). Matrices are Imath's and act on row vectors: then(a, b) does a
// first, then b. Everything here is total: what cannot be mapped is an empty optional.
#include <Imath/ImathMatrix.h>
#include <Imath/ImathVec.h>
#include <array>
#include <optional>
#include <vector>

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
inline Point through(const Matrix& matrix, Point point) {
    Point to;
    matrix.multVecMatrix(point, to);
    return to;
}
Matrix translation(double x, double y);
Matrix scaling(double x, double y);
/// Clockwise on screen, in degrees.
Matrix rotation(double degrees);
/// The inverse, or nothing where the matrix is singular (a zoom of 0, say).
std::optional<Matrix> inverseOf(const Matrix& matrix);

/// A round lens over the screen. r is the distance from the centre, 1 at `radius`, which stays where it is. With
/// phi = |amount| * 80 degrees a bulge (amount > 0) shows at r what was at tan(phi r) / tan(phi), a pinch what was at
/// atan(r tan(phi)) / phi: the equidistant against the rectilinear projection (r = f theta, r = f tan theta), each the
/// other's inverse.
struct Lens {
    Point centre{0, 0};
    double radius = 1; // pixels
    double amount = 0; // -1 to 1
    bool operator==(const Lens&) const = default;
};

/// Where the point lies that the lens shows at `screen`; not a number where it shows nothing (90 degrees off its axis).
Point beneath(const Lens& lens, Point screen);

/// How a source's continuous pixel coordinates land on the screen: a projective matrix, and behind it any number of
/// lenses, each with a matrix after it. Value type; a screen point's source is found by the inverse.
class ScreenMap {
public:
    ScreenMap() = default;
    explicit ScreenMap(const Matrix& sourceToScreen) : m_matrix(sourceToScreen), m_inverse(inverseOf(sourceToScreen)) {}

    /// This map, and a lens or a matrix over it.
    ScreenMap seenThrough(const Lens& lens) const;
    ScreenMap movedBy(const Matrix& matrix) const;

    /// This map of a source that a matrix takes to its own.
    ScreenMap of(const Matrix& matrix) const;

    /// False where the picture is flattened to nothing; it then covers no pixel.
    bool isVisible() const;
    bool isAffine() const;
    bool hasLens() const { return !m_stages.empty(); }
    /// Not a number where the point is not on the screen: behind the eye, or outside a lens's field.
    Point toScreen(Point source) const;
    /// Not a number where nothing is seen: beyond a horizon, or outside a lens's field. REQUIRES: isVisible().
    Point toSource(Point screen) const;
    /// Without lenses. REQUIRES: !hasLens().
    const Matrix& matrix() const { return m_matrix; }
    /// REQUIRES: isVisible() && !hasLens().
    const Matrix& inverse() const { return *m_inverse; }
    /// What lies behind the first matrix, in its order: lenses, each with the matrix after it.
    struct LensStage {
        Lens lens;
        Matrix after;
    };
    std::vector<LensStage> lensStages() const;
    /// The first matrix: from the source to the first lens, or to the screen.
    const Matrix& firstMatrix() const { return m_matrix; }
    bool operator==(const ScreenMap& other) const { return m_matrix == other.m_matrix && m_stages == other.m_stages; }

private:
    struct Stage {
        Lens lens;
        Matrix after;
        std::optional<Matrix> inverse;
        bool operator==(const Stage& o) const { return lens == o.lens && after == o.after; }
    };
    Matrix m_matrix;
    std::optional<Matrix> m_inverse = Matrix();
    std::vector<Stage> m_stages;
};

/// Corners of [0, w] x [0, h], clockwise from the top left.
std::array<Point, 4> cornersOf(Size size);
/// Corners, edge middles and the centre: the nine points by which on-screen speed is measured.
std::array<Point, 9> probePointsOf(Size size);

} // namespace virga
