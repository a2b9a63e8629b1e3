#include "core/check/flow.h"

#include <algorithm>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/plan/clip_facts.h"
#include "tests/support/projects.h"

namespace virga::flow_test {
namespace {

using namespace test;

const Finding* find(const CutFlow& flow, const std::string& prefix) {
    for (const Finding& f : flow.findings)
        if (f.name.starts_with(prefix)) return &f;
    return nullptr;
}

bool isFine(const CutFlow& flow, const std::string& words) {
    return std::any_of(flow.fine.begin(), flow.fine.end(),
                       [&](const std::string& s) { return s.find(words) != std::string::npos; });
}

Project applied(const Project& p, const Finding& finding, std::size_t fix = 0) {
    const auto done = finding.fixes.at(fix).apply(p);
    EXPECT_TRUE(done) << describe(done.error());
    return done.value_or(p);
}

// Out to the right, in downwards, equally fast: each channel is fine by itself, the picture is not.
TEST(Flow, SeesTheDirectionChangeAndMendsIt) {
    Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.5, 8, 0, 0, 0, {Interpolation::Linear});
    // As many pixels down as right: heights are counted in frame heights.
    p = withCurve(p, {0, 0, 1, Side::Incoming},
                  twoKeys(Space::Linear, 0, -0.5 * 1280 / 720, 8, 0, {Interpolation::Linear}));
    const CutFlow flow = flowAtCut(p, 0);
    EXPECT_NEAR(flow.speedOut, flow.speedIn, 1e-3);
    const Finding* f = find(flow, "direction-step");
    ASSERT_TRUE(f);
    EXPECT_FALSE(isFine(flow, "Speed is steady"));
    const CutFlow mended = flowAtCut(applied(p, *f), 0);
    EXPECT_FALSE(find(mended, "direction-step"));
    EXPECT_TRUE(isFine(mended, "Speed is steady"));
}

TEST(Flow, TellsWhatSoloKeepsBack) {
    Project p = withMove(plungeProject(), 0, MoveKind::Spin, 0, 0, 90, 8, -90, 0, 8);
    EXPECT_FALSE(find(flowAtCut(p, 0), "solo"));
    p = withSolo(p, 0, 0, true);
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "solo");
    ASSERT_TRUE(f);
    EXPECT_FALSE(isFine(flow, "Spin carries on")) << "what is not on is not judged";
    EXPECT_FALSE(find(flowAtCut(applied(p, *f), 0), "solo"));
}

TEST(Flow, TheGravestComesFirstAndWhatIsEquallyGraveInTheReelsOrder) {
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.75, 8, 1.5, 1, 8);
    for (const char* id : {"third", "fourth"}) { // the same fault three times over
        Clip more = p.reel[1];
        more.id = id;
        p.reel.push_back(more);
    }
    const auto flow = flowOfReel(std::make_shared<const Project>(p), {});
    const auto all = flow.all();
    ASSERT_GT(all.size(), 4u);
    int equal = 0, softer = 0;
    for (std::size_t i = 1; i < all.size(); ++i) {
        const Finding &a = *all[i - 1], &b = *all[i];
        ASSERT_LE(int(a.severity), int(b.severity)) << a.name << ' ' << b.name;
        if (a.severity != b.severity) continue;
        ASSERT_GE(a.weight, b.weight) << a.name << ' ' << b.name;
        softer += a.weight > b.weight;
        if (a.weight != b.weight) continue;
        ++equal;
        EXPECT_LE(originOf(p, a.place), originOf(p, b.place)) << a.name << ' ' << b.name;
    }
    EXPECT_GT(equal, 0);
    EXPECT_GT(softer, 0);
}

// The classic mistake (common practice): zoom in 1 -> 1.75, then 1.5 -> 1, which shrinks.
TEST(Flow, SeesAChannelTurnBackAndTurnsItRound) {
    const Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.75, 4, 1.5, 1, 4);
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "turns-back:Zoom");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->severity, Severity::Breaks);
    EXPECT_EQ(f->title, "Zoom turns back at the cut");
    EXPECT_NE(f->detail.find("grows 1.00× → 1.75×"), std::string::npos) << f->detail;
    EXPECT_NE(f->detail.find("shrinks 1.50× → 1.00×"), std::string::npos) << f->detail;
    const CutFlow after = flowAtCut(applied(p, *f), 0);
    EXPECT_FALSE(find(after, "turns-back"));
    EXPECT_TRUE(isFine(after, "Zoom carries on"));
}

