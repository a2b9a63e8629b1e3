// What the shots do by themselves: seen speeds with it, findings about it, cuts that carry on, shake taken off. The
// shots' movement is made here; reading it from pictures is tested in core/analysis.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/edit/carry_on.h"
#include "core/edit/carrying_cuts.h"
#include "core/edit/speed_edits.h"
#include "core/edit/steady.h"
#include "core/plan/cut_match.h"
#include "core/plan/seen_speed.h"
#include "core/project/clip_time.h"
#include "core/recipe/chain.h"
#include "core/recipe/shot_heading.h"
#include "tests/support/projects.h"
#include "tests/support/told.h"

namespace virga::shots_test {
namespace {

Expected<Project> withShakeTaken(const Project& project, int clip, const ShotMovement& shot) {
    const auto moves = steadyingMoves(project, clip, shot);
    if (!moves) return tl::unexpected(moves.error());
    return withSteadying(project, clip, *moves);
}

using namespace test;

TurnZoomSlide pan(double x, double y = 0) {
    return {1, 0, {x, y}};
}

struct Shots {
    Project project = twoClips();
    ShotMovements known;
    std::shared_ptr<const ShotMovements> shared() const { return std::make_shared<const ShotMovements>(known); }
    Shots(std::shared_ptr<const ShotMovement> out, std::shared_ptr<const ShotMovement> in) {
        project.settings.withShots = true;
        known[project.reel[0].mediaId] = std::move(out);
        known[project.reel[1].mediaId] = std::move(in);
    }
    const Finding* find(const CutFlow& flow, const char* kind) const {
        for (const Finding& f : flow.findings)
            if (kindOf(f) == kind) return &f;
        return nullptr;
    }
};

TEST(SeenWithShots, AShotsOwnPanIsSeenSpeed) {
    const Shots s(shotMovement([](int) { return pan(-0.01); }), shotMovement([](int) { return pan(0, 0.02); }));
    const CutVelocities v = velocitiesAtCut(s.project, reelIndex(s.project), 0, &s.known);
    EXPECT_NEAR(v.speedOut, 1, 1e-6) << "% of the width";
    EXPECT_NEAR(v.speedIn, 2, 1e-6);
    EXPECT_NEAR(velocitiesAtCut(s.project, 0).speedOut, 0, 1e-9) << "the moves alone";
    EXPECT_NEAR(SeenSpeeds(s.project, StackPlace(0), &s.known).at(Side::Outgoing, -3), 1, 1e-6);
    // Twice as fast through the source is twice as fast on the screen; a zoom of 2 enlarges it, too.
    Project p = s.project;
    p.reel[0].speed = 2;
    p.reel[0].placement.scale = 2;
    EXPECT_NEAR(velocitiesAtCut(p, reelIndex(p), 0, &s.known).speedOut, 4, 0.05);
}

// What may be a subject's movement is not judged as the camera's: neither counted nor held against a move; it is said.
TEST(SeenWithShots, WhatMayBeASubjectsIsLeftOutAndSaid) {
    auto doubted = *shotMovement([](int) { return pan(-0.02); });
    for (std::size_t i = 0; i < doubted.steps.size(); i += 2) doubted.steps[i].ofSubject = true; // not on every picture
    const Shots s(shotMovement([](int) { return pan(0.02); }), std::make_shared<const ShotMovement>(doubted));
    const CutVelocities v = velocitiesAtCut(s.project, reelIndex(s.project), 0, &s.known);
    EXPECT_FALSE(v.ownKnown);
    EXPECT_TRUE(v.subjectIn);
    EXPECT_FALSE(v.subjectOut);
    EXPECT_EQ(v.speedIn, 0);
    const CutFlow flow = flowAtCut(s.project, 0, s.shared());
    EXPECT_FALSE(s.find(flow, "shots-against")) << "the one goes right, the other left, perhaps";
    EXPECT_TRUE(std::any_of(flow.fine.begin(), flow.fine.end(), [&](const std::string& line) {
        return line.starts_with("What moves in " + s.project.reel[1].name + " may be its subject");
    }));
    EXPECT_FALSE(headingOfShot(s.project, 1, s.known)) << "no such cut";
    Project turned = s.project;
    std::swap(turned.reel[0].mediaId, turned.reel[1].mediaId);
    EXPECT_FALSE(headingOfShot(turned, 0, s.known)) << "plans do not follow it, either";
    EXPECT_TRUE(headingOfShot(s.project, 0, s.known));
}

// The farthest corner from the shot's own middle goes the arc that it turns by; a crop brings that middle elsewhere.
TEST(SeenWithShots, AShotTurnsAboutItsOwnMiddle) {
    const auto turning = shotMovement([](int) { return TurnZoomSlide{1, 1, {0, 0}}; });
    Shots s(turning, turning);
    const double arc = std::acos(-1.0) / 180;
    const auto seen = [&] { return velocitiesAtCut(s.project, reelIndex(s.project), 0, &s.known).speedIn; };
    EXPECT_NEAR(seen(), 100 * arc * std::hypot(640, 360) / 1280, 0.002);
    s.project.reel[1].crop.left = 0.2; // what is left, 1024 wide, fills the frame enlarged by 1.25
    EXPECT_NEAR(seen(), 100 * arc * std::hypot(1280 - 1.25 * (640 - 0.2 * 1280), 360) / 1280, 1e-3);
    s.project.reel[1].crop = {0, 0.2, 0, 0}; // 576 high, likewise
    EXPECT_NEAR(seen(), 100 * arc * std::hypot(640, 720 - 1.25 * (360 - 0.2 * 720)) / 1280, 1e-3);
}

TEST(SeenWithShots, AMoveAgainstAPanIsSlowerAndOneAlongItFaster) {
    const auto still = shotMovement([](int) { return pan(0); });
    const Shots s(shotMovement([](int) { return pan(-0.01); }), still);
    Project p = withMove(s.project, 0, MoveKind::Slide, 0, 0, -0.5, 10, 0.5, 0, 10);
    const double alone = velocitiesAtCut(p, 0).speedOut;
    EXPECT_NEAR(velocitiesAtCut(p, reelIndex(p), 0, &s.known).speedOut, alone + 1, 0.02);
}

// "Match speed" makes up for what the shots do, where the check counts it: else it would be offered again and again.
TEST(SeenWithShots, MatchingMakesUpForThem) {
    for (const double drift : {-0.01, 0.012}) {
        const Shots s(shotMovement([&](int) { return pan(drift); }), shotMovement([](int) { return pan(0); }));
        Project p = withMove(s.project, 0, MoveKind::Slide, 0, 0, 0.6, 10, -0.6, 0, 10);
        p = withMove(p, 0, MoveKind::Zoom, 0, 1, 1.5, 10, 0.7, 1, 10);
        for (const bool keepValues : {true, false}) {
            const auto matched = withAllMatched(p, 0, keepValues ? Match::ByHandle : Match::ByValue, &s.known);
            ASSERT_TRUE(matched) << describe(matched.error());
            const CutVelocities v = velocitiesAtCut(*matched, reelIndex(*matched), 0, &s.known);
            EXPECT_LT(v.difference, 0.01 * v.speedOut) << drift << keepValues;
            const CutVelocities alone = velocitiesAtCut(*matched, 0);
            EXPECT_GT(alone.difference, 0.5) << "the moves alone do not carry on: the shots' own part lies between";
        }
    }
}

TEST(ShotFindings, ShotsThatGoAgainstEachOther) {
    const auto left = shotMovement([](int) { return pan(-0.012); }),
               right = shotMovement([](int) { return pan(0.011); });
    const Shots s(left, right);
    const CutFlow flow = flowAtCut(s.project, 0, s.shared());
    const Finding* f = s.find(flow, "shots-against");
    ASSERT_TRUE(f);
    EXPECT_NE(f->detail.find("to the left"), std::string::npos) << f->detail;
    // Its near twin is fine, and so is a project that judges the moves alone.
    const Shots twin(left, left);
    EXPECT_FALSE(twin.find(flowAtCut(twin.project, 0, twin.shared()), "shots-against"));
    EXPECT_FALSE(flowAtCut(twin.project, 0, twin.shared()).fine.empty());
    Project off = s.project;
    off.settings.withShots = false;
    EXPECT_FALSE(s.find(flowAtCut(off, 0, s.shared()), "shots-against"));
    // The slide leads over.
    const auto fixed = f->fixes.back().apply(s.project);
    ASSERT_TRUE(fixed);
    const CutVelocities v = velocitiesAtCut(*fixed, reelIndex(*fixed), 0, &s.known);
    EXPECT_LT(v.difference, 0.35 * v.speedOut);
    EXPECT_FALSE(s.find(flowAtCut(*fixed, 0, s.shared()), "shots-against"));
}

// Whether they go against each other is a matter of the angle between them, however fast they are.
TEST(ShotFindings, GoingAgainstEachOtherIsAMatterOfTheAngle) {
    for (const double fast : {0.008, 0.03}) {
        const auto found = [&](double degrees) {
            const double a = degrees * M_PI / 180;
            const Shots s(shotMovement([&](int) { return pan(-fast); }),
                          shotMovement([&](int) { return pan(-fast * std::cos(a), -fast * std::sin(a)); }));
            return s.find(flowAtCut(s.project, 0, s.shared()), "shots-against") != nullptr;
        };
        // Between going on and going against there is turning: from 60 degrees on it is a finding.
        const auto turns = [&](double degrees, bool asFinding) {
            const double a = degrees * M_PI / 180;
            const Shots s(shotMovement([&](int) { return pan(-fast); }),
                          shotMovement([&](int) { return pan(-fast * std::cos(a), fast * std::sin(a)); }));
            const CutFlow flow = flowAtCut(s.project, 0, s.shared());
            const std::string words = fmt::format("turns by {:.0f}°", degrees);
            if (const Finding* f = s.find(flow, "shots-turn"); asFinding)
                return f && f->title.find(words) != std::string::npos;
            return std::any_of(flow.fine.begin(), flow.fine.end(),
                               [&](const std::string& line) { return line.find(words) != std::string::npos; });
        };
        for (const double degrees : {0.0, 20.0, 40.0})
            EXPECT_FALSE(turns(degrees, true) || turns(degrees, false)) << degrees;
        for (const double degrees : {50.0, 58.0}) EXPECT_TRUE(turns(degrees, false)) << degrees;
        for (const double degrees : {62.0, 90.0, 105.0}) EXPECT_TRUE(turns(degrees, true)) << degrees;
        EXPECT_FALSE(found(60)) << fast;
        EXPECT_FALSE(found(100)) << fast << ": across it";
        EXPECT_TRUE(found(115)) << fast << ": rather against it";
        EXPECT_TRUE(found(180)) << fast;
    }
}

TEST(ShotFindings, AnotherCutFrameWhereTheyAgree) {
    // The incoming clip begins a second into its source: it pans left from its tenth frame on.
    const Shots s(shotMovement([](int) { return pan(-0.012); }),
                  shotMovement([](int i) { return pan(i < 35 ? 0.012 : -0.012); }));
    const CutFlow flow = flowAtCut(s.project, 0, s.shared());
    const Finding* f = s.find(flow, "shots-against");
    ASSERT_TRUE(f);
    ASSERT_EQ(f->fixes.size(), 2u);
    EXPECT_NE(f->fixes[0].label.find("later"), std::string::npos) << f->fixes[0].label;
    const auto fixed = f->fixes[0].apply(s.project);
    ASSERT_TRUE(fixed);
    EXPECT_EQ(reelLength(*fixed), reelLength(s.project));
    EXPECT_GE(fixed->reel[0].length, s.project.reel[0].length + 9);
    EXPECT_FALSE(s.find(flowAtCut(*fixed, 0, s.shared()), "shots-against"));
}

// Mirrored moves carry on what moves do: that is no help where the shots move beside them.
TEST(ShotFindings, MirroringIsOfferedOnlyWhereTheShotsStandStill) {
    const auto offered = [](double speed, bool judged) {
        const auto shot = shotMovement([=](int) { return pan(-speed); });
        Shots s(shot, shot);
        s.project = withMove(s.project, 0, MoveKind::Zoom, 0, 1, 2, 10, 0.9, 1, 12);
        s.project.settings.withShots = judged;
        const CutFlow flow = flowAtCut(s.project, 0, judged ? s.shared() : nullptr);
        const Finding* f = s.find(flow, "speed-step");
        if (!f) return std::string("no step");
        for (const Fix& fix : f->fixes)
            if (fix.label.find("irror") != std::string::npos) return std::string("offered");
        return std::string("not offered");
    };
    EXPECT_EQ(offered(0, false), "offered");
    EXPECT_EQ(offered(0, true), "offered") << "known, and still";
    EXPECT_EQ(offered(0.004, true), "not offered");
    EXPECT_EQ(offered(0.004, false), "offered") << "it is not judged";
}

TEST(ShotFindings, APanAgainstTheMove) {
    const auto still = shotMovement([](int) { return pan(0); });
    Shots s(shotMovement([](int) { return pan(-0.012); }), still);
    s.project = withMove(s.project, 0, MoveKind::Slide, 0, 0, 0.5, 10, -0.5, 0, 10);
    const CutFlow flow = flowAtCut(s.project, 0, s.shared());
    const Finding* f = s.find(flow, "pan-against");
    ASSERT_TRUE(f);
    ASSERT_FALSE(f->fixes.empty());
    const auto fixed = f->fixes[0].apply(s.project);
    ASSERT_TRUE(fixed);
    EXPECT_FALSE(s.find(flowAtCut(*fixed, 0, s.shared()), "pan-against"));
    EXPECT_NEAR(evaluate(transitionAt(*fixed, 0).moves[0].channels[0].outgoing, 0), -0.5, 1e-9);
    // A zoom about a point beside the frame goes somewhere as a whole, too; nothing is there to turn round.
    s.project = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2, 10, 0.5, 1, 10);
    s.project.settings.withShots = true;
    s.project.reel[1].transition.moves[0].anchor = {-2, 0.5};
    const CutFlow zoomed = flowAtCut(s.project, 0, s.shared());
    ASSERT_TRUE(s.find(zoomed, "pan-against"));
    EXPECT_TRUE(s.find(zoomed, "pan-against")->fixes.empty());
    Project along = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, -0.5, 10, 0.5, 0, 10);
    along.settings.withShots = true;
    EXPECT_FALSE(s.find(flowAtCut(along, 0, s.shared()), "pan-against"));
}

