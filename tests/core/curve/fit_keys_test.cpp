// Few keys through measured values.
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"
#include "core/curve/fit_keys.h"
#include "core/curve/shape.h"
#include "tests/support/told.h"

namespace virga::fit_keys_test {
namespace {

using test::textOf;

Curve shaped(const Shape& shape, double frames, double from, double to, Space space) {
    Curve curve;
    curve.space = space;
    const double a = toSpace(from, space), b = toSpace(to, space);
    Key first{0, from, Interpolation::Eased, {shape.x1, shape.y1 * (b - a)}, {}};
    Key last{frames, to, Interpolation::Eased, {}, {1 - shape.x2, (1 - shape.y2) * (b - a)}};
    curve.keys = {first, last};
    return curve;
}

std::vector<MeasuredValue> sampled(const Curve& curve, double noise, unsigned seed) {
    std::mt19937 draw(seed);
    std::normal_distribution<double> miss(0, std::max(noise, 1e-12));
    std::vector<MeasuredValue> values;
    for (double t = curve.keys.front().time; t <= curve.keys.back().time; ++t)
        values.push_back(
            {t, fromSpace(toSpace(evaluate(curve, t), curve.space) + (noise > 0 ? miss(draw) : 0), curve.space),
             noise});
    return values;
}

TEST(FitKeys, FindsNamedShapesAgain) {
    for (const NamedShape& named : namedShapes()) {
        const Shape& s = named.shape;
        if (s.kind != Interpolation::Eased || s.x1 <= 0 || s.x2 >= 1) continue;
        const Curve curve = shaped(s, 16, 1, 2.5, Space::Log2);
        const FittedCurve fitted = fittedCurve(sampled(curve, 0, 1), Space::Log2, 0.004);
        EXPECT_EQ(fitted.curve.keys.size(), 2u) << named.name;
        EXPECT_LT(fitted.worst, 0.004) << named.name;
        EXPECT_FALSE(fitted.like.empty()) << named.name;
    }
}

TEST(FitKeys, StaysWithinItsErrorOnRandomCurvesWithNoise) {
    std::mt19937 draw(4);
    const auto between = [&](double a, double b) { return a + (b - a) * double(draw() % 10000) / 10000; };
    int more = 0;
    for (int round = 0; round < 200; ++round) {
        const Shape shape{Interpolation::Eased, between(0.05, 0.95), between(0, 0.4), between(0.05, 0.95),
                          between(0.6, 1)};
        const int frames = 6 + int(draw() % 20); // one draw a line: compilers order a call's arguments as they like
        const double way = between(-200, 200);
        const unsigned seed = draw();
        const FittedCurve fitted =
            fittedCurve(sampled(shaped(shape, frames, 0, way, Space::Linear), 0.1, seed), Space::Linear, 0.3);
        more += fitted.curve.keys.size() > 3;
        EXPECT_LE(fitted.curve.keys.size(), 6u) << round;
        EXPECT_LT(fitted.worst, 0.6) << round;
    }
    // Of a normal distribution 0.27 % lie beyond three deviations: of sixteen samples one does in 4 % of the rounds.
    EXPECT_LE(more, 12);
}

TEST(FitKeys, PartsWhereOneSegmentDoesNot) {
    // Out, back and out again.
    std::vector<MeasuredValue> values;
    for (int t = 0; t <= 40; ++t) values.push_back({double(t), std::sin(t * 0.35), 0});
    const FittedCurve fitted = fittedCurve(values, Space::Linear, 0.02, {}, 12);
    EXPECT_GT(fitted.curve.keys.size(), 3u);
    EXPECT_LT(fitted.worst, 0.05);
    const FittedCurve few = fittedCurve(values, Space::Linear, 0.02, {}, 3);
    EXPECT_LE(few.curve.keys.size(), 3u) << "no more than asked for";
    double square = 0, worst = 0;
    for (const MeasuredValue& v : values) {
        const double miss = std::abs(evaluate(few.curve, v.time) - v.value);
        square += miss * miss / double(values.size()), worst = std::max(worst, miss);
    }
    EXPECT_NEAR(few.mean, std::sqrt(square), 1e-9);
    EXPECT_NEAR(few.worst, worst, 1e-9);
    EXPECT_GT(few.worst, fitted.worst);
}

TEST(FitKeys, LeavesRestLevelAndTakesStraightLines) {
    const Curve curve = shaped(departingShape(), 8, 0, -90, Space::Linear);
    const FittedCurve fitted = fittedCurve(sampled(curve, 0, 1), Space::Linear, 0.2, {.restsBefore = true});
    EXPECT_EQ(fitted.curve.keys.front().leave.rise, 0);
    EXPECT_EQ(fitted.curve.keys.front().value, 0);
    EXPECT_EQ(fitted.curve.keys.back().value, -90);
    const FittedCurve two = fittedCurve({{-1, 3, 0}, {0, 5, 0}}, Space::Linear, 0.1);
    EXPECT_EQ(two.curve.keys.size(), 2u);
    EXPECT_NEAR(evaluate(two.curve, -0.5), 4, 0.01);
}

// As a move that a cut breaks off: what is read ends a frame before it, and has an error of its own.
TEST(FitKeys, ALooseEndGoesOnAsTheCurveDoes) {
    std::mt19937 draw(11);
    std::normal_distribution<double> miss(0, 0.004);
    double exact = 0, loose = 0;
    for (int round = 0; round < 60; ++round) {
        const Curve curve = shaped(departingShape(), 9, 0, -1, Space::Linear);
        std::vector<MeasuredValue> values;
        for (int t = 0; t < 9; ++t)
            values.push_back({double(t), evaluate(curve, t) + (t > 0 ? t / 9.0 * miss(draw) : 0), 0.004 * t / 9});
        const auto steepness = [&](const Curve& c, double to) { return (evaluate(c, to) - evaluate(c, to - 1)); };
        const FittedCurve met = fittedCurve(values, Space::Linear, 0.003, {.restsBefore = true});
        const FittedCurve on =
            fittedCurve(values, Space::Linear, 0.003, {.restsBefore = true, .looseLast = true, .until = 9});
        EXPECT_EQ(met.curve.keys.back().time, 8);
        EXPECT_EQ(met.curve.keys.back().value, values.back().value) << "met exactly";
        EXPECT_EQ(on.curve.keys.front().value, 0);
        ASSERT_EQ(on.curve.keys.back().time, 9);
        EXPECT_NEAR(on.curve.keys.back().value, -1, 0.1) << round;
        exact += std::pow(steepness(met.curve, 8) - steepness(curve, 8), 2);
        loose += std::pow(steepness(on.curve, 8) - steepness(curve, 8), 2);
    }
    EXPECT_LT(loose, 0.8 * exact) << "what the last value is off does not bend the end";
}

// What is made of values of many kinds; read once, compared since (fitted.txt).
TEST(FitKeys, OfManyValuesIsAsItWasRead) {
    struct Case {
        const char* name;
        Space space;
        int count;
        double (*value)(double); // at a frame
    };
    const Case cases[] = {
        {"straight", Space::Linear, 9, [](double t) { return 0.1 * t - 0.3; }},
        {"nothing moves", Space::Linear, 7, [](double) { return 0.25; }},
        {"departs", Space::Log2, 9, [](double t) { return 1 + 0.02 * t * t; }},
        {"arrives", Space::Linear, 12, [](double t) { return -90 * std::exp(-0.45 * t); }},
        {"travels", Space::Linear, 17, [](double t) { return t * t * (48 - 2 * t) / 4096 * 0.6; }},
        {"a hump", Space::Linear, 15, [](double t) { return std::sin(t * 0.224); }},
        {"a wave and a half", Space::Linear, 31, [](double t) { return 0.4 * std::sin(t * 0.31); }},
        {"a knee", Space::Linear, 14, [](double t) { return t < 6 ? 0 : 0.12 * (t - 6); }},
        {"trembles", Space::Linear, 11, [](double t) { return 0.05 * t + 0.004 * std::sin(t * 2.7); }},
        {"three values", Space::Linear, 3, [](double t) { return t * t; }},
        {"two values", Space::Log2, 2, [](double t) { return 1 + t; }},
    };
    std::string text;
    for (const Case& c : cases) {
        text += fmt::format("== {}\n", c.name);
        for (const double error : {0.0, 0.004}) {
            // Frames are not all alike far apart: one in five has been left out.
            std::vector<MeasuredValue> values;
            for (int i = 0; i < c.count; ++i)
                if (c.count < 10 || i % 5 != 3) values.push_back({double(i - 4), c.value(i), error * (1 + i % 3)});
            const double behind = c.count - 3;
            const auto line = [&](const char* what, const CurveEnds& ends, double tolerance, int most = 8) {
                const FittedCurve f = fittedCurve(values, c.space, tolerance, ends, most);
                text += fmt::format("{}, error {}: {}; off {} at most, {} in the mean{}{}\n", what, error,
                                    textOf(f.curve, 3), test::number(f.worst, 2), test::number(f.mean, 2),
                                    f.like.empty() ? "" : ", as ", f.like);
            };
            line("closely", {}, 0.002);
            line("loosely", {}, 0.05);
            line("three keys", {}, 0.002, 3);
            line("rests before", {.restsBefore = true}, 0.01);
            line("rests after", {.restsAfter = true}, 0.01);
            line("loose at the first", {.restsAfter = true, .looseFirst = true}, 0.01);
            line("loose at the last", {.restsBefore = true, .looseLast = true}, 0.01);
            line("goes on", {.looseLast = true, .until = behind}, 0.01);
            line("loose at both", {.looseFirst = true, .looseLast = true, .until = behind}, 0.004);
        }
    }
    test::expectAsRead("core/curve/fitted.txt", text);
}

} // namespace
} // namespace virga::fit_keys_test
