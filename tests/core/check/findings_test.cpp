// Every finding: a project that has the fault, a near twin on the right side of the limit that has not, and a fix that
// removes it and adds none.
#include <algorithm>
#include <gtest/gtest.h>
#include <regex>
#include <set>

#include "core/check/flow.h"
#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/edit/evening.h"
#include "core/edit/key_fixes.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "tests/support/projects.h"

namespace virga::findings_test {
namespace {

using namespace test;

constexpr Shape straight{Interpolation::Linear};

// Three clips of 50 frames with a plunge at each cut: a reel that moves.
Project threeClips() {
    Project p = plungeProject();
    Clip third = p.reel[0];
    third.id = "clip-99";
    third.transition = p.reel[1].transition;
    for (Move& m : third.transition.moves) m.id = "move-99";
    p.reel.push_back(third);
    for (Clip& clip : p.reel) clip.length = 50, clip.sourceIn = Rational(2);
    for (Media& media : p.media) media.duration = Rational(20);
    for (int cut : {0, 1}) {
        Curve& in = p.reel[std::size_t(cut) + 1].transition.moves[0].channels[0].incoming;
        in = withLeaveHandle(in, 0, {0.12, 0.9 * std::log2(1 / 0.62)});
    }
    return p;
}

// Linear slides on both sides, so fast: % of the width a frame.
Project slidingAt(double percent, int frames = 10) {
    const double way = percent / 100 * frames;
    return withMove(twoClips(), 0, MoveKind::Slide, 0, 0, way, frames, -way, 0, frames, straight, straight);
}

struct Case {
    const char* name; // of the finding, or how it begins
    Project fault, twin;
    std::size_t fix = 0;         // which of its fixes
    bool fixable = true;         // has any
    const char* alone = nullptr; // another finding that belongs to the fault
};

std::vector<std::string> namesIn(const Project& p) {
    std::vector<std::string> names;
    const ReelFlow flow = flowOfReel(p);
    for (const Finding* f : flow.all()) names.push_back(f->name);
    return names;
}

std::optional<Finding> findIn(const Project& p, const std::string& prefix) {
    const ReelFlow flow = flowOfReel(p);
    for (const Finding* f : flow.all())
        if (f->name.starts_with(prefix)) return *f;
    return std::nullopt;
}

// What mending all at once may do: it keeps what the editor made but for the fault. Everything else is the editor's own
// choice. By finding and label, without the numbers in it.
bool mayBeMendedUnasked(const std::string& finding, const std::string& label, bool first) {
    if (finding == "falls-away" || finding == "jumps-in") return first; // of several ways the one that is usual
    static const std::set<std::string> safe = {
        "first-key-late: Put the key on the cut",
        "first-key-late: Run on",
        "ramp-not-carried: Let the next shot come in at #",
        "ramp-not-carried: Let the shot before race up to #",
        "ramp-strobes: Open the shutter to #",
        "speed-step: Lead into it",
        "still: Add a creeping drift",
        "strobing: Open the shutter to #",
        "tilt-left: Hand over the tilt",
    };
    static const std::regex number("[0-9.]+( %|°|×)?");
    return safe.contains(finding.substr(0, finding.find(':')) + ": " + std::regex_replace(label, number, "#"));
}

void check(const Case& c) {
    SCOPED_TRACE(c.name);
    const auto found = findIn(c.fault, c.name);
    ASSERT_TRUE(found) << ::testing::PrintToString(namesIn(c.fault));
    EXPECT_FALSE(found->title.empty());
    EXPECT_FALSE(found->detail.empty()) << found->title;
    EXPECT_FALSE(findIn(c.twin, c.name)) << "the twin has it too";
    ASSERT_EQ(c.fixable, !found->fixes.empty());
    if (!c.fixable) return;
    ASSERT_LT(c.fix, found->fixes.size());
    for (const Fix& fix : found->fixes)
        EXPECT_EQ(fix.safe, mayBeMendedUnasked(found->name, fix.label, &fix == &found->fixes.front()))
            << found->name << ": " << fix.label;
    const auto mended = found->fixes[c.fix].apply(c.fault);
    ASSERT_TRUE(mended) << describe(mended.error());
    EXPECT_FALSE(*mended == c.fault);
    EXPECT_FALSE(findIn(*mended, c.name)) << found->fixes[c.fix].label << " does not mend it";
    const auto before = namesIn(c.fault);
    for (const std::string& name : namesIn(*mended)) {
        // A longer way shows more of what lies beyond the frame: found by itself then.
        if (name == "copies" && std::string_view(c.name) == "falls-away") continue;
        EXPECT_TRUE(std::find(before.begin(), before.end(), name) != before.end())
            << found->fixes[c.fix].label << " adds " << name;
    }
}

TEST(Findings, FallsAwayAfterTheCut) {
    // 40 % a frame at the cut, and 0.03 doublings to go.
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2.5, 5, 0.62, 1, 12);
    Curve& in = p.reel[1].transition.moves[0].channels[0].incoming;
    in = withLeaveHandle(in, 0, {0.02, 0.9 * std::log2(1 / 0.62)});
    const Project fault = p;
    const auto found = findIn(fault, "falls-away");
    ASSERT_TRUE(found) << ::testing::PrintToString(namesIn(fault));
    EXPECT_NE(found->title.find(", then "), std::string::npos) << found->title;
    EXPECT_NE(found->detail.find("doublings to travel"), std::string::npos) << found->detail;
    Curve& calm = p.reel[1].transition.moves[0].channels[0].incoming; // anew: the fault has the other one
    calm = withLeaveHandle(calm, 0, {0.12, 0.9 * std::log2(1 / 0.62)});
    for (std::size_t fix = 0; fix < found->fixes.size(); ++fix) check({"falls-away", fault, p, fix});
    EXPECT_GE(found->fixes.size(), 2u);
}

TEST(Findings, AWayThatIsTooShortIsOfferedAnotherStartALengthOrASofterDeparture) {
    // 0.15 doublings at 0.4 a frame: no handle does.
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2.5, 5, 0.9, 1, 12);
    Curve& in = p.reel[1].transition.moves[0].channels[0].incoming;
    in = withLeaveHandle(in, 0, {0.02, 0.98 * std::log2(1 / 0.9)});
    const auto found = findIn(p, "falls-away");
    if (!found) GTEST_FAIL() << ::testing::PrintToString(namesIn(p));
    std::string labels;
    for (const Fix& fix : found->fixes) labels += fix.label + "; ";
    EXPECT_NE(labels.find("Start at 0."), std::string::npos) << labels;
    EXPECT_NE(labels.find("Soften the departure"), std::string::npos) << labels;
    for (std::size_t fix = 0; fix < found->fixes.size(); ++fix) check({"falls-away", p, twoClips(), fix});
}