TEST(CarryingCuts, FindWhereTheSpeedsAgreeAndKeepTheLength) {
    // The outgoing shot gets faster, the incoming one goes at one speed: they agree at one frame of the outgoing one.
    const Shots s(shotMovement([](int i) { return pan(-0.0005 * i); }), shotMovement([](int) { return pan(-0.0275); }));
    const auto found = carryingCuts(s.project, 0, s.known);
    ASSERT_FALSE(found.empty());
    EXPECT_LE(found.size(), 8u);
    for (std::size_t i = 1; i < found.size(); ++i) EXPECT_GE(found[i].score, found[i - 1].score);
    const auto put = withCarryingCut(s.project, 0, found[0]);
    ASSERT_TRUE(put);
    EXPECT_EQ(reelLength(*put), reelLength(s.project));
    const CutVelocities v = velocitiesAtCut(*put, reelIndex(*put), 0, &s.known);
    EXPECT_LT(v.difference, 0.06);
    EXPECT_GT(velocitiesAtCut(s.project, reelIndex(s.project), 0, &s.known).difference, 0.2);
    EXPECT_TRUE(carryingCuts(s.project, 0, {}).empty()) << "nothing is known";
    EXPECT_FALSE(withCarryingCut(s.project, 0, {1000, 0}));
}