TEST(Flow, SeesBurntInBarsAndCropsThemOnEveryClipOfTheShot) {
    Project p = withClip(plungeProject(), 2, plungeProject().reel[1]); // the incoming shot once more
    Media& media = *std::find_if(p.media.begin(), p.media.end(), [&](auto& m) { return m.id == p.reel[1].mediaId; });
    EXPECT_FALSE(find(flowAtCut(p, 0), "bars")) << "not looked for yet";
    media.bars = Crop{};
    EXPECT_FALSE(find(flowAtCut(p, 0), "bars")) << "none found";
    media.bars = Crop{0, 0.125, 0, 0.13};
    p.reel[1].crop = {0.2, 0, 0, 0.2}; // the lower bar is off already
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "bars:incoming");
    ASSERT_TRUE(f);
    EXPECT_FALSE(find(flow, "bars:outgoing"));
    EXPECT_NE(f->detail.find("at the top"), std::string::npos) << f->detail;
    const Project cropped = applied(p, *f);
    EXPECT_EQ(cropped.reel[1].crop, (Crop{0.2, 0.125, 0, 0.2})) << "no side is cropped less than before";
    EXPECT_EQ(cropped.reel[2].crop, (Crop{0, 0.125, 0, 0.13}));
    EXPECT_TRUE(cropped.reel[0].crop.isEmpty()) << "another shot";
    EXPECT_FALSE(find(flowAtCut(cropped, 0), "bars"));
}

TEST(Flow, SeesTheWrongSignOfASpinAndOfASlide) {
    EXPECT_TRUE(
        find(flowAtCut(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, -90, 8, -90, 0, 8), 0), "turns-back:Spin"));
    EXPECT_FALSE(find(flowAtCut(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, -90, 8, 90, 0, 8), 0), "turns-back"));
    EXPECT_TRUE(
        find(flowAtCut(withMove(twoClips(), 0, MoveKind::Slide, 1, 0, -0.5, 8, -0.5, 0, 8), 0), "turns-back:Slide y"));
}

TEST(Flow, SeesAStepInSpeedAndMatchesIt) {
    const Project p = plungeProject();
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "speed-step");
    ASSERT_TRUE(f);
    EXPECT_GT(flow.speedOut, 2 * flow.speedIn);
    EXPECT_NE(f->title.find("Speed drops at the cut"), std::string::npos);
    for (const std::size_t fix : {std::size_t(0), std::size_t(1)}) {
        const CutFlow after = flowAtCut(applied(p, *f, fix), 0);
        EXPECT_NEAR(after.speedOut, after.speedIn, 0.02 * after.speedOut) << "fix " << fix;
        EXPECT_FALSE(find(after, "speed-step"));
        EXPECT_TRUE(isFine(after, "Speed is steady"));
    }
}

TEST(Flow, AStackIsMatchedAsAWhole) {
    Project p = withMove(plungeProject(), 0, MoveKind::Spin, 0, 0, -120, 8, 40, 0, 9);
    const Finding* f = nullptr;
    const CutFlow flow = flowAtCut(p, 0);
    ASSERT_TRUE(f = find(flow, "speed-step"));
    const CutFlow after = flowAtCut(applied(p, *f), 0);
    EXPECT_NEAR(after.speedOut, after.speedIn, 0.03 * after.speedOut);
}

TEST(Flow, SeesAMovementThatStopsDeadAndCarriesItOn) {
    const Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 1, 8, 0, 0, 0);
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "speed-step");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->title, "The movement stops dead at the cut");
    ASSERT_FALSE(f->fixes.empty());
    EXPECT_EQ(f->fixes[0].label, "Carry it on");
    const CutFlow after = flowAtCut(applied(p, *f), 0);
    EXPECT_NEAR(after.speedIn, after.speedOut, 0.02 * after.speedOut);
    EXPECT_FALSE(find(after, "turns-back"));
}

TEST(Flow, SeesABareEdgeAndFillsIt) {
    Project p = plungeProject();
    p.settings.edges = EdgeFill::Empty;
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "bare-edge");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->frame, 0);
    EXPECT_NE(f->detail.find("64.6 %"), std::string::npos)
        << "1 - 0.595 squared: the shutter opens a quarter before the key: " << f->detail;
    const CutFlow mirrored = flowAtCut(applied(p, *f, 0), 0);
    EXPECT_FALSE(find(mirrored, "bare-edge"));
    EXPECT_TRUE(isFine(mirrored, "No bare edge"));
    ASSERT_EQ(f->fixes.size(), 2u);
    EXPECT_EQ(f->fixes[1].label, "Cover with zoom 1.69") << "1 / 0.595, rounded up";
    const Project covered = applied(p, *f, 1);
    EXPECT_FALSE(find(flowAtCut(covered, 0), "bare-edge"));
}