TEST(Findings, JumpsInBeforeTheCut) {
    // From rest to its whole speed within a frame and a half.
    const auto lasting = [](double frames) {
        return withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.3, frames, 0.62, 1, 12, straight);
    };
    check({"jumps-in", lasting(1.5), lasting(8)});
}

TEST(Findings, StartsFromNothing) {
    const Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0, 0, -0.5, 0, 10);
    for (const std::size_t fix : {std::size_t(0), std::size_t(1)}) check({"speed-step", p, slidingAt(8), fix});
    Project spent = p; // no frame of the outgoing shot is left to lie beneath
    spent.media[0].duration = p.reel[0].sourceIn + Rational(p.reel[0].length, 25);
    const auto refused = findIn(spent, "speed-step")->fixes[1].apply(spent);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().message.find("spare frames"), std::string::npos);
    const auto found = findIn(p, "speed-step");
    EXPECT_EQ(found->title, "The movement starts from nothing at the cut");
}

TEST(Findings, FirstFrameHasHalfItsBlur) {
    Project p = slidingAt(8);
    p.reel[1].transition.moves[0].holds = true;
    Project late = slidingAt(8);
    check({"first-key-late", p, late, 0});
    check({"first-key-late", p, late, 1});
    Curve& in = late.reel[1].transition.moves[0].channels[0].incoming;
    in = withKeyMoved(in, 0, 0.5, in.keys[0].value);
    const auto found = findIn(late, "first-key-late");
    ASSERT_TRUE(found);
    EXPECT_NE(found->title.find("no blur"), std::string::npos);
}