TEST(CarryingCuts, SubjectsCount) {
    Shots s(shotMovement([](int) { return pan(-0.01); }), shotMovement([](int) { return pan(-0.01); }));
    Subject moving;
    for (int i = 0; i < 75; i += 5) {
        SubjectSpot spot;
        spot.time = Rational(i, 25);
        spot.at = {0.2 + 0.008 * i, 0.5};
        spot.size = 0.2;
        moving.path.push_back(spot);
    }
    Subject resting;
    resting.at = {0.6, 0.5};
    resting.size = 0.2;
    s.project.reel[0].subjectOut = moving;
    s.project.reel[1].subjectIn = resting;
    const auto found = carryingCuts(s.project, 0, s.known);
    ASSERT_FALSE(found.empty());
    EXPECT_TRUE(found[0].subjects);
    EXPECT_LT(found[0].place, 0.02);
}

TEST(CarryingCuts, LeaveAShortClipAPictureAtLeast) {
    Shots s(shotMovement([](int) { return pan(-0.01); }), shotMovement([](int i) { return pan(-0.0004 * i); }));
    s.project.reel[0].length = 3;
    for (int in = 0; in < 40; in += 4) { // each of them agrees best somewhere else
        s.project.reel[1].sourceIn = Rational(in, 25);
        const auto found = carryingCuts(s.project, 0, s.known);
        ASSERT_FALSE(found.empty()) << in;
        for (const CarryingCut& c : found) {
            EXPECT_GE(c.out, -2) << in;
            const auto put = withCarryingCut(s.project, 0, c);
            ASSERT_TRUE(put) << in;
            EXPECT_GE(put->reel[0].length, 1);
        }
    }
}

