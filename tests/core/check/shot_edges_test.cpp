// Edges of shots away from the moves of their cuts.
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/curve/curve_edit.h"
#include "core/curve/shape.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/line_up.h"
#include "core/edit/move_edits.h"
#include "core/edit/speed_edits.h"
#include "core/plan/clip_facts.h"
#include "tests/support/projects.h"

namespace virga::shot_edges_test {
namespace {

using namespace test;

const Finding* findingOf(const ClipFlow& flow, std::string_view name) {
    for (const Finding& f : flow.findings)
        if (f.name == name) return &f;
    return nullptr;
}

const Finding* foundAtClip(const ReelFlow& flow, int clip, std::string_view name) {
    return findingOf(*flow.clips[std::size_t(clip)], name);
}

double mostUncovered(const Project& project, int clip) {
    const ClipFacts facts(project, reelIndex(project), clip);
    double most = 0;
    for (std::int64_t n = 0; n < facts.length(); ++n) most = std::max(most, facts.at(n).uncovered);
    return most;
}

TEST(ShotEdges, AShotThatStandsSmallerThanTheFrameIsTold) {
    for (const EdgeFill edges : {EdgeFill::Mirror, EdgeFill::Repeat, EdgeFill::Hold, EdgeFill::Empty}) {
        Project p = twoClips();
        p.settings.edges = edges;
        EXPECT_EQ(foundAtClip(flowOfReel(p), 1, "copies"), nullptr);
        EXPECT_EQ(foundAtClip(flowOfReel(p), 1, "bare-edge"), nullptr);
        p.reel[1].placement.scale = 0.4;
        const ReelFlow flow = flowOfReel(p);
        const char* name = edges == EdgeFill::Empty ? "bare-edge" : "copies";
        const Finding* f = foundAtClip(flow, 1, name);
        ASSERT_TRUE(f) << int(edges);
        EXPECT_EQ(f->severity, edges == EdgeFill::Empty ? Severity::Breaks : Severity::WorthALook);
        EXPECT_NE((f->title + f->detail).find("84"), std::string::npos) << "1 - 0.4²: " << f->title << f->detail;
        ASSERT_FALSE(f->fixes.empty());
        EXPECT_EQ(f->fixes[0].label, "Scale the shot 2.50×") << "1 / 0.4";
        const auto fixed = f->fixes[0].apply(p);
        ASSERT_TRUE(fixed);
        EXPECT_EQ(foundAtClip(flowOfReel(*fixed), 1, name), nullptr);
        EXPECT_LT(mostUncovered(*fixed, 1), 1e-8);
    }
}

Project withOverlay(EdgeFill edges, double scale) {
    Project p = twoClips();
    Overlay o;
    o.clip = p.reel[1];
    o.clip.id = "above";
    o.clip.name = "Lantern";
    o.clip.length = 40;
    o.clip.edges = edges;
    o.clip.placement.scale = scale;
    o.start = 10;
    p.overlays.push_back(o);
    return p;
}

TEST(ShotEdges, AnOverlayFullOfCopiesIsTold) {
    const ReelFlow clean = flowOfReel(withOverlay(EdgeFill::Mirror, 1));
    ASSERT_EQ(clean.overlays.size(), 1U);
    EXPECT_TRUE(clean.overlays[0]->findings.empty());
    const Project p = withOverlay(EdgeFill::Mirror, 0.4);
    const ReelFlow flow = flowOfReel(p);
    const Finding* f = findingOf(*flow.overlays[0], "copies");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->title, "Copies fill 84 % of Lantern for 40 frames") << "1 - 0.4²";
    EXPECT_EQ(indexOf(p, f->place), 0);
    EXPECT_EQ(originOf(p, f->place), 10);
    ASSERT_EQ(f->fixes.size(), 2U);
    EXPECT_EQ(f->fixes[1].label, "Scale the overlay 2.50×");
    const auto all = flow.all();
    EXPECT_NE(std::find(all.begin(), all.end(), f), all.end());
    for (const Fix& fix : f->fixes) {
        const auto fixed = fix.apply(p);
        ASSERT_TRUE(fixed) << fix.label;
        EXPECT_TRUE(flowOfReel(*fixed).overlays[0]->findings.empty()) << fix.label;
    }
    Project gone = p;
    gone.overlays.clear();
    EXPECT_FALSE(f->fixes[0].apply(gone)) << "and nothing is changed";
}

// A picture in the picture is meant, and so is one that flies in; one that fills the frame and drifts off it is not.
TEST(ShotEdges, AnOverlayThatNoLongerFillsTheFrameIsTold) {
    EXPECT_TRUE(flowOfReel(withOverlay(EdgeFill::Empty, 0.4)).overlays[0]->findings.empty());
    const Project whole = withOverlay(EdgeFill::Empty, 1);
    Project fliesIn = withMoveAdded(whole, {StackPlace::Overlay, 0}, MoveKind::Slide);
    fliesIn.overlays[0].clip.transition.moves[0].channels[0].incoming.keys = {{.time = 0, .value = -100},
                                                                              {.time = 8, .value = 0}};
    EXPECT_GT(ClipFacts::ofOverlay(fliesIn, reelIndex(fliesIn), 0).at(3).bare, 0.1);
    EXPECT_TRUE(flowOfReel(fliesIn).overlays[0]->findings.empty());
    Project drifts = fliesIn;
    std::swap(drifts.overlays[0].clip.drift, drifts.overlays[0].clip.transition.moves);
    const ReelFlow flow = flowOfReel(drifts);
    const Finding* f = findingOf(*flow.overlays[0], "bare-edge");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->severity, Severity::WorthALook);
    EXPECT_EQ(f->frame, 0);
}

