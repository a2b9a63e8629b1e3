// CSS text in and out, by W3C "CSS Easing Functions Level 2", section 2.2 (linear()) and 2.3 (cubic-bezier()).
#include "core/curve/css_easing.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

std::vector<EasingPoint> pointsOf(const char* text) {
    const auto easing = easingFromCss(text);
    EXPECT_TRUE(easing) << (easing ? "" : describe(easing.error()));
    return easing ? easing->points : std::vector<EasingPoint>();
}

TEST(CssEasing, NamedFunctionsAreTheirBeziers) {
    EXPECT_EQ(easingFromCss("ease")->shape, (Shape{Interpolation::Eased, 0.25, 0.1, 0.25, 1}));
    EXPECT_EQ(easingFromCss(" ease-in-out; ")->shape, easingFromCss("cubic-bezier(0.42, 0, 0.58, 1)")->shape);
    EXPECT_EQ(easingFromCss("linear")->shape.kind, Interpolation::Linear);
    EXPECT_EQ(easingFromCss("step-end")->shape.kind, Interpolation::Hold);
    EXPECT_EQ(easingFromCss("cubic-bezier(.5,-0.6, .9,+1.5)")->shape,
              (Shape{Interpolation::Eased, 0.5, -0.6, 0.9, 1.5}));
    for (const NamedShape& named : namedShapes())
        EXPECT_EQ(easingFromCss(cssOf(named.shape))->shape, named.shape) << named.name;
}

// The specification's own examples of linear().
TEST(CssEasing, StopsWithoutATimeAreSpread) {
    EXPECT_EQ(pointsOf("linear(0, 0.25, 1)"), (std::vector<EasingPoint>{{0, 0}, {0.5, 0.25}, {1, 1}}));
    EXPECT_EQ(pointsOf("linear(0, 0.25 75%, 1)"), (std::vector<EasingPoint>{{0, 0}, {0.75, 0.25}, {1, 1}}));
    EXPECT_EQ(pointsOf("linear(0, 0.25 25% 75%, 1)"),
              (std::vector<EasingPoint>{{0, 0}, {0.25, 0.25}, {0.75, 0.25}, {1, 1}}));
    const auto spread = pointsOf("linear(0, 0.1, 0.2, 0.9 80%, 1)");
    ASSERT_EQ(spread.size(), 5u);
    EXPECT_NEAR(spread[1].time, 0.8 / 3, 1e-12);
    EXPECT_NEAR(spread[2].time, 1.6 / 3, 1e-12);
    EXPECT_EQ(pointsOf("linear(0, 0.6 50%, 0.7 20%, 1)")[2].time, 0.5) << "times never fall";
}

TEST(CssEasing, SaysWhatIsWrong) {
    for (const auto& [text, word] :
         {std::pair("", "known"), std::pair("bounce", "known"), std::pair("cubic-bezier(0, 0, 1)", "four"),
          std::pair("cubic-bezier(-0.1, 0, 1, 1)", "between 0 and 1"), std::pair("cubic-bezier(0, x, 1, 1)", "\"x\""),
          std::pair("linear()", "stop"), std::pair("linear(1)", "two stops"), std::pair("linear(0, 1 2 3)", "stop"),
          std::pair("linear(0, 5% 6% 7% 1)", "stop"), std::pair("steps(4)", "steps"),
          std::pair("linear(0, 1", "known")}) {
        const auto easing = easingFromCss(text);
        ASSERT_FALSE(easing) << text;
        EXPECT_NE(describe(easing.error()).find(word), std::string::npos) << describe(easing.error());
        EXPECT_NE(describe(easing.error()).find("cubic-bezier("), std::string::npos) << "what to write instead";
    }
}

// Out as linear(), in again, and laid on a segment: the same curve within the tolerance.
TEST(CssEasing, LinearComesBack) {
    for (const char* name : {"ease-in", "depart-violent", "arrive-over", "depart-back", "linear"})
        for (const Space space : {Space::Linear, Space::Log2}) {
            const Curve curve = twoKeys(space, -12, 1, 3, 2.5, *shapeNamed(name));
            const auto text = cssOf(polylineOf(curve, 0, 1));
            const auto easing = easingFromCss(text);
            ASSERT_TRUE(easing) << text;
            const Curve back = withEasing(twoKeys(space, -12, 1, 3, 2.5, {}), 0, *easing);
            for (double t = -12; t <= 3; t += 0.05)
                ASSERT_NEAR(toSpace(evaluate(back, t), space), toSpace(evaluate(curve, t), space), 0.005 * 1.5)
                    << name << ' ' << t << ' ' << text;
            EXPECT_EQ(cssOf(easing->points), text) << "and the text is the same again";
        }
    EXPECT_TRUE(polylineOf(twoKeys(Space::Linear, 0, 2, 5, 2, {}), 0, 1).empty()) << "no way to tell parts of";
}

TEST(CssEasing, AppliesToOneSegment) {
    Curve curve = twoKeys(Space::Linear, 0, 0, 10, 4, {});
    curve = withKeyAdded(curve, 5, 0);
    const Curve eased = withEasing(curve, 1, *easingFromCss("linear(0, 0.5 20%, 1)"));
    ASSERT_EQ(eased.keys.size(), 4u);
    EXPECT_DOUBLE_EQ(eased.keys[2].time, 6);
    EXPECT_EQ(eased.keys[0], curve.keys[0]);
    EXPECT_EQ(withEasing(curve, 5, *easingFromCss("ease")), curve);
    EXPECT_EQ(shapeOf(withEasing(curve, 1, *easingFromCss("ease-out")), 1), shapeNamed("ease-out"));
}

} // namespace
} // namespace virga