// Which cuts are offered, and which of all near ones can be had: read once, compared since (carrying.txt).
TEST(CarryingCuts, AreAsTheyWereRead) {
    std::string text;
    const auto tell = [&](const char* name, const Shots& s, int cut = 0) {
        text += fmt::format("== {}\n", name);
        for (const CarryingCut& c : carryingCuts(s.project, cut, s.known)) {
            text += fmt::format("out {} in {}: movement {}, place {}, size {}{}, score {}", c.out, c.in,
                                number(c.movement, 3), number(c.place, 3), number(c.size, 3),
                                c.subjects ? ", subjects" : "", number(c.score, 4));
            const auto put = withCarryingCut(s.project, cut, c);
            ASSERT_TRUE(put) << name;
            for (const Clip& clip : put->reel) text += fmt::format(" | {} from {}", clip.length, toText(clip.sourceIn));
            text += "\n";
        }
        text += fmt::format("the first two: {}\n", carryingCuts(s.project, cut, s.known, 2).size());
        // A row for each place of the cut, a sign for each first picture of the incoming shot: "x" can be had.
        for (const std::int64_t out : {-26, -25, -24, -6, -1, 0, 1, 7, 24, 25, 26}) {
            text += fmt::format("{:4} ", out);
            for (std::int64_t in = -28; in <= 28; in += 4) {
                CarryingCut c;
                c.out = out, c.in = in;
                text += withCarryingCut(s.project, cut, c) ? 'x' : '.';
            }
            text += "\n";
        }
    };
    const auto faster = shotMovement([](int i) { return pan(-0.0005 * i); });
    const auto steady = shotMovement([](int) { return pan(-0.0275); });
    const auto turns = shotMovement([](int i) {
        return TurnZoomSlide{1 + 0.001 * std::sin(i * 0.2), 0.1 * std::cos(i * 0.3), {-0.0004 * i, 0.003}};
    });
    tell("faster and faster, then steady", Shots(faster, steady));
    tell("both as they like", Shots(turns, faster));
    Shots twice(faster, steady);
    twice.project.reel[0].speed = 2, twice.project.reel[1].speed = Rational(1, 3);
    tell("twice as fast, then a third", twice);
    Shots back(faster, turns);
    back.project.reel[0].speed = -1;
    tell("backwards", back);
    Shots ramped(faster, steady);
    const Ramp out{100, 300, 12}, in{200, 100, 10};
    ramped.project = withRampsAtCut(ramped.project, 0, &out, &in);
    tell("ramps on both sides", ramped);
    Shots tight(faster, turns);
    for (Clip& c : tight.project.reel) c.sourceIn = Rational(0);
    tight.project.reel[1].length = 6;
    tell("nothing before, and short", tight);
    Shots moved(turns, turns);
    moved.project = withMove(moved.project, 0, MoveKind::Zoom, 0, 1, 2, 10, 0.5, 1, 10);
    moved.project.reel[0].placement.scale = 1.4;
    Subject goes, rests;
    for (int i = 0; i < 75; i += 5) {
        SubjectSpot spot;
        spot.time = Rational(i, 25), spot.at = {0.2 + 0.008 * i, 0.5 - 0.002 * i}, spot.size = 0.1 + 0.004 * i;
        goes.path.push_back(spot);
    }
    rests.at = {0.6, 0.4}, rests.size = 0.25;
    moved.project.reel[0].subjectOut = goes, moved.project.reel[1].subjectIn = rests;
    tell("subjects, under a zoom", moved);
    moved.project.reel[1].subjectIn.reset();
    tell("one subject alone", moved);
    test::expectAsRead("core/check/carrying.txt", text);
}