// 0.62 of the frame's width is covered by one copy on each side (1.86), a fifth of it is not (0.6).
TEST(Flow, SeesWhereTheCopiesEnd) {
    Project p = plungeProject();
    p.settings.copies = 1;
    EXPECT_FALSE(find(flowAtCut(p, 0), "bare-edge"));
    p.reel[1].transition.moves[0].channels[0].incoming.keys.front().value = 0.2;
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "bare-edge");
    ASSERT_TRUE(f);
    EXPECT_NE(f->detail.find("66.9 %"), std::string::npos) << "1 - (3 * 0.192) squared: " << f->detail;
    EXPECT_EQ(f->fixes[0].label, "Lift the limit on copies");
    const Project more = applied(p, *f, 0);
    EXPECT_EQ(more.settings.copies, 0);
    EXPECT_EQ(more.reel, p.reel) << "the edges stay as they are";
    EXPECT_FALSE(find(flowAtCut(more, 0), "bare-edge"));
}

TEST(Flow, SeesALastKeyOnTheLastFrame) {
    Project p = plungeProject();
    Curve& out = p.reel[1].transition.moves[0].channels[0].outgoing;
    out = withKeyMoved(out, 1, -1, 2.5);
    EXPECT_FALSE(find(flowAtCut(p, 0), "last-key-early")) << "it runs on through that frame's exposure";
    const double whole = factsOf(p, 24).blur;
    p.reel[1].transition.moves[0].holds = true;
    const CutFlow held = flowAtCut(p, 0);
    ASSERT_TRUE(find(held, "last-key-early"));
    EXPECT_NE(find(held, "last-key-early")->title.find("half its blur"), std::string::npos);
    EXPECT_LT(factsOf(p, 24).blur, 0.7 * whole);
    p.reel[1].transition.moves[0].holds = false;
    out = withKeyMoved(out, 1, -1.5, 2.5);
    const CutFlow flow = flowAtCut(p, 0);
    const Finding* f = find(flow, "last-key-early");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->frame, -1);
    EXPECT_EQ(factsOf(p, 24).blur, 0);
    const Project fixed = applied(p, *f);
    EXPECT_EQ(fixed.reel[1].transition.moves[0].channels[0].outgoing.keys[1].time, 0);
    EXPECT_TRUE(isFine(flowAtCut(fixed, 0), "has its blur"));
}

TEST(Flow, CountsCopiesThatAreSeenSlowly) {
    // Half the size for a long, slow time: a kaleidoscope.
    const Project slow = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.02, 20, 0.6, 0.65, 20, {Interpolation::Linear},
                                  {Interpolation::Linear});
    EXPECT_TRUE(find(flowAtCut(slow, 0), "copies"));
    EXPECT_FALSE(find(flowAtCut(withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2.5, 5, 0.98, 1, 3), 0), "copies"));
}

TEST(Flow, IgnoredFindingsStaySilentAndUnknownMovesAreTold) {
    Project p = plungeProject();
    p.reel[1].transition.ignored = {"speed-step"};
    EXPECT_FALSE(find(flowAtCut(p, 0), "speed-step"));
    Move unknown = makeMove(MoveKind::Unknown, "move-9");
    unknown.kindName = "teleport";
    p.reel[1].transition.moves.push_back(unknown);
    const CutFlow flow = flowAtCut(p, 0);
    ASSERT_TRUE(find(flow, "unknown-move"));
    EXPECT_NE(find(flow, "unknown-move")->title.find("teleport"), std::string::npos);
}

TEST(Flow, SaysNothingAboutAStillCutOrNoCut) {
    EXPECT_TRUE(flowAtCut(twoClips(), 0).findings.empty());
    EXPECT_TRUE(flowAtCut(twoClips(), 0).fine.empty());
    EXPECT_TRUE(flowAtCut(twoClips(), 5).findings.empty());
    EXPECT_TRUE(flowAtCut(Project(), 0).findings.empty());
}

TEST(Flow, TheGravestComesFirst) {
    Project p = plungeProject();
    p.settings.edges = EdgeFill::Empty;
    const CutFlow flow = flowAtCut(p, 0);
    for (std::size_t i = 1; i < flow.findings.size(); ++i)
        EXPECT_LE(flow.findings[i - 1].severity, flow.findings[i].severity);
}

} // namespace
} // namespace virga::flow_test