// What nothing has touched is taken over.
TEST(ShotEdges, OverlaysAreJudgedOnceWhereTheyAreAsTheyWere) {
    const auto p = std::make_shared<const Project>(withOverlay(EdgeFill::Mirror, 0.4));
    const ReelFlow first = flowOfReel(p);
    Project other = *p;
    other.reel[0].name = "Another";
    EXPECT_EQ(flowOfReel(std::make_shared<const Project>(other), first).overlays[0], first.overlays[0]);
    other.overlays[0].clip.placement.scale = 1;
    const ReelFlow second = flowOfReel(std::make_shared<const Project>(other), first);
    EXPECT_TRUE(second.overlays[0]->findings.empty());
}

TEST(ShotEdges, ADriftThatLeavesTheFrameIsTold) {
    Project p = withMoveAdded(twoClips(), {StackPlace::Drift, 0}, MoveKind::Slide);
    p.settings.edges = EdgeFill::Empty;
    p.reel[0].drift[0].channels[0].incoming =
        twoKeys(Space::Linear, 0, 0, double(p.reel[0].length), 0.3, *shapeNamed("linear"));
    const ReelFlow flow = flowOfReel(p);
    const Finding* f = foundAtClip(flow, 0, "bare-edge");
    ASSERT_TRUE(f);
    EXPECT_GT(f->frame, p.reel[0].length - 5) << "most at its end";
    const auto fixed = f->fixes[0].apply(p);
    ASSERT_TRUE(fixed);
    EXPECT_EQ(foundAtClip(flowOfReel(*fixed), 0, "bare-edge"), nullptr);
}

TEST(ShotEdges, AnAdjustmentThatShrinksAllIsTold) {
    Project p = twoClips();
    p.settings.edges = EdgeFill::Empty;
    Adjustment a;
    a.id = "adjustment-1", a.start = 2, a.length = 12;
    p.adjustments = {a};
    p = withMoveAdded(p, {StackPlace::Adjustment, 0}, MoveKind::Zoom);
    p.adjustments[0].moves[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1, 10, 0.8, *shapeNamed("linear"));
    EXPECT_TRUE(foundAtClip(flowOfReel(p), 0, "bare-edge"));
}

TEST(ShotEdges, AShotThatIsFittedInsideIsMeantSo) {
    Project p = twoClips();
    p.settings.edges = EdgeFill::Empty;
    p.media[0].size = {720, 1280}; // held upright
    for (Clip& clip : p.reel) clip.fit = Fit::Fit;
    EXPECT_EQ(foundAtClip(flowOfReel(p), 0, "bare-edge"), nullptr);
    p.settings.edges = EdgeFill::Mirror;
    EXPECT_TRUE(foundAtClip(flowOfReel(p), 0, "copies")) << "copies beside it stand all the while";
}

TEST(RampFindings, ARampOnAStillPictureShowsNothing) {
    Project p = twoClips();
    const Ramp ramp{100, 400, 10};
    p = withRampsAtCut(p, 0, &ramp, nullptr);
    const auto found = [&](const Project& q) {
        for (const Finding& f : flowAtCut(q, 0).findings)
            if (kindOf(f) == "ramp-shows-nothing") return std::optional(f);
        return std::optional<Finding>();
    };
    EXPECT_FALSE(found(p)) << "a film shows it";
    for (Media& m : p.media) m.still = true;
    const auto f = found(p);
    ASSERT_TRUE(f);
    EXPECT_EQ(f->name, "ramp-shows-nothing:outgoing");
    ASSERT_TRUE(f->fixes[0].safe);
    EXPECT_FALSE(found(*f->fixes[0].apply(p)));
}

// Subjects that were laid on each other stay there where both shots are scaled.
TEST(ShotEdges, BothShotsAreScaledTogether) {
    Project p = twoClips();
    p.settings.edges = EdgeFill::Mirror;
    p.reel[0].subjectOut = Subject{{0.4, 0.45}, 0.1, 0, {}};
    p.reel[1].subjectIn = Subject{{0.6, 0.5}, 0.25, 0, {}};
    auto lined = withSubjectsLinedUp(p, 0);
    ASSERT_TRUE(lined) << describe(lined.error());
    EXPECT_NEAR(lined->reel[1].placement.scale, 0.4, 1e-6);
    const ReelFlow flow = flowOfReel(*lined);
    const Finding* f = foundAtClip(flow, 1, "copies");
    ASSERT_TRUE(f);
    ASSERT_NE(f->fixes[0].label.find("Scale both shots at cut 1"), std::string::npos) << f->fixes[0].label;
    const auto fixed = f->fixes[0].apply(*lined);
    ASSERT_TRUE(fixed);
    EXPECT_LT(mostUncovered(*fixed, 1), 1e-8);
    const auto out = subjectAt(*fixed, 0, Side::Outgoing), in = subjectAt(*fixed, 0, Side::Incoming);
    ASSERT_TRUE(out && in);
    EXPECT_LT((out->at - in->at).length(), 1e-2);
    EXPECT_NEAR(out->radius / in->radius, 1, 1e-4);
}

} // namespace
} // namespace virga::shot_edges_test
