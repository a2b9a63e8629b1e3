#include "core/edit/key_edits.h"

#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/edit/layer_edits.h"
#include "tests/support/projects.h"

namespace virga::key_edits_test {
namespace {

using namespace test;

const CurveAddress zoomOut{0, 0, 0, Side::Outgoing}, zoomIn{0, 0, 0, Side::Incoming};

Project zoomAndSpin() {
    return withMove(plungeProject(), 0, MoveKind::Spin, 0, 0, 90, 8, -60, 0, 9);
}

TEST(KeyEdits, GroupsAreByCurveAndSorted) {
    const Project p = zoomAndSpin();
    const auto groups = byCurve(p, {{zoomIn, 1}, {zoomOut, 0}, {zoomIn, 0}, {zoomIn, 1}, {zoomIn, 9}, {{5, 0, 0}, 0}});
    ASSERT_EQ(groups.size(), 2u);
    EXPECT_EQ(groups[0].keys, (KeyGroup{0, 1}));
    EXPECT_EQ(keysOfStack(p, 0).size(), 8u);
    EXPECT_EQ(keysOfLane(p, 0, 1, 0).size(), 4u);
    EXPECT_TRUE(keysOfStack(p, 7).empty());
}

TEST(KeyEdits, RemovedTogether) {
    const Project p = withKeysRemoved(zoomAndSpin(), keysOfLane(zoomAndSpin(), 0, 0, 0));
    EXPECT_TRUE(curveAt(p, zoomOut).isEmpty());
    EXPECT_TRUE(curveAt(p, zoomIn).isEmpty());
    EXPECT_EQ(keysOfStack(p, 0).size(), 4u);
}

TEST(KeyEdits, MirroredToTheOtherSideItCarriesOn) {
    const Project p = withOtherSideMirrored(zoomAndSpin(), {0, 1, 0, Side::Outgoing}, true);
    const Curve& in = curveAt(p, {0, 1, 0, Side::Incoming});
    ASSERT_EQ(in.keys.size(), 2u);
    EXPECT_EQ(in.keys[0].value, -90);
    EXPECT_EQ(in.keys[0].time, 0);
    EXPECT_EQ(in.keys[1].time, 8);
    EXPECT_NEAR(speedAfter(in, 0), speedBefore(curveAt(p, {0, 1, 0, Side::Outgoing}), 0), 1e-12);
}

TEST(KeyClipboard, FromOneSideToTheOtherAndBack) {
    const Project p = zoomAndSpin();
    const auto text = copiedKeys(p, keysOf(p, zoomOut));
    EXPECT_TRUE(holdsKeys(text));
    EXPECT_FALSE(holdsKeys("linear(0, 1)"));
    const auto there = withKeysPasted(p, text, {zoomIn, 2.0, false});
    ASSERT_TRUE(there) << describe(there.error());
    const Curve& in = curveAt(there->project, zoomIn);
    EXPECT_EQ(in.keys[1].time, 2);
    EXPECT_EQ(in.keys[2].time, 7);
    EXPECT_EQ(in.keys[2].value, 2.5);
    EXPECT_EQ(there->keys, (KeySet{{zoomIn, 1}, {zoomIn, 2}}));
    EXPECT_EQ(in.keys.size(), 4u) << "what lies outside the pasted span stays";
    // Onto itself nothing changes.
    const auto same = withKeysPasted(p, text, {zoomOut, std::nullopt, false});
    ASSERT_TRUE(same);
    EXPECT_EQ(same->project, p);
    const auto mirrored = withKeysPasted(p, text, {zoomIn, std::nullopt, true});
    ASSERT_TRUE(mirrored);
    EXPECT_EQ(curveAt(mirrored->project, zoomIn).keys[0].value, 2.5) << "last out is first in";
    EXPECT_EQ(curveAt(mirrored->project, zoomIn).keys[0].time, 0);
}

TEST(KeyClipboard, ToAnotherCutMovesThatAreMissingAreAdded) {
    Project p = zoomAndSpin();
    p.reel.push_back(p.reel[0]);
    p.reel[2].id = "clip-9";
    p.reel[2].transition = {};
    const auto pasted = withKeysPasted(p, copiedKeys(p, keysOfStack(p, 0)), {{1, 0, 0}, std::nullopt, false});
    ASSERT_TRUE(pasted) << describe(pasted.error());
    const Stack& stack = transitionAt(pasted->project, 1).moves;
    ASSERT_EQ(stack.size(), 2u);
    for (std::size_t m = 0; m < 2; ++m) EXPECT_EQ(stack[m].channels, transitionAt(p, 0).moves[m].channels);
    EXPECT_EQ(pasted->keys.size(), 8u);
}

TEST(KeyClipboard, SecondMovesOfAKindGoToSecondMoves) {
    Project p = withMoveAdded(plungeProject(), 0, MoveKind::Zoom);
    p = withCurve(p, {0, 1, 0, Side::Outgoing}, twoKeys(Space::Log2, -4, 1, 0, 3, departingShape()));
    p = withCurve(p, {0, 1, 0, Side::Incoming}, twoKeys(Space::Log2, 0, 1, 5, 3, departingShape()));
    const auto pasted = withKeysPasted(p, copiedKeys(p, keysOfLane(p, 0, 1, 0)), {{0, 0, 0}, std::nullopt, false});
    ASSERT_TRUE(pasted);
    EXPECT_EQ(pasted->project, p) << "onto themselves, not onto the first zoom";
}

TEST(KeyClipboard, SaysWhatDoesNotFit) {
    const Project p = zoomAndSpin();
    const auto text = copiedKeys(p, {{{0, 1, 0, Side::Outgoing}, 0}});
    const auto wrong = withKeysPasted(p, text, {zoomIn, std::nullopt, false});
    ASSERT_FALSE(wrong);
    EXPECT_NE(wrong.error().message.find("Spin do not fit Zoom"), std::string::npos) << wrong.error().message;
    EXPECT_FALSE(withKeysPasted(p, "", {zoomIn, std::nullopt, false}));
    EXPECT_FALSE(withKeysPasted(p, text, {{9, 0, 0}, std::nullopt, false}));
    for (const char* broken : {R"({"virgaClipboard":"keys","curves":[{}]})", R"({"virgaClipboard":"keys","curves":3})",
                               R"({"virgaClipboard":"keys","curves":[{"kind":"zoom","channel":"factor","keys":[{}]}]})",
                               R"({"virgaClipboard":"keys","curves":[{"kind":"teleport","channel":"a","keys":[
                                   {"time":0,"value":1}]}]})",
                               R"({"virgaClipboard":"keys","curves":[{"kind":"zoom","channel":"factor","keys":[
                                   {"time":0,"value":"x"}]}]})"})
        EXPECT_FALSE(withKeysPasted(p, broken, {zoomIn, std::nullopt, false})) << broken;
}