TEST(Steady, TakesAShakeOffAndLeavesAPan) {
    const Shots s(shotMovement([](int i) {
                      return TurnZoomSlide{1 + 0.002 * std::sin(i * 2.1),
                                           0.2 * std::sin(i * 1.7),
                                           {-0.006 + 0.01 * std::sin(i * 1.3), 0.008 * std::cos(i * 1.9)}};
                  }),
                  shotMovement([](int) { return pan(0); }));
    Project p = s.project;
    p.reel[0].length = 60;
    p.reel[0].sourceIn = Rational(0);
    const auto steady = withShakeTaken(p, 0, *s.known.begin()->second);
    ASSERT_TRUE(steady) << steady.error().message;
    EXPECT_TRUE(isSteadied(steady->reel[0]));
    // What lay in the middle of its first frame goes on evenly: from frame to frame its speed hardly changes any more.
    const auto unrest = [&](const Project& q) {
        const ReelIndex index = reelIndex(q);
        const ClipTime time(q, q.reel[0]);
        std::vector<Point> path;
        for (int n = 4; n < 50; ++n) {
            const FramePlan plan = planFrame(q, index, n);
            Point at;
            s.known.at("media-1")->between(time.secondsAt(0), time.secondsAt(n)).multVecMatrix(Point(0, 0), at);
            path.push_back(
                mapAt(*layerOfClip(plan, 0), n, q.settings.size).toScreen({640 + at.x * 1280, 360 + at.y * 1280}));
        }
        double sum = 0;
        for (std::size_t i = 2; i < path.size(); ++i) sum += (path[i] - path[i - 1] * 2 + path[i - 2]).length();
        return sum;
    };
    EXPECT_LT(unrest(*steady), 0.1 * unrest(p));
    // The pan itself stays: over forty frames the picture goes as far as before.
    const auto way = [&](const Project& q) {
        double sum = 0;
        const ReelIndex index = reelIndex(q);
        for (int n = 8; n < 48; ++n) {
            const FramePlan plan = planFrame(q, index, n);
            sum +=
                meanOf(velocitiesAt(*layerOfClip(plan, 0), n, q.settings.size, ownStepsAt(q, q.reel[0], n, s.known))).x;
        }
        return sum;
    };
    EXPECT_NEAR(way(*steady), way(p), 0.03);
    // No edge is bared by it.
    const ClipFacts facts(*steady, reelIndex(*steady), 0);
    ASSERT_GT(facts.runs().size(), 10u);
    for (const auto& run : facts.runs()) EXPECT_LT(run.facts.uncovered, 1e-3) << run.first;
    // Once more replaces it; and it can be given back.
    const auto again = withShakeTaken(*steady, 0, *s.known.begin()->second);
    ASSERT_TRUE(again);
    EXPECT_EQ(again->reel[0].drift.size(), 3u);
    EXPECT_TRUE(withoutSteadying(*steady, 0).reel[0].drift.empty());
    EXPECT_FALSE(withShakeTaken(p, 0, ShotMovement()));
}

