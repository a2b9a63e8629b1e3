// Bezier easing against published values.
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "tests/core/curve/bezier_easing_table.h"

namespace virga::easing_reference_test {
namespace {

double eased(std::string_view name, double x) {
    return evaluate(twoKeys(Space::Linear, 0, 0, 1, 1, *shapeNamed(name)), x);
}

// Source: W3C "CSS Easing Functions Level 1", section 2.2: the control points of the named functions.
TEST(EasingReference, NamedShapesHaveTheControlPointsOfCss) {
    EXPECT_EQ(*shapeNamed("ease"), (Shape{Interpolation::Eased, 0.25, 0.1, 0.25, 1}));
    EXPECT_EQ(*shapeNamed("ease-in"), (Shape{Interpolation::Eased, 0.42, 0, 1, 1}));
    EXPECT_EQ(*shapeNamed("ease-out"), (Shape{Interpolation::Eased, 0, 0, 0.58, 1}));
    EXPECT_EQ(*shapeNamed("ease-in-out"), (Shape{Interpolation::Eased, 0.42, 0, 0.58, 1}));
    EXPECT_FALSE(shapeNamed("wobble").has_value());
}

// Source: the npm package bezier-easing 2.1 (a reference implementation of CSS's cubic-bezier), values at 0.5.
TEST(EasingReference, ValuesAtHalfTime) {
    EXPECT_NEAR(eased("ease", 0.5), 0.802403, 5e-7);
    EXPECT_NEAR(eased("ease-in", 0.5), 0.315357, 5e-7);
    EXPECT_NEAR(eased("ease-out", 0.5), 0.684643, 5e-7);
    EXPECT_NEAR(eased("ease-in-out", 0.5), 0.5, 1e-9);
    EXPECT_NEAR(eased("linear", 0.5), 0.5, 1e-12);
}

// Source: the npm package bezier-easing 3.2.0, run once by tools/reference/bezier_easing.mjs. It interpolates in a
// table and takes a fixed number of Newton's steps, so it is itself off by up to 2e-5 where a curve is nearly upright.
TEST(EasingReference, AgreesWithTheNpmPackage) {
    for (const BezierEasingRow& row : bezierEasingTable) {
        const Curve ours = twoKeys(Space::Linear, 0, 0, 1, 1, row.shape);
        for (std::size_t i = 0; i < row.values.size(); ++i)
            EXPECT_NEAR(evaluate(ours, double(i + 1) / 20), row.values[i], 2e-5)
                << row.shape.x1 << ' ' << row.shape.y1 << ' ' << row.shape.x2 << ' ' << row.shape.y2;
    }
}

// By symmetry of the control points, ease-out is ease-in turned round.
TEST(EasingReference, EaseOutMirrorsEaseIn) {
    for (double x = 0; x <= 1; x += 0.05) EXPECT_NEAR(eased("ease-out", x), 1 - eased("ease-in", 1 - x), 1e-9);
}

TEST(EasingReference, DepartingEndsFastArrivingStartsFast) {
    for (const auto& named : namedShapes()) {
        const Curve c = twoKeys(Space::Linear, 0, 0, 1, 1, named.shape);
        if (named.name.starts_with("depart")) EXPECT_GT(speedBefore(c, 1), 1.9) << named.name;
        if (named.name.starts_with("arrive")) EXPECT_GT(speedAfter(c, 0), 1.9) << named.name;
        if (named.name == "arrive-over") EXPECT_GT(evaluate(c, 0.7), 1.0);
        if (named.name == "depart-back") EXPECT_LT(evaluate(c, 0.3), 0.0);
    }
    // The family grows from gentle to violent.
    const auto speed = [](const char* name) {
        return speedBefore(twoKeys(Space::Linear, 0, 0, 1, 1, *shapeNamed(name)), 1);
    };
    EXPECT_LT(speed("depart-gentle"), speed("depart"));
    EXPECT_LT(speed("depart"), speed("depart-hard"));
    EXPECT_LT(speed("depart-hard"), speed("depart-violent"));
}

} // namespace
} // namespace virga::easing_reference_test
