// A cut or a clip that is not there (it was removed meanwhile, a script names it): every edit leaves the project as it
// is or says so, and every question has an empty answer.
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/check/flow_line.h"
#include "core/check/mend.h"
#include "core/edit/carry_on.h"
#include "core/edit/carrying_cuts.h"
#include "core/edit/continue_move.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/evening.h"
#include "core/edit/key_fixes.h"
#include "core/edit/line_up.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "core/plan/cut_match.h"
#include "core/recipe/fit.h"
#include "core/recipe/link.h"
#include "core/recipe/recipe.h"
#include "core/recipe/shot_heading.h"
#include "tests/support/projects.h"

namespace virga::no_such_cut_test {
namespace {

using namespace test;

class NoSuchCut : public testing::TestWithParam<int> {
protected:
    // An edit's result: the same project, or an error.
    void leaves(const Expected<Project>& after, const char* what) const {
        EXPECT_TRUE(!after || *after == m_project) << what;
    }
    Project m_project = plungeProject(); // two clips, one cut: number 0
    int m_cut = GetParam();
};

TEST_P(NoSuchCut, IsLeftAloneByEveryEdit) {
    const Project& p = m_project;
    const int cut = m_cut;
    ASSERT_FALSE(hasCut(p, cut));
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        leaves(withEvened(p, cut, side, EvenBy::Handle, 0), "evened");
        leaves(withEndKeysAtCut(p, cut, side), "end keys");
        leaves(withKeysBroughtToCut(p, cut, 0, 0, side), "keys brought");
        leaves(withValueReached(p, cut, 0, 0, side), "value reached");
        leaves(withSideFitted(p, cut, 0, 0, side), "side fitted");
        leaves(withoutOvershoot(p, cut, 0, 0, side), "overshoot");
        leaves(withSubject(p, cut, side, SubjectSeen{}), "subject");
        leaves(withOverlap(p, cut, Overlap{4, 4}, side), "overlap");
    }
    leaves(withEdgesAt(p, cut, EdgeFill::Repeat), "edges");
    leaves(withCoveringZoom(p, cut, 1.2), "covering zoom");
    leaves(withCoveringSlide(p, cut, {10, 0}), "covering slide");
    leaves(withShutterOpened(p, cut, 180), "shutter");
    leaves(withCarryingCut(p, cut, CarryingCut{}), "carrying cut");
    leaves(withIncomingTurned(p, cut, 0, 0), "turned");
    leaves(withSpeedMatched(p, cut, 0, 0, true), "speed");
    leaves(withAllMatched(p, cut, Match::ByHandle), "all matched");
    leaves(withProfileMirrored(p, cut, 0, 0), "mirrored");
    leaves(withAllMirrored(p, cut), "all mirrored");
    leaves(withDepartureMade(p, cut), "departure");
    leaves(withIncomingOverlapped(p, cut), "overlapped");
    leaves(withMoveContinued(p, cut), "continued");
    leaves(mendedCut(p, cut).project, "mended");
    leaves(withMovesRunningOn(p, cut), "running on");
    leaves(withSubjectsLinedUp(p, cut), "lined up");
    leaves(withCutRolled(p, cut, 3), "rolled");
    leaves(withCrossfade(p, cut, 10), "crossfade");
    const Ramp ramp{};
    leaves(withRampsAtCut(p, cut, &ramp, &ramp), "ramps");
    leaves(withOwnFolded(p, cut), "own folded");
    leaves(withOwnDropped(p, cut), "own dropped");
    leaves(withUseChanged(p, cut, RecipeUse{}), "use");
    leaves(withLinkCut(p, cut), "link");
    leaves(withCoverSolved(p, cut), "cover");
    leaves(withRecipeParts(p, cut, builtInRecipes().front(), RecipeParts{}), "recipe");
}

TEST_P(NoSuchCut, HasNothingToTell) {
    const Project& p = m_project;
    const int cut = m_cut;
    EXPECT_TRUE(flowAtCut(p, cut).findings.empty());
    EXPECT_FALSE(wayOf(p, cut, Side::Incoming));
    EXPECT_TRUE(waysToEven(p, cut, Side::Incoming).empty());
    EXPECT_FALSE(zoomThatCovers(p, cut));
    EXPECT_FALSE(slideThatCovers(p, cut));
    EXPECT_TRUE(channelLines(p, cut).empty());
    EXPECT_TRUE(carryingCuts(p, cut, {}).empty());
    EXPECT_TRUE(movementText(p, cut).empty());
    EXPECT_TRUE(mendedCut(p, cut).done.empty());
    EXPECT_FALSE(matchingRates(p, cut));
    EXPECT_FALSE(subjectAt(p, cut, Side::Outgoing));
    EXPECT_FALSE(headingOfShot(p, cut, {}));
    EXPECT_EQ(rollable(p, cut, 5), 0);
    EXPECT_FALSE(recipeFrom(p, cut, "None"));
    EXPECT_TRUE(ownTexts(p, cut).empty());
    EXPECT_FALSE(ownOfLane(p, cut, 0, 0).any());
    EXPECT_EQ(roomAt(p, cut), Room());
}

INSTANTIATE_TEST_SUITE_P(OfAnyNumber, NoSuchCut, testing::Values(-2, -1, 1, 2, 1000));

} // namespace
} // namespace virga::no_such_cut_test
