// CSS text in and out, by W3C "CSS Easing Functions Level 2", section 2.2 (linear()) and 2.3 (cubic-bezier()).
#include "core/curve/css_easing.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"

namespace virga::css_easing_test {
namespace {

using Points = std::vector<std::pair<double, double>>; // time, way

Points pointsOf(const char* text) {
    const auto easing = easingFromCss(text);
    EXPECT_TRUE(easing) << (easing ? "" : describe(easing.error()));
    Points points;
    if (easing)
        for (const Key& k : easing->unit.keys) points.push_back({k.time, k.value});
    return points;
}

std::optional<Shape> shapeFrom(const std::string& text) {
    const auto easing = easingFromCss(text);
    return easing ? shapeOf(*easing) : std::nullopt;
}

TEST(CssEasing, NamedFunctionsAreTheirBeziers) {
    EXPECT_EQ(shapeFrom("ease"), (Shape{Interpolation::Eased, 0.25, 0.1, 0.25, 1}));
    EXPECT_EQ(shapeFrom(" ease-in-out; "), shapeFrom("cubic-bezier(0.42, 0, 0.58, 1)"));
    EXPECT_EQ(shapeFrom("linear")->kind, Interpolation::Linear);
    EXPECT_EQ(shapeFrom("step-end")->kind, Interpolation::Hold);
    EXPECT_EQ(shapeFrom("cubic-bezier(.5,-0.6, .9,+1.5)"), (Shape{Interpolation::Eased, 0.5, -0.6, 0.9, 1.5}));
    for (const NamedShape& named : namedShapes()) {
        const auto back = easingFromCss(cssOf(named.shape));
        ASSERT_TRUE(back) << named.name;
        EXPECT_TRUE(isLike(*back, easingOf(named.shape), 1e-12)) << named.name;
    }
}

// The specification's own examples of linear().
TEST(CssEasing, StopsWithoutATimeAreSpread) {
    EXPECT_EQ(pointsOf("linear(0, 0.25, 1)"), (Points{{0, 0}, {0.5, 0.25}, {1, 1}}));
    EXPECT_EQ(pointsOf("linear(0, 0.25 75%, 1)"), (Points{{0, 0}, {0.75, 0.25}, {1, 1}}));
    EXPECT_EQ(pointsOf("linear(0, 0.25 25% 75%, 1)"), (Points{{0, 0}, {0.25, 0.25}, {0.75, 0.25}, {1, 1}}));
    const auto spread = pointsOf("linear(0, 0.1, 0.2, 0.9 80%, 1)");
    ASSERT_EQ(spread.size(), 5u);
    EXPECT_NEAR(spread[1].first, 0.8 / 3, 1e-12);
    EXPECT_NEAR(spread[2].first, 1.6 / 3, 1e-12);
    EXPECT_NEAR(pointsOf("linear(0, 0.6 50%, 0.7 20%, 1)")[2].first, 0.5, 2e-6) << "times never fall";
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
    int compared = 0;
    for (const NamedEasing& named : allEasings())
        for (const Space space : {Space::Linear, Space::Log2}) {
            const Curve curve = withEasing(twoKeys(space, -12, 1, 300, 2.5, {}), 0, 1, named.easing);
            const auto run = easingOf(curve, 0, int(curve.keys.size()) - 1);
            ASSERT_TRUE(run) << named.name;
            const auto text = cssOf(*run);
            const auto easing = easingFromCss(text);
            ASSERT_TRUE(easing) << text;
            const Curve back = withEasing(twoKeys(space, -12, 1, 300, 2.5, {}), 0, 1, *easing);
            for (double t = -12; t < 300; t += 0.9)
                ASSERT_NEAR(toSpace(evaluate(back, t), space), toSpace(evaluate(curve, t), space), 0.005 * 1.5)
                    << named.name << ' ' << t << ' ' << text;
            EXPECT_EQ(cssOf(*easing), text) << "and the text is the same again";
            ++compared;
        }
    EXPECT_GT(compared, 100);
    EXPECT_FALSE(easingOf(twoKeys(Space::Linear, 0, 2, 5, 2, {}), 0, 1)) << "no way to tell parts of";
}

TEST(CssEasing, AppliesToOneSegment) {
    Curve curve = twoKeys(Space::Linear, 0, 0, 10, 4, {});
    curve = withKeyAdded(curve, 5, 0);
    const Curve eased = withEasing(curve, 1, 2, *easingFromCss("linear(0, 0.5 20%, 1)"));
    ASSERT_EQ(eased.keys.size(), 4u);
    EXPECT_DOUBLE_EQ(eased.keys[2].time, 6);
    EXPECT_EQ(eased.keys[0], curve.keys[0]);
    EXPECT_EQ(withEasing(curve, 5, 6, *easingFromCss("ease")), curve);
    EXPECT_EQ(shapeOf(withEasing(curve, 1, 2, *easingFromCss("ease-out")), 1), shapeNamed("ease-out"));
    const Curve jump = withEasing(curve, 1, 2, *easingFromCss("linear(0, 0 50%, 1 50%, 1)"));
    EXPECT_EQ(evaluate(jump, 7.4), evaluate(curve, 5)) << "a jump holds";
    EXPECT_EQ(evaluate(jump, 7.6), 4) << "and is there at once";
}

} // namespace
} // namespace virga::css_easing_test