// The start nearest to where the movement comes to rest, wherever that is: the same fault farther to the side is made
// even by the same way.
TEST(Evening, ByValueGoesByTheWayToTheRest) {
    const auto start = [](double aside) {
        Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0.8 + aside, aside, 10, -0.2 + aside, aside, 12);
        p.reel[1].transition.moves[0].channels[0].incoming =
            twoKeys(Space::Linear, 0, -0.2 + aside, 12, aside, straight);
        const auto done = withEvened(p, 0, Side::Incoming, EvenBy::Value, 0);
        EXPECT_TRUE(done) << aside;
        return done ? transitionAt(*done, 0).moves[0].channels[0].incoming.keys.front().value - aside : 0;
    };
    const double plain = start(0);
    for (const double aside : {0.5, -0.5, 1.0}) EXPECT_NEAR(start(aside), plain, 1e-6) << aside;
}

TEST(Findings, AKeysValueIsNeverReached) {
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2.5, 8, 0.62, 1, 12, straight);
    Curve& out = p.reel[1].transition.moves[0].channels[0].outgoing;
    out = withKeyMoved(out, 1, 4, 2.5); // 7 of 12 frames of the way
    const Project fault = p;
    Curve& nearer = p.reel[1].transition.moves[0].channels[0].outgoing; // anew: the fault has the other one
    nearer = withKeyMoved(nearer, 1, 0.4, 2.5);
    const auto found = findIn(fault, "not-reached:Zoom outgoing");
    ASSERT_TRUE(found);
    EXPECT_NE(found->detail.find("frame −1 shows 1."), std::string::npos) << found->detail;
    EXPECT_FALSE(findIn(p, "not-reached"));
    const Project brought = found->fixes[0].apply(fault).value();
    EXPECT_EQ(transitionAt(brought, 0).moves[0].channels[0].outgoing.keys.back().time, 0);
    EXPECT_FALSE(findIn(brought, "not-reached"));
    const Project raised = found->fixes[1].apply(fault).value();
    EXPECT_NEAR(evaluate(transitionAt(raised, 0).moves[0].channels[0].outgoing, -1), 2.5, 1e-6);
    // One curve through the cut reaches on the other side what it does not on this one.
    const Curve through = twoKeys(Space::Linear, -10, 0, 10, 360, shapeNamed("ease-in-out").value());
    Project turn = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 1, 8, 1, 0, 8);
    turn.reel[1].transition.moves[0].channels[0] = {through, through};
    EXPECT_FALSE(findIn(turn, "not-reached"));
    // Two curves that meet within 2 % of the way are one; the way is what lies between the keys, wherever they lie.
    const auto meeting = [](double step) {
        Project q = withMove(twoClips(), 0, MoveKind::Slide, 0, 1, 2, 8, 1, 0, 8);
        Channel& c = q.reel[1].transition.moves[0].channels[0];
        c.outgoing = twoKeys(Space::Linear, -10, 1, 10, 2, straight);
        c.incoming = twoKeys(Space::Linear, 0, 1.5 + step, 8, 0, straight);
        return findIn(q, "not-reached").has_value();
    };
    EXPECT_FALSE(meeting(0.015));
    EXPECT_TRUE(meeting(0.04));
}

TEST(Findings, StandsStillInAReelThatMoves) {
    const Project fault = threeClips();
    Project twin = withCreepingDrift(fault, 1);
    check({"still", fault, twin, 0});
    check({"still", fault, twin, 1}); // the keys spread over the shot
    // Two frames of stillness are none.
    Project two = fault;
    two.reel[1].length = 12 + 5 + 2;
    EXPECT_FALSE(findIn(two, "still"));
    two.reel[1].length = 12 + 5 + 4;
    EXPECT_TRUE(findIn(two, "still"));
    EXPECT_FALSE(findIn(plungeProject(), "still"))
        << "before the first movement and after the last one nothing is missing";
}

TEST(Findings, SpreadKeysKeepTheRatesAtTheCuts) {
    const Project p = threeClips();
    const Project spread = withKeysSpread(p, 1, 12, 45).value();
    for (int cut : {0, 1}) {
        const CutFlow before = flowAtCut(p, cut), after = flowAtCut(spread, cut);
        EXPECT_NEAR(after.speedIn, before.speedIn, 0.02 * before.speedIn) << cut;
        EXPECT_NEAR(after.speedOut, before.speedOut, 0.02 * before.speedOut) << cut;
    }
}