TEST(KeyClipboard, BetweenAnEvenAndAPlainZoomShapesStay) {
    Project p = plungeProject();
    const auto text = copiedKeys(p, keysOf(p, zoomOut));
    Move plain = transitionAt(p, 0).moves[0];
    plain.even = false;
    const auto before = shapeOf(curveAt(p, zoomOut), 0);
    p = withMoveChanged(p, 0, 0, plain);
    EXPECT_NEAR(shapeOf(curveAt(p, zoomOut), 0)->y2, before->y2, 1e-9) << "the switch keeps the shape";
    const auto pasted = withKeysPasted(p, text, {zoomOut, std::nullopt, false});
    ASSERT_TRUE(pasted);
    EXPECT_EQ(curveAt(pasted->project, zoomOut).space, Space::Linear);
    EXPECT_NEAR(shapeOf(curveAt(pasted->project, zoomOut), 0)->y2, before->y2, 1e-9);
}

TEST(StackPlaces, EveryPlaceHasItsAxis) {
    Project p = zoomAndSpin();
    p = withAdjustmentAdded(p, 10, 12);
    EXPECT_EQ(originOf(p, 0), 25);
    EXPECT_EQ(originOf(p, {StackPlace::Drift, 1}), 25);
    EXPECT_EQ(originOf(p, {StackPlace::Adjustment, 0}), 10);
    EXPECT_EQ(sideOrigin(p, {StackPlace::Adjustment, 0}, Side::Outgoing), 12);
    EXPECT_EQ(sideSpan(p, 0, Side::Outgoing).from, -25);
    EXPECT_EQ(sideSpan(p, {StackPlace::Drift, 0}, Side::Incoming).to, 25);
    EXPECT_FALSE(hasSide({StackPlace::Drift, 0}, Side::Outgoing));
    EXPECT_EQ(stackAt(p, {StackPlace::Drift, 2}), nullptr);
    const Project drifting = withMoveAdded(p, {StackPlace::Drift, 1}, MoveKind::Zoom);
    ASSERT_EQ(drifting.reel[1].drift.size(), 1u);
    const CurveAddress at{{StackPlace::Drift, 1}, 0, 0, Side::Incoming};
    const Project crept = withSideValues(drifting, at, 1, 1.1, usualFrames(drifting, at.place, Side::Incoming));
    EXPECT_EQ(curveAt(crept, at).keys.back().time, 25) << "a drift takes the whole clip";
    EXPECT_EQ(curveAt(crept, at).keys.front().next, Interpolation::Linear);
}

TEST(StackPlaces, MovesAreReorderedAndSoloed) {
    Project p = withMoveAdded(zoomAndSpin(), 0, MoveKind::Slide);
    const auto kinds = [](const Project& q) {
        std::string text;
        for (const Move& m : transitionAt(q, 0).moves) text += m.kindName[0] == 's' ? m.kindName[1] : m.kindName[0];
        return text;
    };
    EXPECT_EQ(kinds(p), "zpl");
    EXPECT_EQ(kinds(withMoveReordered(p, 0, 0, 2)), "plz");
    EXPECT_EQ(kinds(withMoveReordered(p, 0, 2, 0)), "lzp");
    EXPECT_EQ(withMoveReordered(p, 0, 2, 3), p);
    Move off = transitionAt(p, 0).moves[1];
    off.enabled = false;
    p = withSolo(withMoveChanged(p, 0, 1, off), 0, 1, true);
    const Stack& stack = transitionAt(p, 0).moves;
    EXPECT_TRUE(isOn(stack, stack[1])) << "soloing turns it on";
    EXPECT_FALSE(isOn(stack, stack[0]));
    const Project after = withSolo(p, 0, 1, false);
    EXPECT_TRUE(isOn(transitionAt(after, 0).moves, transitionAt(after, 0).moves[0]));
}

} // namespace
} // namespace virga::key_edits_test
