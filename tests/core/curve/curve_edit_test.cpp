#include "core/curve/curve_edit.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace virga::curve_edit_test {
namespace {

Curve threeKeys() {
    Curve c = twoKeys(Space::Linear, -10, 0, 0, 4, departingShape());
    c.keys.push_back({6, 1, Interpolation::Eased, {}, {}});
    return withShape(c, 1, arrivingShape());
}

void expectSame(const Curve& a, const Curve& b, double tolerance = 1e-9) {
    for (double t = -12; t < 8; t += 0.1) EXPECT_NEAR(evaluate(a, t), evaluate(b, t), tolerance) << t;
}

TEST(CurveEdit, MovingAKeyInTimeKeepsTheShape) {
    const Curve c = twoKeys(Space::Linear, -10, 0, 0, 4, departingShape()), moved = withKeyMoved(c, 0, -5, 0);
    for (double x = 0; x <= 1; x += 0.1) EXPECT_NEAR(evaluate(c, -10 + 10 * x), evaluate(moved, -5 + 5 * x), 1e-9);
}

TEST(CurveEdit, ChangingAValueKeepsTheShape) {
    const Curve c = twoKeys(Space::Linear, -10, 0, 0, 4, departingShape()), changed = withKeyMoved(c, 1, 0, -8);
    for (double x = 0; x <= 1; x += 0.1)
        EXPECT_NEAR(evaluate(c, -10 + 10 * x) / 4, evaluate(changed, -10 + 10 * x) / -8, 1e-9);
}

TEST(CurveEdit, MovingAKeyThereAndBackChangesNothing) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> time(-9, 5), value(-20, 20);
    for (int i = 0; i < 500; ++i) {
        const Curve c = threeKeys();
        const int key = i % 3;
        Curve moved = withKeyMoved(c, key, time(random),
                                   i % 11 == 0 ? c.keys[std::size_t(key == 0 ? 1 : 0)].value : value(random));
        moved = withKeyMoved(moved, key, c.keys[std::size_t(key)].time, c.keys[std::size_t(key)].value);
        expectSame(c, moved, 1e-7);
    }
}

// 250 % -> 100 % -> 250 % between two equal keys: tools that scale handles by the value difference lose it.
TEST(CurveEdit, ADipBetweenEqualKeysSurvives) {
    Curve c = twoKeys(Space::Log2, 0, 2.5, 50, 2.5, {Interpolation::Eased, 0.3, 0, 0.7, 1});
    c = withLeaveHandle(c, 0, {0.3, -1.7625});
    c = withArriveHandle(c, 1, {0.3, 1.7625});
    const double bottom = evaluate(c, 25);
    EXPECT_NEAR(bottom, 1.0, 0.01);
    EXPECT_NEAR(evaluate(withKeyMoved(c, 1, 80, 2.5), 40), bottom, 1e-9) << "moved in time";
    Curve there = withKeyMoved(c, 1, 50, 3);
    EXPECT_NEAR(evaluate(withKeyMoved(there, 1, 50, 2.5), 25), bottom, 1e-9) << "changed in value and back";
}

TEST(CurveEdit, AddingAKeyDoesNotBendTheCurve) {
    std::mt19937 random(6);
    std::uniform_real_distribution<double> time(-9.9, 5.9);
    for (int i = 0; i < 200; ++i) {
        const Curve c = threeKeys();
        int added = -1;
        const Curve more = withKeyAdded(c, time(random), 0, &added);
        if (more.keys.size() == c.keys.size()) continue;
        ASSERT_EQ(more.keys.size(), 4u);
        EXPECT_GE(added, 1);
        expectSame(c, more, 1e-9);
    }
}

TEST(CurveEdit, AKeyOutsideTakesTheValueHeldThere) {
    int added = -1;
    const Curve c = withKeyAdded(threeKeys(), 20, 0, &added);
    EXPECT_EQ(added, 3);
    EXPECT_EQ(c.keys[3].value, 1);
    const Curve first = withKeyAdded(Curve{}, 3, 7, &added);
    EXPECT_EQ(added, 0);
    EXPECT_EQ(first.keys[0].value, 7);
    EXPECT_EQ(withKeyAdded(threeKeys(), 0, 0, &added), threeKeys()) << "there is one already";
    EXPECT_EQ(added, 1);
}

TEST(CurveEdit, KeysStayInOrder) {
    const Curve c = withKeyMoved(threeKeys(), 1, 100, 2);
    EXPECT_LT(c.keys[1].time, c.keys[2].time);
    const Curve d = withKeyMoved(threeKeys(), 1, -100, 2);
    EXPECT_GT(d.keys[1].time, d.keys[0].time);
}

TEST(CurveEdit, FlippingTurnsTheMovementRound) {
    const Curve zoom = twoKeys(Space::Log2, 0, 2, 12, 1, arrivingShape()), turned = flipped(zoom, 1);
    EXPECT_NEAR(turned.keys[0].value, 0.5, 1e-12);
    EXPECT_NEAR(turned.keys[1].value, 1, 1e-12);
    for (double t = 0; t < 12; t += 0.5) EXPECT_NEAR(speedAfter(zoom, t), -speedAfter(turned, t), 1e-9);
    EXPECT_EQ(flipped(turned, 1).keys[0].value, zoom.keys[0].value);
}

TEST(CurveEdit, HandlesStayInsideTheirSegment) {
    const Curve c = withLeaveHandle(threeKeys(), 0, {7, 1});
    EXPECT_EQ(c.keys[0].leave.reach, 1);
    EXPECT_EQ(withArriveHandle(threeKeys(), 1, {-3, 1}).keys[1].arrive.reach, 0);
    EXPECT_EQ(withLeaveHandle(threeKeys(), 2, {0.5, 1}), threeKeys()) << "nothing leaves the last key";
    EXPECT_EQ(withArriveHandle(threeKeys(), 0, {0.5, 1}), threeKeys());
    EXPECT_EQ(withKeyMoved(threeKeys(), 9, 0, 0), threeKeys());
    EXPECT_EQ(withKeyMoved(threeKeys(), 0, NAN, 0), threeKeys());
}

TEST(CurveEdit, ShapesCanBeReadBack) {
    const Curve c = twoKeys(Space::Log2, -5, 1, 0, 2.5, *shapeNamed("depart-hard"));
    const auto shape = shapeOf(c, 0);
    ASSERT_TRUE(shape);
    EXPECT_NEAR(shape->x1, 0.75, 1e-12);
    EXPECT_NEAR(shape->y2, 0.4, 1e-12);
    EXPECT_FALSE(shapeOf(twoKeys(Space::Linear, 0, 1, 5, 1, departingShape()), 0)) << "a flat segment has no shape";
    EXPECT_EQ(shapeOf(withShape(c, 0, {Interpolation::Hold}), 0)->kind, Interpolation::Hold);
}

} // namespace
} // namespace virga::curve_edit_test