TEST(Findings, HitchInsideASide) {
    Project p = slidingAt(8, 12);
    const Project twin = p;
    Curve& out = p.reel[1].transition.moves[0].channels[0].outgoing;
    int key = 0;
    out = withKeyAdded(out, -6, 0, &key);
    for (int k : {key - 1, key}) out = withShape(out, k, shapeNamed("ease-in-out").value());
    check({"hitch:outgoing", p, twin});
    // To and fro is no hitch: it has to stand still where it turns.
    Project jolt = twin;
    Curve& j = jolt.reel[1].transition.moves[0].channels[0].outgoing;
    j.keys = {{-8, 0, Interpolation::Linear, {}, {}},
              {-6, 0.3, Interpolation::Linear, {}, {}},
              {-4, -0.3, Interpolation::Linear, {}, {}},
              {-2, 0.3, Interpolation::Linear, {}, {}},
              {0, -0.3, Interpolation::Linear, {}, {}}};
    EXPECT_FALSE(findIn(jolt, "hitch"));
}

TEST(Findings, MagnifiedWhileSlow) {
    Project p = twoClips();
    p.reel[0].drift = {makeMove(MoveKind::Zoom, "move-5")};
    Curve& zoom = p.reel[0].drift[0].channels[0].incoming;
    zoom.keys = {{0, 1.7}};
    Project twin = p;
    twin.reel[0].drift[0].channels[0].incoming.keys = {{0, 1.5}};
    check({"magnified", p, twin});
    EXPECT_FALSE(findIn(withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2.5, 3, 0.62, 1, 12), "magnified"))
        << "it is fast";
    Project few = twoClips(); // too few pixels: no zoom is to blame
    few.media[0].size = {320, 180};
    const auto found = findIn(few, "magnified");
    ASSERT_TRUE(found);
    EXPECT_TRUE(found->fixes.empty());
}

TEST(Findings, TheSourceRunsOut) {
    Project p = twoClips();
    const Project twin = p;
    p.media[0].duration = p.reel[0].sourceIn + Rational(20, 25);
    check({"source-ends", p, twin});
    EXPECT_EQ(findIn(p, "source-ends")->frame, 20);
}

TEST(Findings, ARampIsNotCarriedThroughTheCut) {
    const auto ramped = [](double out, double in) {
        Project p = twoClips();
        for (Media& m : p.media) m.duration = 30;
        for (Clip& c : p.reel) c.sourceIn = 10;
        const Ramp a{100, out, 10}, b{100, in, 10};
        return withRampsAtCut(p, 0, out > 0 ? &a : nullptr, in > 0 ? &b : nullptr);
    };
    check({"ramp-not-carried", ramped(800, 0), ramped(800, 800)});
    check({"ramp-not-carried", ramped(0, 700), ramped(600, 700)});
    EXPECT_TRUE(findIn(ramped(800, 300), "ramp-not-carried")) << "2.6 to 1";
    EXPECT_FALSE(findIn(twoClips(), "ramp-not-carried")) << "constant speeds are no ramp";
    Project backwards = ramped(800, 800);
    for (Key& k : backwards.reel[1].speedCurve.incoming.keys) k.value = -k.value;
    EXPECT_TRUE(findIn(backwards, "ramp-not-carried"));
}

TEST(Findings, ARampRunsOutOfItsSource) {
    Project p = twoClips();
    p.media[0].duration = 4;
    p.reel[0].sourceIn = 2;
    const Ramp ramp{100, 1000, 20};
    p = withRampsAtCut(p, 0, &ramp, nullptr);
    const auto found = findIn(p, "source-ends");
    ASSERT_TRUE(found);
    ASSERT_EQ(found->fixes.size(), 3u) << "shorten, begin earlier, a slower ramp";
    for (const Fix& fix : found->fixes) {
        const auto mended = fix.apply(p);
        ASSERT_TRUE(mended) << fix.label;
        EXPECT_FALSE(findIn(*mended, "source-ends")) << fix.label;
        EXPECT_EQ(mended->reel[0].length == p.reel[0].length, fix.label != found->fixes[0].label);
    }
}

