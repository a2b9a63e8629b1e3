#include "core/motion/stack_match.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"
#include "core/motion/stack_map.h"

namespace virga {
namespace {

constexpr Size frame{1280, 720};

Stack randomStack(unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> unit(0, 1);
    Stack stack;
    for (const MoveKind kind : {MoveKind::Slide, MoveKind::Zoom, MoveKind::Spin, MoveKind::Zoom, MoveKind::Fade}) {
        Move move = makeMove(kind, "m");
        move.anchor = {unit(random), unit(random)};
        if (seed % 3 == 0) move.even = false;
        for (int c = 0; c < int(move.channels.size()); ++c) {
            const double scale = kind == MoveKind::Spin ? 90 : 1, rest = kind == MoveKind::Zoom ? 1 : 0;
            move.channels[std::size_t(c)].outgoing =
                twoKeys(spaceOf(move, c), -9, rest, seed % 2, rest + scale * unit(random), departingShape());
            move.channels[std::size_t(c)].incoming =
                twoKeys(spaceOf(move, c), 0, rest - 0.7 * scale * unit(random), 11, rest, arrivingShape());
        }
        stack.push_back(move);
    }
    std::rotate(stack.begin(), stack.begin() + seed % 5, stack.end());
    return stack;
}

// Velocities by finite differences of the stack's matrix are those of the formula.
TEST(StackMatch, VelocitiesAreTheMatrixsDerivative) {
    for (unsigned seed = 0; seed < 20; ++seed) {
        const Stack stack = randomStack(seed);
        for (const Side side : {Side::Outgoing, Side::Incoming}) {
            const double h = side == Side::Outgoing ? -1e-6 : 1e-6;
            const ScreenMap here(stackMatrix(stack, side, 0, frame)), there(stackMatrix(stack, side, h, frame));
            const ScreenFlow flow = screenFlowAtCut(stack, side, frame);
            const auto points = probePointsOf(frame);
            double fastest = 0;
            for (std::size_t i = 0; i < points.size(); ++i) {
                const Point v = (there.toScreen(here.toSource(points[i])) - points[i]) / (h * frame.width);
                EXPECT_NEAR(v.x, flow[i].x, 2e-4) << seed;
                EXPECT_NEAR(v.y, flow[i].y, 2e-4) << seed;
                fastest = std::max(fastest, 100 * flow[i].length());
            }
            EXPECT_NEAR(instantSpeed(stack, side, 0, frame), fastest, 2e-3 * fastest + 0.01) << seed;
        }
    }
}

TEST(StackMatch, RatesCarryTheWholeMovementOn) {
    for (unsigned seed = 0; seed < 40; ++seed) {
        Stack stack = randomStack(seed);
        const auto rates = matchingRates(stack, frame);
        ASSERT_TRUE(rates) << describe(rates.error());
        // Straight incoming curves of those rates, from the values that they were found for.
        for (std::size_t m = 0; m < stack.size(); ++m)
            for (std::size_t c = 0; c < stack[m].channels.size(); ++c) {
                Curve& in = stack[m].channels[c].incoming;
                const double first = in.keys[0].value;
                in = twoKeys(in.space, 0, first, 1, fromSpace(toSpace(first, in.space) + (*rates)[m][c], in.space),
                             {Interpolation::Linear});
            }
        EXPECT_LT(velocityStep(stack, frame), 1e-7 * instantSpeed(stack, Side::Outgoing, 0, frame)) << seed;
    }
}

TEST(StackMatch, AChannelThatIsAloneKeepsItsOwnRate) {
    Move zoom = makeMove(MoveKind::Zoom, "z"), spin = makeMove(MoveKind::Spin, "s");
    zoom.channels[0].outgoing = twoKeys(Space::Log2, -5, 1, 0, 2.5, departingShape());
    zoom.channels[0].incoming = twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape());
    const auto rates = matchingRates({spin, zoom}, frame);
    ASSERT_TRUE(rates);
    EXPECT_NEAR((*rates)[1][0], speedBefore(zoom.channels[0].outgoing, 0), 1e-9);
    EXPECT_EQ((*rates)[0][0], 0) << "what stands still is left alone";
}

// A slide under a zoom moves the screen by as much more as the zoom enlarges it.
TEST(StackMatch, ASlideUnderAZoomIsMatchedOnScreen) {
    Move slide = makeMove(MoveKind::Slide, "s"), zoom = makeMove(MoveKind::Zoom, "z");
    slide.channels[0].outgoing = twoKeys(Space::Linear, -5, 0, 0, 0.5, {Interpolation::Linear});
    slide.channels[0].incoming = twoKeys(Space::Linear, 0, -0.5, 10, 0, {Interpolation::Linear});
    zoom.channels[0].outgoing.keys = {Key{0, 2}};
    zoom.channels[0].incoming.keys = {Key{0, 0.5}};
    const auto rates = matchingRates({slide, zoom}, frame);
    ASSERT_TRUE(rates);
    EXPECT_NEAR((*rates)[0][0], 4 * 0.1, 1e-9) << "0.1 widths a frame twice enlarged, seen at half the size";
}

TEST(StackMatch, OnlyWhatIsOnCounts) {
    Stack stack = randomStack(4);
    for (Move& move : stack) move.enabled = false;
    EXPECT_EQ(velocityStep(stack, frame), 0);
    std::erase_if(stack, [](const Move& move) { return move.kind == MoveKind::Fade; });
    stack[0].enabled = stack[1].enabled = true;
    const double both = instantSpeed(stack, Side::Outgoing, 0, frame);
    stack[1].solo = true;
    const double one = instantSpeed(stack, Side::Outgoing, 0, frame);
    EXPECT_NE(both, one);
    Stack alone{stack[1]};
    EXPECT_NEAR(instantSpeed(alone, Side::Outgoing, 0, frame), one, 1e-6) << "soloed is as if alone";
    EXPECT_NEAR(velocityStep(stack, frame), velocityStep(alone, frame), 1e-9);
}

} // namespace
} // namespace virga
