#include "core/edit/move_edits.h"

#include <cmath>
#include <gtest/gtest.h>

#include "tests/support/projects.h"

namespace virga::move_edits_test {
namespace {

using namespace test;

const CurveAddress zoomOut{0, 0, 0, Side::Outgoing}, zoomIn{0, 0, 0, Side::Incoming};

TEST(MoveEdits, NumberFieldsMakeAndChangeSides) {
    Project p = withMoveAdded(twoClips(), 0, MoveKind::Zoom);
    EXPECT_TRUE(curveAt(p, zoomOut).isEmpty());
    p = withSideValues(p, zoomOut, 1, 2.5, 8);
    ASSERT_EQ(curveAt(p, zoomOut).keys.size(), 2u);
    EXPECT_EQ(curveAt(p, zoomOut).keys[0].time, -8);
    EXPECT_EQ(curveAt(p, zoomOut).keys[1].time, 0) << "past the last frame that is shown";
    const auto shape = shapeOf(curveAt(p, zoomOut), 0);
    p = withSideValues(p, zoomOut, 1, 4, 8);
    EXPECT_EQ(curveAt(p, zoomOut).keys[1].value, 4);
    const auto after = shapeOf(curveAt(p, zoomOut), 0);
    ASSERT_TRUE(shape && after);
    EXPECT_NEAR(after->y2, shape->y2, 1e-12) << "its shape is kept";
    p = withSideValues(p, zoomIn, 0.62, 1, 12);
    EXPECT_EQ(curveAt(p, zoomIn).keys[1].time, 12);
}

TEST(MoveEdits, SeveralMovesOfOneKindAreFine) {
    Project p = withMoveAdded(withMoveAdded(twoClips(), 0, MoveKind::Zoom), 0, MoveKind::Zoom);
    ASSERT_EQ(transitionAt(p, 0).moves.size(), 2u);
    EXPECT_NE(transitionAt(p, 0).moves[0].id, transitionAt(p, 0).moves[1].id);
    p = withoutMove(p, 0, 0);
    EXPECT_EQ(transitionAt(p, 0).moves[0].id, "move-2");
}

TEST(MoveEdits, WhatIsNotThereIsLeftAlone) {
    const Project p = plungeProject();
    EXPECT_EQ(withMoveAdded(p, 5, MoveKind::Zoom), p);
    EXPECT_EQ(withMoveAdded(p, 0, MoveKind::Unknown), p);
    EXPECT_EQ(withoutMove(p, 0, 3), p);
    EXPECT_EQ(withCurve(p, {0, 0, 4, Side::Incoming}, {}), p);
    EXPECT_FALSE(hasCurve(p, {-1, 0, 0, Side::Incoming}));
    EXPECT_EQ(withTransition(p, 9, {}), p);
}

TEST(MoveEdits, PlainZoomGoesInALine) {
    Project p = plungeProject();
    Move move = transitionAt(p, 0).moves[0];
    move.even = false;
    p = withMoveChanged(p, 0, 0, move);
    EXPECT_EQ(curveAt(p, zoomOut).space, Space::Linear);
    move.even = true;
    EXPECT_EQ(curveAt(withMoveChanged(p, 0, 0, move), zoomOut).space, Space::Log2);
}

TEST(MoveEdits, PastedTransitionsGetIdsOfTheirOwn) {
    Project p = plungeProject();
    p = withTransition(p, 0, transitionAt(p, 0));
    EXPECT_EQ(transitionAt(p, 0).moves[0].id, "move-1") << "its own moves keep theirs";
    Transition foreign;
    foreign.moves = {makeMove(MoveKind::Spin, "move-1"), makeMove(MoveKind::Slide, "")};
    const Project q = withTransition(withoutMove(p, 0, 0), 0, foreign);
    EXPECT_NE(transitionAt(q, 0).moves[0].id, transitionAt(q, 0).moves[1].id);
    EXPECT_FALSE(transitionAt(q, 0).moves[1].id.empty());
}

TEST(MoveEdits, ANewMoveTakesEightFramesOrWhatTheClipHas) {
    const Project p = plungeProject();
    EXPECT_EQ(usualFrames(p, 0, Side::Outgoing), 8);
    Project shortClip = p;
    shortClip.reel[0].length = 3;
    EXPECT_EQ(usualFrames(shortClip, 0, Side::Outgoing), 3);
}

} // namespace
} // namespace virga::move_edits_test