TEST(Findings, MadeUpPicturesAreGuessed) {
    Project p = twoClips();
    p.reel[0].inBetween = InBetween::MadeUp;
    p.reel[0].guess = Guess{0.4, 7};
    Project twin = p;
    twin.reel[0].guess->share = 0.2;
    check({"guessed", p, twin});
    EXPECT_EQ(findIn(p, "guessed")->frame, 7);
    p.reel[0].inBetween = InBetween::Mix;
    EXPECT_FALSE(findIn(p, "guessed"));
}

TEST(Findings, FramesOfAnotherShotAtAClipsEnds) {
    Project p = twoClips(); // pictures 25 to 49 of their files
    p.reel[0].shot = FoundShot{{}, Rational(49, 25)};
    Project twin = p;
    twin.reel[0].shot->to = Rational(50, 25);
    check({"foreign-frames:tail", p, twin});
    check({"foreign-frames:tail", p, twin, 1});
    const auto tail = findIn(p, "foreign-frames");
    EXPECT_EQ(tail->frame, 24);
    EXPECT_EQ(tail->fixes[0].apply(p)->reel[0].length, 24);
    const Project slipped = *tail->fixes[1].apply(p);
    EXPECT_EQ(slipped.reel[0].length, 25);
    EXPECT_EQ(slipped.reel[0].sourceIn, Rational(24, 25));

    p = twoClips();
    p.reel[1].shot = FoundShot{Rational(28, 25), Rational(51, 25)};
    twin = p;
    twin.reel[1].shot->from = Rational(38, 25); // more than twelve frames are meant
    check({"foreign-frames:head", p, twin});
    const auto head = findIn(p, "foreign-frames");
    ASSERT_EQ(head->fixes.size(), 1u) << "the shot is shorter than the clip: it cannot be slipped";
    EXPECT_EQ(head->fixes[0].apply(p)->reel[1].sourceIn, Rational(28, 25));
    EXPECT_EQ(head->fixes[0].apply(p)->reel[1].length, 22);
    // Backwards its first pictures come last, and an overlap shows more of the file.
    p.reel[1] = runBackwards(p, p.reel[1]);
    EXPECT_TRUE(findIn(p, "foreign-frames:tail"));
    EXPECT_FALSE(findIn(p, "foreign-frames:head"));
    p = twoClips();
    p.reel[0].shot = FoundShot{{}, Rational(50, 25)};
    EXPECT_FALSE(findIn(p, "foreign-frames"));
    p.reel[1].transition.overlap = {0, 5};
    ASSERT_TRUE(findIn(p, "foreign-frames:tail"));
    EXPECT_EQ(findIn(p, "foreign-frames:tail")->fixes[0].apply(p)->reel[0].length, 20);
}

TEST(Findings, ARacingShotStrobes) {
    Project p = twoClips();
    for (Media& m : p.media) m.duration = 30;
    for (Clip& c : p.reel) c.sourceIn = 10;
    const Ramp ramp{100, 800, 10};
    p = withRampsAtCut(p, 0, &ramp, &ramp);
    p.settings.shutter.angle = 45;
    Project twin = p;
    twin.settings.shutter.angle = 180;
    check({"ramp-strobes", p, twin});
}

TEST(Findings, Strobing) {
    Project p = slidingAt(9);
    p.settings.shutter.angle = 90;
    Project twin = p;
    twin.settings.shutter.angle = 110;
    check({"strobing", p, twin});
    Project slow = slidingAt(4.5);
    slow.settings.shutter.angle = 90;
    EXPECT_FALSE(findIn(slow, "strobing"));
}

TEST(Findings, ATiltIsLeftOver) {
    const auto tilted = [](double degrees) {
        Project p = plungeProject();
        Curve& in = p.reel[1].transition.moves[0].channels[0].incoming;
        in = withLeaveHandle(in, 0, {0.12, 0.9 * std::log2(1 / 0.62)});
        p.reel[0].drift = {makeMove(MoveKind::Spin, "move-7")};
        p.reel[0].drift[0].channels[0].incoming.keys = {{0, degrees}};
        return p;
    };
    check({"tilt-left", tilted(6), tilted(1.2)});
    EXPECT_FALSE(findIn(withMove(twoClips(), 0, MoveKind::Spin, 0, 0, -90, 8, 90, 0, 8), "tilt-left"))
        << "what moves is the movement's own matter";
    const auto found = findIn(tilted(6), "tilt-left");
    const Project handed = found->fixes[0].apply(tilted(6)).value();
    const Curve& drift = handed.reel[1].drift.back().channels[0].incoming;
    EXPECT_NEAR(drift.keys.front().value, 6, 1e-9);
    EXPECT_NEAR(drift.keys.back().value, 0, 1e-9);
}

