#include "core/edit/carry_on.h"

#include <gtest/gtest.h>

#include "core/edit/edge_fixes.h"
#include "core/geom/coverage.h"
#include "core/plan/clip_facts.h"
#include "core/plan/cut_match.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::carry_on_test {
namespace {

using namespace test;

TEST(CarryOn, MatchingGivesEqualChangesOverAFrame) {
    for (const bool keepValues : {true, false}) {
        const auto matched = withSpeedMatched(plungeProject(), 0, 0, 0, keepValues);
        ASSERT_TRUE(matched);
        const Channel& c = transitionAt(*matched, 0).moves[0].channels[0];
        EXPECT_NEAR(changeOver(c.incoming, 0), changeOver(c.outgoing, -1), 1e-8);
    }
}

TEST(CarryOn, AnEmptyIncomingSideIsMade) {
    const Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 90, 8, 0, 0, 0);
    const auto matched = withSpeedMatched(p, 0, 0, 0, true);
    ASSERT_TRUE(matched) << describe(matched.error());
    const Channel& c = transitionAt(*matched, 0).moves[0].channels[0];
    ASSERT_EQ(c.incoming.keys.size(), 2u);
    EXPECT_LT(c.incoming.keys[0].value, 0) << "it arrives from behind";
    EXPECT_EQ(c.incoming.keys[1].value, 0);
    EXPECT_NEAR(changeOver(c.incoming, 0), changeOver(c.outgoing, -1), 1e-8);
}

TEST(CarryOn, MatchAllTurnsRoundWhatGoesTheOtherWay) {
    const Project back = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.75, 4, 1.5, 1, 4);
    const auto matched = withAllMatched(back, 0, Match::ByHandle);
    ASSERT_TRUE(matched) << describe(matched.error());
    const Channel& c = transitionAt(*matched, 0).moves[0].channels[0];
    EXPECT_LT(c.incoming.keys[0].value, 1) << "it comes from below now, and grows";
    EXPECT_NEAR(velocitiesAtCut(*matched, 0).speedIn, velocitiesAtCut(*matched, 0).speedOut, 0.1);
    EXPECT_EQ(withAllMatched(twoClips(), 0, Match::ByHandle).value(), twoClips()) << "nothing to match";
    EXPECT_EQ(withAllMatched(twoClips(), 9, Match::ByHandle).value(), twoClips());
}

// A zoom whose centre lies off the middle, spun: the two sides show that centre in different places, and only a slide
// could make up for it.
TEST(CarryOn, MatchAllReportsWhatIsMissing) {
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2, 8, 0.5, 1, 8);
    p = withMove(p, 0, MoveKind::Spin, 0, 0, 90, 8, -90, 0, 8);
    p.reel[1].transition.moves[0].anchor = {0, 0};
    const auto none = withAllMatched(p, 0, Match::ByHandle);
    ASSERT_FALSE(none);
    EXPECT_NE(none.error().message.find("left over"), std::string::npos) << describe(none.error());
    EXPECT_NE(none.error().remedy.find("a slide"), std::string::npos) << describe(none.error());
    for (const bool keep : {true, false}) {
        const auto matched =
            withAllMatched(withMoveAdded(p, 0, MoveKind::Slide), 0, keep ? Match::ByHandle : Match::ByValue);
        ASSERT_TRUE(matched) << describe(matched.error());
        EXPECT_LT(velocitiesAtCut(*matched, 0).difference, 0.01 * velocitiesAtCut(*matched, 0).speedOut);
    }
    // What no value could meet is told too: a zoom that would have to start at less than a hundredth.
    const auto fast =
        withAllMatched(withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 90, 2, 1.1, 1, 30), 0, Match::ByHandle);
    ASSERT_FALSE(fast);
    EXPECT_NE(fast.error().message.find("would have to be"), std::string::npos) << describe(fast.error());
}

TEST(CarryOn, MatchAllTurnsRoundAnEqualSpeedTheOtherWay) {
    const Shape straight{Interpolation::Linear};
    const Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 90, 8, 90, 0, 8, straight, straight);
    const auto matched = withAllMatched(p, 0, Match::ByHandle);
    ASSERT_TRUE(matched) << describe(matched.error());
    EXPECT_LT(velocitiesAtCut(*matched, 0).difference, 0.01 * velocitiesAtCut(*matched, 0).speedOut);
}

