#include "core/flow/carry_on.h"

#include <gtest/gtest.h>

#include "core/flow/frame_facts.h"
#include "core/geom/coverage.h"
#include "tests/support/projects.h"

namespace virga {
namespace {

using namespace test;

TEST(CarryOn, MatchingGivesEqualDerivatives) {
    for (const bool keepValues : {true, false}) {
        const auto matched = withSpeedMatched(plungeProject(), 0, 0, 0, keepValues);
        ASSERT_TRUE(matched);
        const Channel& c = transitionAt(*matched, 0).moves[0].channels[0];
        EXPECT_NEAR(speedAfter(c.incoming, 0), speedBefore(c.outgoing, 0), 1e-9);
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
    EXPECT_NEAR(speedAfter(c.incoming, 0), speedBefore(c.outgoing, 0), 1e-9);
}

TEST(CarryOn, MatchAllReportsWhatCannotBeMet) {
    const Project back = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.75, 4, 1.5, 1, 4);
    EXPECT_FALSE(withAllMatched(back, 0, true)) << "it goes the other way";
    EXPECT_EQ(withAllMatched(twoClips(), 0, true).value(), twoClips()) << "nothing to match";
    EXPECT_EQ(withAllMatched(twoClips(), 9, true).value(), twoClips());
}

TEST(CarryOn, CoveringZoomCoversAndNoMore) {
    const Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 10, 8, -10, 0, 8);
    const auto k = zoomThatCovers(p, 0);
    ASSERT_TRUE(k);
    EXPECT_LE(*k, coveringZoom(10, {1280, 720}) + 1e-6);
    EXPECT_GT(*k, 1.2);
    const Project covered = withCoveringZoom(p, 0, *k);
    for (int n = 17; n < 33; ++n) EXPECT_EQ(factsOf(covered, n, 25).uncovered, 0) << n;
    EXPECT_EQ(zoomThatCovers(twoClips(), 0).value(), 1);
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
} // namespace virga