TEST(Findings, AScaleIsLeftOver) {
    const auto scaled = [](double factor) {
        Project p = twoClips();
        p.reel[0].drift = {makeMove(MoveKind::Zoom, "move-7")};
        p.reel[0].drift[0].channels[0].incoming.keys = {{0, factor}};
        return p;
    };
    check({"scale-left", scaled(1.4), scaled(1.2)});
}

TEST(Findings, UnintendedOvershoot) {
    Project p = slidingAt(8);
    const Project twin = p;
    Curve& in = p.reel[1].transition.moves[0].channels[0].incoming;
    in = withArriveHandle(in, 1, {0.3, -0.5 * 0.8});
    const auto found = findIn(p, "overshoot:Slide x incoming");
    ASSERT_TRUE(found) << ::testing::PrintToString(namesIn(p));
    EXPECT_FALSE(findIn(twin, "overshoot"));
    EXPECT_FALSE(found->fixes[0].safe) << "it may be meant: not mended with all the others";
    EXPECT_FALSE(findIn(found->fixes[0].apply(p).value(), "overshoot"));
    // A shape that overshoots by its name was meant to.
    for (const NamedShape& named : namedShapes()) {
        if (named.shape.kind != Interpolation::Eased || (named.shape.y1 >= 0 && named.shape.y2 <= 1)) continue;
        Project meant = twin;
        Curve& curve = meant.reel[1].transition.moves[0].channels[0].incoming;
        curve = withShape(curve, 0, named.shape);
        EXPECT_FALSE(findIn(meant, "overshoot")) << named.name;
    }
}

TEST(Findings, AMoveLiesOutsideItsClip) {
    Project p = slidingAt(3, 20);
    const Project twin = p;
    p.reel[1].length = 12;
    check({"outside:Slide x incoming", p, twin});
    Project drifting = twoClips();
    drifting.reel[1].drift = {makeMove(MoveKind::Zoom, "move-8")};
    drifting.reel[1].drift[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1, 60, 1.1, straight);
    Project inside = drifting;
    inside.reel[1].length = 60;
    check({"outside:Zoom drift", drifting, inside});
}

TEST(Findings, ACutIsOffTheBeat) {
    Project p = threeClips();
    Clip fourth = p.reel[0];
    fourth.id = "clip-98", fourth.transition = {};
    p.reel.push_back(fourth);
    Music music;
    music.id = "music-1";
    music.mediaId = p.media[0].id;
    music.tempo = Tempo{}; // 120 a minute: 12.5 frames at 25 a second
    music.tempo->beatsPerMinute = 120;
    p.music = {music};
    const Project twin = p;
    p = withCutRolled(p, 2, -2);
    ASSERT_FALSE(p == twin);
    check({"off-beat", p, twin});
    EXPECT_FALSE(findIn(withCutRolled(twin, 2, -5), "off-beat")) << "so far off it was not meant";
    // Five frames from beat to beat: one beside it was meant for it, two are as good as half way.
    Project dense = twin;
    dense.music[0].tempo->beatsPerMinute = 300;
    EXPECT_TRUE(findIn(withCutRolled(dense, 2, -1), "off-beat"));
    EXPECT_FALSE(findIn(withCutRolled(dense, 2, -2), "off-beat"));
}

TEST(Findings, LittleMovementBesideFastShots) {
    Project p = threeClips();
    Clip rest = p.reel[0];
    rest.id = "clip-97", rest.transition = {};
    Clip last = rest;
    last.id = "clip-96";
    last.transition = p.reel[1].transition;
    last.transition.moves[0].id = "move-96";
    // fast, fast, hard cut to one at rest, hard cut to one that plunges on
    p.reel.push_back(rest);
    p.reel.push_back(rest);
    p.reel.back().id = "clip-95";
    p.reel.push_back(last);
    const auto found = findIn(p, "little-movement");
    ASSERT_TRUE(found) << ::testing::PrintToString(namesIn(p));
    const Project moved = found->fixes[0].apply(p).value();
    EXPECT_FALSE(findIn(moved, "little-movement"));
    EXPECT_FALSE(findIn(threeClips(), "little-movement"));
}

