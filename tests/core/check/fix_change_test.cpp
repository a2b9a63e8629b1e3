// How much fixes change, and that mending keeps the moves.
#include "core/check/fix_change.h"

#include <gtest/gtest.h>

#include "core/check/mend.h"
#include "core/curve/curve_edit.h"
#include "core/edit/carry_on.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/move_edits.h"
#include "tests/support/projects.h"

namespace virga::fix_change_test {
namespace {

using namespace test;

TEST(EditChanges, AreMeasuredOnWhatIsSeen) {
    const Project p = plungeProject();
    const EditChange none = changeBetween(p, p);
    EXPECT_EQ(none.frames, 0);
    EXPECT_EQ(none.seen, 0);
    EXPECT_TRUE(none.keepsMoves());
    // A slide of a tenth of the width over everything moves every point by that much, on all frames of the moves.
    const EditChange slid = changeBetween(p, withCoveringSlide(p, 0, {0.1 * p.settings.size.width, 0}));
    EXPECT_NEAR(slid.seen, 10, 0.01);
    EXPECT_EQ(slid.frames, 5 + 12);
    EXPECT_EQ(slid.travel, 1);
    // A shot that stands a tenth larger: its corners go a twentieth of the width and of the height outwards.
    const EditChange scaled = changeBetween(p, withShotScaled(p, 0, {1.1, {0.5, 0.5}}));
    const double diagonal = std::hypot(1.0, p.settings.size.height / double(p.settings.size.width));
    EXPECT_NEAR(changeBetween(twoClips(), withShotScaled(twoClips(), 0, {1.1, {0.5, 0.5}})).seen, 100 * 0.05 * diagonal,
                0.01);
    EXPECT_EQ(scaled.frames, p.reel[0].length);
}

TEST(EditChanges, TellWhatIsLeftOfTheMoves) {
    const Project p = plungeProject();
    const auto with = [&](double from, double to, double frames) {
        return withCurve(p, {0, 0, 0, Side::Incoming}, twoKeys(Space::Log2, 0, from, frames, to, arrivingShape()));
    };
    EXPECT_NEAR(changeBetween(with(0.5, 1, 12), with(0.9, 1, 12)).travel, std::log2(1 / 0.9), 1e-9) << "of one octave";
    EXPECT_FALSE(changeBetween(with(0.5, 1, 12), with(0.9, 1, 12)).keepsMoves());
    EXPECT_NEAR(changeBetween(with(0.5, 1, 12), with(0.5, 1, 6)).length, 0.5, 1e-9);
    EXPECT_EQ(changeBetween(with(0.5, 1, 12), with(0.25, 1, 24)).travel, 1) << "more is not less";
    EXPECT_TRUE(changeBetween(with(0.5, 1, 12), with(2, 1, 12)).keepsMoves()) << "turned round";
    EXPECT_EQ(changeBetween(p, withoutMove(p, 0, 0)).travel, 0);
}

// A slow departure into a large arrival: matched by its start value only a sliver of the arrival would be left, and
// that is nothing that is done unasked.
TEST(EditChanges, MendingKeepsTheMoves) {
    const Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.06, 10, 0.5, 1, 12);
    const auto weak = withAllMatched(p, 0, Match::ByValue);
    ASSERT_TRUE(weak);
    EXPECT_LT(changeBetween(p, *weak).travel, 0.5);
    const Mended mended = mendedReel(p);
    EXPECT_TRUE(changeBetween(p, mended.project).keepsMoves());
    EXPECT_GE(mended.done.size(), 1u);
    for (const Finding& f : flowAtCut(mended.project, 0).findings) EXPECT_NE(kindOf(f), "speed-step") << f.title;
    for (const std::string& line : mended.done) EXPECT_EQ(line.find("By start value"), std::string::npos) << line;
}

} // namespace
} // namespace virga::fix_change_test
