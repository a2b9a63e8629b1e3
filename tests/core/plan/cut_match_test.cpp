#include "core/plan/cut_match.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/curve/curve_edit.h"
#include "tests/support/projects.h"

namespace virga::cut_match_test {
namespace {

using namespace test;

Stack randomStack(unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> unit(0, 1);
    Stack stack;
    for (const MoveKind kind : {MoveKind::Slide, MoveKind::Zoom, MoveKind::Spin, MoveKind::Zoom, MoveKind::Fade}) {
        Move move = makeMove(kind, "m" + std::to_string(stack.size()));
        move.anchor = {unit(random), unit(random)};
        if (seed % 3 == 0) move.even = false;
        for (int c = 0; c < int(move.channels.size()); ++c) {
            const double scale = kind == MoveKind::Spin ? 20 : 0.3, rest = kind == MoveKind::Zoom ? 1 : 0;
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

Project with(const Stack& stack) {
    Project p = twoClips();
    p.reel[1].transition.moves = stack;
    return p;
}

// Straight incoming curves of the rates, from the values that they were found for.
Stack straightened(Stack stack, const std::vector<std::vector<double>>& rates) {
    for (std::size_t m = 0; m < stack.size(); ++m)
        for (std::size_t c = 0; c < stack[m].channels.size(); ++c) {
            Curve& in = stack[m].channels[c].incoming;
            const double first = in.keys.empty() ? moveInfo(stack[m].kind).channels[c].neutral : in.keys[0].value;
            in = twoKeys(in.space, 0, first, 4, fromSpace(toSpace(first, in.space) + 4 * rates[m][c], in.space),
                         {Interpolation::Linear});
        }
    return stack;
}

TEST(CutMatch, RatesCarryTheWholeMovementOn) {
    for (unsigned seed = 0; seed < 40; ++seed) {
        Stack stack = randomStack(seed);
        // What is seen over a whole frame is not quite linear in the rates: two rounds, as the edit does.
        for (int round = 0; round < 3; ++round) {
            const auto rates = matchingRates(with(stack), 0);
            ASSERT_TRUE(rates) << seed << describe(rates.error());
            stack = straightened(stack, *rates);
        }
        const CutVelocities v = velocitiesAtCut(with(stack), 0);
        ASSERT_GT(v.speedOut, 1);
        EXPECT_LT(v.difference, 2e-3 * v.speedOut) << seed;
    }
}

TEST(CutMatch, AChannelThatIsAloneKeepsItsOwnRate) {
    Move zoom = makeMove(MoveKind::Zoom, "z"), spin = makeMove(MoveKind::Spin, "s");
    zoom.channels[0].outgoing = twoKeys(Space::Log2, -5, 1, 0, 2.5, departingShape());
    zoom.channels[0].incoming = twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape());
    const auto rates = matchingRates(with({spin, zoom}), 0);
    ASSERT_TRUE(rates);
    // Not quite: the point under the corner is at another part of the frame's path on the two sides.
    EXPECT_NEAR((*rates)[1][0], changeOver(zoom.channels[0].outgoing, -1),
                0.05 * changeOver(zoom.channels[0].outgoing, -1));
    EXPECT_EQ((*rates)[0][0], 0) << "what stands still is left alone";
}

// A slide under a zoom moves the screen by as much more as the zoom enlarges it.
TEST(CutMatch, ASlideUnderAZoomIsMatchedOnScreen) {
    Move slide = makeMove(MoveKind::Slide, "s"), zoom = makeMove(MoveKind::Zoom, "z");
    slide.channels[0].outgoing = twoKeys(Space::Linear, -5, 0, 0, 0.5, {Interpolation::Linear});
    slide.channels[0].incoming = twoKeys(Space::Linear, 0, -0.5, 10, 0, {Interpolation::Linear});
    zoom.channels[0].outgoing.keys = {Key{0, 2}};
    zoom.channels[0].incoming.keys = {Key{0, 0.5}};
    const auto rates = matchingRates(with({slide, zoom}), 0);
    ASSERT_TRUE(rates);
    EXPECT_NEAR((*rates)[0][0], 4 * 0.1, 1e-6) << "0.1 widths a frame twice enlarged, seen at half the size";
}

TEST(CutMatch, OnlyWhatIsOnCounts) {
    Stack stack = randomStack(4);
    for (Move& move : stack) move.enabled = false;
    EXPECT_EQ(velocitiesAtCut(with(stack), 0).difference, 0);
    erase_if(stack, [](const Move& move) { return move.kind == MoveKind::Fade; });
    stack[0].enabled = stack[1].enabled = true;
    const double both = velocitiesAtCut(with(stack), 0).speedOut;
    stack[1].solo = true;
    const double one = velocitiesAtCut(with(stack), 0).speedOut;
    EXPECT_NE(both, one);
    EXPECT_NEAR(velocitiesAtCut(with({stack[1]}), 0).speedOut, one, 1e-6) << "soloed is as if alone";
}

// Pushes, tilts and lenses are matched by the same rule as zooms.
TEST(CutMatch, EveryKindOfMovementCanBeMatched) {
    for (const MoveInfo& info : allMoves()) {
        if (info.role != MoveRole::Movement || info.kind == MoveKind::Shake) continue;
        Stack stack{makeMove(info.kind, "m")};
        const ChannelInfo& c = info.channels[0];
        const double far = c.neutral + (c.usual - c.neutral) * 0.3;
        stack[0].channels[0].outgoing = twoKeys(spaceOf(stack[0], 0), -8, c.neutral, 0, far, departingShape());
        stack[0].channels[0].incoming = twoKeys(spaceOf(stack[0], 0), 0, c.neutral, 8, c.neutral, arrivingShape());
        const auto rates = matchingRates(with(stack), 0);
        if (info.kind == MoveKind::Tilt || info.kind == MoveKind::Warp)
            continue; // from another value it looks otherwise
        ASSERT_TRUE(rates) << info.name << describe(rates.error());
        EXPECT_GT((*rates)[0][0] * (c.usual > c.neutral ? 1 : -1), 0) << info.name;
    }
}

// Drift goes on beneath the cut's moves and counts like them.
TEST(SeenSpeedOfALayer, CountsTheWholePlan) {
    Project p = twoClips();
    Move drift = makeMove(MoveKind::Slide, "d");
    drift.channels[0].incoming = twoKeys(Space::Linear, 0, 0, 24, 0.24, {Interpolation::Linear});
    p.reel[0].drift = {drift};
    EXPECT_NEAR(velocitiesAtCut(p, 0).speedOut, 1, 1e-6);
    EXPECT_EQ(velocitiesAtCut(p, 0).speedIn, 0);
    const SeenSpeeds speeds(p, StackPlace(0));
    EXPECT_NEAR(speeds.at(Side::Outgoing, -1), 1, 1e-6) << "the cut's own lanes show it too";
}

} // namespace
} // namespace virga::cut_match_test