TEST(ShotHeading, IsWhatTheOutgoingShotDoesMost) {
    const auto headingFor = [](const TurnZoomSlide& step) {
        const Shots s(shotMovement([&](int) { return step; }), nullptr);
        return headingOfShot(s.project, 0, s.known);
    };
    EXPECT_EQ(headingFor(pan(-0.01)), Heading::Left);
    EXPECT_EQ(headingFor(pan(0.01, 0.002)), Heading::Right);
    EXPECT_EQ(headingFor(pan(0, -0.01)), Heading::Up);
    EXPECT_EQ(headingFor({1.02, 0, {0, 0}}), Heading::In);
    EXPECT_EQ(headingFor({1, 1.5, {0, 0}}), Heading::Clockwise);
    EXPECT_EQ(headingFor(pan(0.001)), std::nullopt) << "it hardly moves";
    // A plan goes on from it.
    const Shots s(shotMovement([](int) { return pan(-0.01); }), shotMovement([](int) { return pan(-0.01); }));
    ChainOptions options;
    options.shots = std::make_shared<const ShotMovements>(s.known);
    bool along = false;
    for (std::uint32_t seed = 1; seed < 6; ++seed) {
        options.seed = seed;
        for (const Proposal& p : chainOf(s.project, options))
            along = along || p.label.find("as the shot goes") != std::string::npos;
    }
    EXPECT_TRUE(along);
}

} // namespace
} // namespace virga::shots_test
