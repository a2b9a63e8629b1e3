#include "core/edit/reel_edits.h"

#include <cmath>
#include <gtest/gtest.h>
#include <set>

#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/plan/plan.h"
#include "core/project/beats.h"
#include "tests/support/projects.h"

namespace virga::reel_edits_test {
namespace {

using namespace test;

// Four clips of 25 frames with a second spare at both ends.
Project fourClips() {
    Project p = twoClips();
    for (const char* name : {"C", "D"}) {
        Clip c = p.reel[1];
        c.name = name;
        p = withClip(p, int(p.reel.size()), c);
    }
    return p;
}

std::string order(const Project& p) {
    std::string names;
    for (const Clip& c : p.reel) names += c.isGap() ? "-" : c.name;
    return names;
}

std::vector<std::int64_t> lengths(const Project& p) {
    std::vector<std::int64_t> out;
    for (const Clip& c : p.reel) out.push_back(c.length);
    return out;
}

// The maps and sources of every frame: what is on screen.
std::vector<std::pair<Rational, ScreenMap>> looks(const Project& p) {
    std::vector<std::pair<Rational, ScreenMap>> out;
    for (std::int64_t n = 0; n < reelLength(p); ++n) {
        const FramePlan plan = planFrame(p, n);
        for (const LayerPlan& l : plan.layers)
            out.push_back({l.sourceTime, movementAt(l, double(n) + 0.25, p.settings.size)});
    }
    return out;
}

TEST(Split, LosesNoFrameAndChangesNothingOnScreen) {
    const Project p = plungeProject();
    for (const std::int64_t frame : {1, 10, 22, 27, 30, 44}) {
        const Project split = withSplit(p, frame);
        ASSERT_EQ(split.reel.size(), 3u) << frame;
        EXPECT_EQ(reelLength(split), 50);
        const auto before = looks(p), after = looks(split);
        ASSERT_EQ(before.size(), after.size());
        for (std::size_t n = 0; n < before.size(); ++n) {
            EXPECT_EQ(before[n].first, after[n].first) << "source of frame " << n << " split at " << frame;
            for (const Point& probe : probePointsOf(p.settings.size))
                EXPECT_LT((before[n].second.toScreen(probe) - after[n].second.toScreen(probe)).length(), 1e-6)
                    << n << " split at " << frame;
        }
    }
    EXPECT_EQ(withSplit(p, 0), p);
    EXPECT_EQ(withSplit(p, 25), p) << "there is a cut already";
    EXPECT_EQ(withSplit(p, 50), p);
    EXPECT_EQ(withSplit(p, -3), p);
}

TEST(Split, IdsStayUnique) {
    const Project p = withSplit(withSplit(plungeProject(), 10), 40);
    std::set<std::string> ids;
    int count = 0;
    for (const Clip& c : p.reel) {
        ids.insert(c.id), ++count;
        for (const Stack* s : {&c.drift, &c.transition.moves})
            for (const Move& m : *s) ids.insert(m.id), ++count;
    }
    EXPECT_EQ(int(ids.size()), count);
}

TEST(Roll, MovesTheCutAndKeepsTheLength) {
    const Project p = fourClips();
    const Project rolled = withCutRolled(p, 1, 7);
    EXPECT_EQ(lengths(rolled), (std::vector<std::int64_t>{25, 32, 18, 25}));
    EXPECT_EQ(rolled.reel[2].sourceIn, Rational(1) + Rational(7, 25));
    EXPECT_EQ(withCutRolled(rolled, 1, -7), p);
    EXPECT_EQ(rollable(p, 1, 100), 24) << "one frame of the shrinking clip stays";
    EXPECT_EQ(rollable(p, 1, -100), -24);
    EXPECT_EQ(withCutRolled(p, 9, 3), p);
}

TEST(Slip, ShowsOtherPicturesInTheSamePlace) {
    const Project p = fourClips();
    const Project slipped = withClipSlipped(p, 1, 10);
    EXPECT_EQ(lengths(slipped), lengths(p));
    EXPECT_EQ(slipped.reel[1].sourceIn, Rational(1) + Rational(10, 25));
    EXPECT_EQ(withClipSlipped(p, 1, 1000).reel[1].sourceIn, Rational(2)) << "to the end of the source";
    EXPECT_EQ(withClipSlipped(p, 1, -1000).reel[1].sourceIn, Rational(0));
}

TEST(Delete, ClosesTheGapOrLeavesOne) {
    const Project p = fourClips();
    EXPECT_EQ(order(withoutClips(p, {1, 2})), "AD");
    const Project lifted = withClipsLifted(p, {1, 2});
    EXPECT_EQ(order(lifted), "A-D");
    EXPECT_EQ(lengths(lifted), (std::vector<std::int64_t>{25, 50, 25}));
    EXPECT_EQ(order(withClipsLifted(p, {3})), "ABC") << "nothing is left at the end";
    EXPECT_EQ(order(withGap(p, 1, 12)), "A-BCD");
    EXPECT_EQ(spareFrames(lifted, lifted.reel[1]).after, plenty);
    EXPECT_TRUE(planFrame(lifted, 30).layers.empty()) << "a gap shows nothing";
}

TEST(MoveMany, TheyStayTogetherInTheirOrder) {
    const Project p = fourClips();
    int place = -1;
    EXPECT_EQ(order(withClipsMoved(p, {0, 2}, 4, &place)), "BDAC");
    EXPECT_EQ(place, 2);
    EXPECT_EQ(order(withClipsMoved(p, {1, 3}, 0, &place)), "BDAC");
    EXPECT_EQ(place, 0);
    EXPECT_EQ(order(withClipsMoved(p, {1, 2}, 2)), "ABCD");
    EXPECT_EQ(withClipsMoved(p, {}, 2), p);
    const Project twice = withClipsInserted(p, {p.reel[0], p.reel[1]}, 4);
    EXPECT_EQ(order(twice), "ABCDAB");
    EXPECT_NE(twice.reel[4].id, twice.reel[0].id);
}

TEST(Speed, ShowsTheSamePartFasterOrSlower) {
    Project p = fourClips();
    Project fast = withSpeed(p, 1, 5);
    EXPECT_EQ(fast.reel[1].length, 5);
    EXPECT_EQ(sourceTime(fast, fast.reel[1], 1), Rational(1) + Rational(5, 25));
    EXPECT_EQ(spareFrames(fast, fast.reel[1]).before, 5) << "25 source frames are 5 at this speed";
    EXPECT_EQ(spareFrames(fast, fast.reel[1]).after, 5);
    const Project slow = withSpeed(p, 1, Rational(1, 4));
    EXPECT_EQ(slow.reel[1].length, 100);
    EXPECT_EQ(spareFrames(slow, slow.reel[1]).after, 100);
    EXPECT_EQ(withSpeed(p, 1, 100).reel[1].speed, Rational(10));
    EXPECT_EQ(withSpeed(p, 1, Rational(1, 1000)).reel[1].speed, Rational(1, 100));
    // Trimming the head at double speed takes two source frames for each.
    const Project trimmed = withClipTrimmed(withSpeed(p, 1, 2), 1, Edge::Head, 3);
    EXPECT_EQ(trimmed.reel[1].sourceIn, Rational(1) + Rational(6, 25));
}

Project onBeats(Project p, double tempo, Rational first = 0) {
    Media song;
    song.id = "song";
    song.path = "/media/song.wav";
    song.sound = true;
    song.duration = 60;
    p.media.push_back(song);
    p = withMusic(p, "song");
    p.music[0].tempo = Tempo{tempo, first, 4, {}};
    return p;
}

TEST(CutToBeats, EachShotEndsOnItsBeat) {
    // 120 a minute at 25: a beat every 12.5 frames, so edges fall on 13, 25, 38, 50 (rounded).
    const Project p = onBeats(fourClips(), 120);
    const Spread spread = cutToBeats(p, {0, 1, 2, 3}, 1);
    EXPECT_TRUE(spread.tooShort.empty());
    EXPECT_EQ(clipStarts(spread.project), (std::vector<std::int64_t>{0, 13, 25, 38, 50}));
    const Spread two = cutToBeats(p, {0, 1, 2, 3}, 3);
    EXPECT_EQ(clipStarts(two.project), (std::vector<std::int64_t>{0, 38, 75, 113, 150}));
}

TEST(CutToBeats, StartsOffTheBeatCatchUp) {
    Project p = onBeats(fourClips(), 120, Rational(1, 5)); // beats at 5, 17.5, 30, 42.5 ...
    const Spread spread = cutToBeats(p, {0, 1}, 2);
    EXPECT_EQ(clipStart(spread.project, 1), 18) << "the second beat after -7.5, on which frame 0 counts as lying";
    EXPECT_EQ(clipStart(spread.project, 2), 43);
}

TEST(CutToBeats, ShotsThatAreTooShortSayAndTheRestStaysOnTheBeat) {
    Project p = onBeats(fourClips(), 60);   // a beat every 25 frames
    p.media[1].duration = Rational(19, 10); // B has 22 frames left of its source
    p.reel[1].length = 20;
    const Spread spread = cutToBeats(p, {0, 1, 2}, 1);
    EXPECT_EQ(spread.tooShort, std::vector<int>{1});
    EXPECT_EQ(clipStart(spread.project, 1), 25);
    const auto start = clipStart(spread.project, 3);
    EXPECT_EQ(start % 25, 0) << "C ends on a beat again";
}

TEST(CutToBeats, NeedsBeats) {
    const Project p = fourClips();
    EXPECT_EQ(cutToBeats(p, {0, 1}, 2).project, p);
    EXPECT_EQ(cutToBeats(onBeats(p, 120), {0}, 2).project.reel[0].length, 25);
}

TEST(Overlap, ShortagesAreRecorded) {
    Project p = withOverlap(fourClips(), 1, {30, 12}, Side::Incoming);
    const auto found = spareShortages(p);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0], (SpareShortage{1, Side::Incoming, 30, 25}));
    EXPECT_TRUE(spareShortages(withOverlap(p, 1, {25, 25}, Side::Incoming)).empty());
}