TEST(Findings, LimitsAreTheProjectsOwn) {
    Project p = slidingAt(9);
    p.settings.shutter.angle = 90;
    ASSERT_TRUE(findIn(p, "strobing"));
    p.settings.flow.strobe = 10;
    EXPECT_FALSE(findIn(p, "strobing"));
    p.settings.flow.strobe = 5;
    p.settings.ignored = {"strobing"};
    EXPECT_FALSE(findIn(p, "strobing")) << "ignored everywhere";
    p.settings.ignored = {};
    Project still = threeClips();
    still.reel[1].ignored = {"still"};
    const auto left = findIn(still, "still");
    EXPECT_TRUE(!left || left->place.id != still.reel[1].id) << "ignored here";
}

TEST(Findings, AFixMeetsTheRightCutAfterTheReelHasChangedOrSaysThatItIsGone) {
    const Project p = threeClips();
    Project faulty = p;
    Curve& in = faulty.reel[2].transition.moves[0].channels[0].incoming;
    in = withKeyMoved(in, 0, 0, 1.5); // cut 2 turns back
    const auto found = findIn(faulty, "turns-back");
    ASSERT_TRUE(found);
    EXPECT_EQ(found->place, (FlowPlace{FlowPlace::Cut, faulty.reel[2].id}));
    const Project shorter = withoutClip(faulty, 0); // it is cut 1 now
    const auto mended = found->fixes[0].apply(shorter);
    ASSERT_TRUE(mended);
    EXPECT_FALSE(findIn(*mended, "turns-back"));
    const auto gone = found->fixes[0].apply(withoutClip(faulty, 2));
    ASSERT_FALSE(gone);
    EXPECT_NE(gone.error().message.find("gone from the reel"), std::string::npos);
}

// Only what an edit touches is measured again, and the answer is the same.
TEST(Findings, ACheckGoesOverWhatAnEditTouched) {
    Project p = threeClips();
    for (int i = 0; i < 30; ++i) {
        Clip more = p.reel[1];
        more.id = "more-" + std::to_string(i);
        p.reel.push_back(more);
    }
    const ReelFlow whole = flowOfReel(p);
    EXPECT_EQ(whole.measured, 33);
    const auto same = [](const ReelFlow& a, const ReelFlow& b) {
        const auto x = a.all(), y = b.all();
        ASSERT_EQ(x.size(), y.size());
        for (std::size_t i = 0; i < x.size(); ++i) {
            EXPECT_EQ(x[i]->name, y[i]->name);
            EXPECT_EQ(x[i]->detail, y[i]->detail);
            EXPECT_EQ(x[i]->place, y[i]->place);
        }
    };
    EXPECT_EQ(flowOfReel(std::make_shared<const Project>(p), whole).measured, 0);
    Project edited = p;
    edited.reel[10].transition.moves[0].channels[0].incoming.keys[0].value = 1.5;
    const ReelFlow after = flowOfReel(std::make_shared<const Project>(edited), whole);
    EXPECT_LE(after.measured, 5);
    EXPECT_GE(after.measured, 2);
    same(after, flowOfReel(edited));
    const Project without = withoutClip(edited, 3); // the others move up
    const ReelFlow moved = flowOfReel(std::make_shared<const Project>(without), after);
    EXPECT_LE(moved.measured, 5);
    same(moved, flowOfReel(without));
    Project limits = edited;
    limits.settings.flow.step = 9;
    EXPECT_EQ(flowOfReel(std::make_shared<const Project>(limits), after).measured, 33);
    Adjustment wobble;
    wobble.id = "adj-1";
    wobble.start = 100, wobble.length = 40;
    wobble.moves = {makeMove(MoveKind::Zoom, "move-77")};
    wobble.moves[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1, 20, 2, straight);
    Project above = edited;
    above.adjustments = {wobble};
    same(flowOfReel(std::make_shared<const Project>(above), after), flowOfReel(above));
}

} // namespace
} // namespace virga::findings_test