// The last shot goes on beneath for as long as the incoming move takes, if it has so many frames.
TEST(CarryOn, LetsTheIncomingShotComeInOverTheLastOne) {
    Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0, 0, -0.5, 0, 20);
    p.reel[1].transition.overlap.before = 3;
    const auto done = withIncomingOverlapped(p, 0);
    ASSERT_TRUE(done);
    const Transition& t = transitionAt(*done, 0);
    EXPECT_EQ(t.overlap.before, 3);
    EXPECT_EQ(t.overlap.after, 20);
    EXPECT_EQ(t.top, Side::Incoming);
    EXPECT_TRUE(t.alone);
    // Exactly enough, and one too few: its file has 75 frames, 25 of them are the clip.
    p.reel[0].sourceIn = Rational(30, 25);
    EXPECT_TRUE(withIncomingOverlapped(p, 0));
    p.reel[0].sourceIn = Rational(31, 25);
    const auto tooShort = withIncomingOverlapped(p, 0);
    ASSERT_FALSE(tooShort);
    EXPECT_NE(tooShort.error().message.find("19 spare frames"), std::string::npos) << tooShort.error().message;
    EXPECT_NE(tooShort.error().message.find("20 are needed"), std::string::npos);
    // A move that is longer than its clip is over with it.
    p.reel[0].sourceIn = Rational(1);
    p.reel[1].length = 12;
    EXPECT_EQ(transitionAt(withIncomingOverlapped(p, 0).value(), 0).overlap.after, 12);
}

TEST(CarryOn, WhatCannotBeMirroredIsToldByItsSide) {
    const auto in = withAllMirrored(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 0, 0, -90, 0, 8), 0);
    ASSERT_FALSE(in);
    EXPECT_NE(in.error().message.find("outgoing side"), std::string::npos) << in.error().message;
    const auto out = withDepartureMade(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 90, 8, 0, 0, 0), 0);
    ASSERT_FALSE(out);
    EXPECT_NE(out.error().message.find("incoming side"), std::string::npos) << out.error().message;
}

TEST(CarryOn, CoveringZoomCoversAndNoMore) {
    const Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 10, 8, -10, 0, 8);
    const auto least = zoomThatCovers(p, 0);
    ASSERT_TRUE(least);
    const double k = least->factor;
    // Frame 0's shutter opens a quarter of a frame before its key, and the spin runs on there.
    const double turned = 10 + 0.25 * speedAfter(transitionAt(p, 0).moves[0].channels[0].incoming, 0);
    EXPECT_LE(k, coveringZoom(turned, {1280, 720}) + 1e-6);
    EXPECT_GT(k, 1.2);
    const Project covered = withCoveringZoom(p, 0, k);
    for (int n = 17; n < 33; ++n) EXPECT_EQ(factsOf(covered, n).uncovered, 0) << n;
    EXPECT_EQ(zoomThatCovers(twoClips(), 0)->factor, 1);
}

TEST(FrameFacts, OutsideAClipThereAreNone) {
    const Project p = plungeProject();
    const ClipFacts facts(p, reelIndex(p), 0);
    EXPECT_EQ(facts.length(), 25);
    EXPECT_GT(facts.at(24).speed, 1);
    for (const std::int64_t frame : {-1, 25, 26, 1000}) EXPECT_EQ(facts.at(frame), FrameFacts()) << frame;
}

// Facts of a whole clip are looked for only where they can change: an adjustment without keys to move by changes them
// where it begins and ends.
TEST(FrameFacts, ChangeWhereAnAdjustmentBeginsAndEnds) {
    for (const auto& [start, length] : {std::pair{4, 7}, std::pair{-3, 8}, std::pair{18, 20}, std::pair{24, 2}}) {
        Project p = twoClips();
        Adjustment small;
        small.id = "adj-1";
        small.start = start, small.length = length;
        small.moves = {makeMove(MoveKind::Zoom, "move-30")};
        small.moves[0].channels[0].incoming.keys = {{0, 0.7}};
        p.adjustments = {small};
        const ReelIndex index = reelIndex(p);
        bool changed = false;
        for (int clip = 0; clip < 2; ++clip) {
            const ClipFacts facts(p, index, clip);
            for (std::int64_t n = 0; n < facts.length(); ++n) {
                const std::int64_t frame = index.starts[std::size_t(clip)] + n;
                EXPECT_EQ(facts.at(n), factsOf(p, frame)) << start << ": " << frame;
                changed = changed || !(factsOf(p, frame) == factsOf(p, 12));
            }
        }
        EXPECT_TRUE(changed) << start;
    }
}

TEST(FrameFacts, SpanFollowsTheKeysAndTheClips) {
    EXPECT_EQ(movingSpan(plungeProject(), 0).first, -5);
    EXPECT_EQ(movingSpan(plungeProject(), 0).last, 11);
    Project p = plungeProject();
    p.reel[1].length = 4;
    EXPECT_EQ(movingSpan(p, 0).last, 3);
    EXPECT_EQ(movingSpan(twoClips(), 0).first, -1);
}

} // namespace
} // namespace virga::carry_on_test
