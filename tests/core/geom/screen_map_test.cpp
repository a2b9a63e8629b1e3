#include "core/geom/screen_map.h"

#include <gtest/gtest.h>
#include <random>

namespace virga::screen_map_test {
namespace {

void expectAt(const Matrix& m, Point from, Point to) {
    const Point p = ScreenMap(m).toScreen(from);
    EXPECT_NEAR(p.x, to.x, 1e-9);
    EXPECT_NEAR(p.y, to.y, 1e-9);
}

TEST(ScreenMap, TurnsClockwiseOnScreen) {
    expectAt(rotation(90), {1, 0}, {0, 1}); // right goes down
    expectAt(rotation(180), {1, 2}, {-1, -2});
    expectAt(rotation(-90), {1, 0}, {0, -1});
    EXPECT_EQ(rotation(360), Matrix()) << "a whole turn is exact";
    EXPECT_EQ(rotation(720 + 90), rotation(90));
}

TEST(ScreenMap, DoesTheFirstMatrixFirst) {
    expectAt(then(scaling(2, 2), translation(10, 0)), {1, 1}, {12, 2});
    expectAt(then(translation(10, 0), scaling(2, 2)), {1, 1}, {22, 2});
}

TEST(ScreenMap, GoesThereAndBack) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> d(-3, 3);
    for (int i = 0; i < 200; ++i) {
        const Matrix m =
            then(then(scaling(0.2 + std::abs(d(random)), 0.2 + std::abs(d(random))), rotation(60 * d(random))),
                 translation(500 * d(random), 500 * d(random)));
        const ScreenMap map(m);
        const Point p(100 * d(random), 100 * d(random)), q = map.toSource(map.toScreen(p));
        EXPECT_NEAR(p.x, q.x, 1e-7);
        EXPECT_NEAR(p.y, q.y, 1e-7);
        EXPECT_TRUE(map.isAffine());
    }
}

TEST(ScreenMap, IsInvisibleWhereThePictureIsFlattened) {
    EXPECT_FALSE(ScreenMap(scaling(0, 0)).isVisible());
    EXPECT_FALSE(inverseOf(scaling(1, 0)).has_value());
    EXPECT_TRUE(ScreenMap(scaling(0.001, 0.001)).isVisible());
    EXPECT_FALSE(ScreenMap(Matrix(1, 0, 0.001, 0, 1, 0, 0, 0, 1)).isAffine());
}

} // namespace
} // namespace virga::screen_map_test
