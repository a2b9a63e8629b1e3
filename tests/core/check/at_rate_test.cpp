// What a result of a higher rate shows at a cut, and the curves matched for it.
#include "core/check/at_rate.h"

#include <gtest/gtest.h>

#include "core/curve/matching.h"
#include "core/edit/carry_on.h"
#include "core/edit/piece_edits.h"
#include "core/plan/cut_match.h"
#include "core/project/project_file.h"
#include "tests/support/projects.h"

namespace virga::at_rate_test {
namespace {

using namespace test;

double ratioAt(const Project& project, FrameRate rate) {
    const CutVelocities v = velocitiesAtCut(withRate(project, rate), 0);
    return std::max(v.speedOut, v.speedIn) / std::min(v.speedOut, v.speedIn);
}

// A zoom that leaves ever faster into one that settles: the frames beside the cut go equally fast at the piece's rate.
Project matchedByFrames() {
    return withAllMatched(plungeProject(), 0, Match::ByHandle).value();
}

TEST(AtRate, FramesThatAgreeMayDifferAtAHigherRate) {
    const Project p = matchedByFrames();
    EXPECT_LT(ratioAt(p, 25), 1.01);
    EXPECT_GT(ratioAt(p, 100), 1.15) << "the speeds at the cut itself differ";
    const auto found = foundOnlyAt(p, 100);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].name, "speed-step");
    EXPECT_TRUE(foundOnlyAt(p, 25).empty());
    EXPECT_TRUE(foundOnlyAt(p, 0).empty());
}

TEST(AtRate, CurvesMatchedCarryOnAtEveryRate) {
    std::vector<Project> pieces = {matchedByFrames(), plungeProject()};
    Project early = plungeProject(); // its last key lies on frame -1
    for (Key& key : early.reel[1].transition.moves[0].channels[0].outgoing.keys) key.time -= 1;
    pieces.push_back(early);
    pieces.push_back(withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 1.2, 9, -1, 0, 14));
    for (const Project& p : pieces) {
        const auto matched = withAllMatched(p, 0, Match::Curves);
        ASSERT_TRUE(matched) << describe(matched.error());
        for (const FrameRate rate :
             {FrameRate(25), FrameRate(30), FrameRate(50), FrameRate(60), FrameRate(100), FrameRate(500)})
            EXPECT_LT(ratioAt(*matched, rate), 1.1) << rate.toDouble();
        EXPECT_LT(ratioAt(*matched, 25), 1.001);
        const Channel& c = transitionAt(*matched, 0).moves[0].channels[0];
        EXPECT_LT(unevenness(c.incoming), mostUneven);
    }
}

// The last frame before the cut is levelled: what comes before it stays as it was.
TEST(AtRate, TheOutgoingSideKeepsItsWayUpToItsLastFrame) {
    const Project p = matchedByFrames();
    const Curve before = transitionAt(p, 0).moves[0].channels[0].outgoing,
                after = transitionAt(*withAllMatched(p, 0, Match::Curves), 0).moves[0].channels[0].outgoing;
    for (double t = -6; t <= -1; t += 0.25) EXPECT_NEAR(evaluate(after, t), evaluate(before, t), 1e-9) << t;
    EXPECT_NEAR(speedBefore(after, 0), speedBefore(before, -1), 1e-6);
    EXPECT_EQ(levelledAtCut(after, 1.1), after) << "once is enough";
}

// The demo is judged at twice its rate as at its own, but for what the rate itself shows.
TEST(AtRate, LimitsMeanTheSameInSeconds) {
    const auto demo = loadProject(std::filesystem::path(VIRGA_SOURCE_DIR) / "demo/lantern-regatta.virga");
    ASSERT_TRUE(demo);
    const FrameRate twice = demo->settings.rate * FrameRate(2);
    const ReelFlow flow = flowOfReel(deliveredAt(*demo, twice));
    for (const Finding* f : flow.all()) EXPECT_EQ(f->name, "speed-step") << f->title;
    EXPECT_EQ(deliveredAt(*demo, demo->settings.rate), *demo);
}

TEST(AtRate, ThePieceIsMatchedForARate) {
    const Project p = matchedByFrames();
    const CurvesMatched matched = withCurvesMatched(p, 100);
    EXPECT_EQ(matched.done, std::vector<int>{0});
    EXPECT_TRUE(matched.left.empty());
    EXPECT_EQ(matched.project.settings.rate, p.settings.rate);
    EXPECT_TRUE(foundOnlyAt(matched.project, 100).empty());
    EXPECT_EQ(withCurvesMatched(matched.project, 100).project, matched.project) << "nothing is left to do";
}

} // namespace
} // namespace virga::at_rate_test