TEST(Crossfade, UsesWhatSpareThereIs) {
    Project p = withCrossfade(fourClips(), 0, 10);
    EXPECT_EQ(transitionAt(p, 0).overlap, (Overlap{5, 5}));
    p.reel[1].sourceIn = Rational(2, 25); // two spare frames before B
    const Project less = withCrossfade(p, 0, 10);
    EXPECT_EQ(transitionAt(less, 0).overlap, (Overlap{2, 8}));
    ASSERT_EQ(transitionAt(less, 0).moves.size(), 1u) << "one fade, however often it is set";
    EXPECT_TRUE(transitionAt(withCrossfade(less, 0, 0), 0).moves.empty());
}

TEST(Cascade, StacksShotsFramesApart) {
    // Common practice, no published source: shots stacked three frames apart make a slide cascade.
    Project p = fourClips();
    for (Media& m : p.media) m.duration = 10;
    const Project c = withCascade(p, {0, 1, 2, 3}, 3, 8, Direction::Up);
    EXPECT_EQ(clipStarts(c), (std::vector<std::int64_t>{0, 3, 6, 9, 34}));
    const FramePlan plan = planFrame(c, 10);
    ASSERT_EQ(plan.layers.size(), 4u) << "all four are on screen while the last slides in";
    for (int i = 0; i < 4; ++i) EXPECT_EQ(plan.layers[std::size_t(i)].clip, i) << "later ones on top";
    EXPECT_EQ(planFrame(c, 20).layers.size(), 1u);
    // Up: it comes from below, one frame height away.
    const ScreenMap map = mapAt(planFrame(c, 9).layers.back(), 9, c.settings.size);
    EXPECT_NEAR(map.toScreen(map.toSource({0, 0})).y, 0, 1e-6);
    EXPECT_NEAR(map.toScreen({0, 0}).y, 720, 1e-6);
    EXPECT_TRUE(spareShortages(c).empty());
    EXPECT_EQ(withCascade(p, {2}, 3, 8, Direction::Up), p);
}

TEST(Snapping, TheNearestPlaceWithinReach) {
    const Project p = onBeats(fourClips(), 120);
    const auto places = snapPlaces(p);
    EXPECT_EQ(snapTo(places, 14.2, 3).frame, 13);
    EXPECT_EQ(snapTo(places, 14.2, 3).place.kind, SnapPlace::Beat);
    EXPECT_EQ(snapTo(places, 18, 3).frame, 18);
    EXPECT_FALSE(snapTo(places, 18, 3).snapped);
}

} // namespace
} // namespace virga::reel_edits_test
