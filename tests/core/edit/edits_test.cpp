#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"

#include <gtest/gtest.h>

#include "tests/support/projects.h"

namespace virga::edits_test {
namespace {

using namespace test;

Project threeClips() {
    Project p = plungeProject();
    Clip c = p.reel[1];
    c.name = "C";
    c.transition = {};
    return withClip(p, 2, c);
}

std::string order(const Project& p) {
    std::string names;
    for (const Clip& c : p.reel) names += c.name;
    return names;
}

TEST(Reel, KnowsWhereThingsAre) {
    const Project p = threeClips();
    EXPECT_EQ(reelLength(p), 75);
    EXPECT_EQ(clipStart(p, 1), 25);
    EXPECT_EQ(clipAt(p, 24), 0);
    EXPECT_EQ(clipAt(p, 25), 1);
    EXPECT_EQ(clipAt(p, -1), -1);
    EXPECT_EQ(clipAt(p, 75), -1);
    EXPECT_EQ(cutCount(p), 2);
    EXPECT_EQ(cutFrame(p, 1), 50);
    EXPECT_EQ(cutCount(Project()), 0);
}

TEST(Reel, ClipsGetIdsOfTheirOwn) {
    const Project p = threeClips();
    EXPECT_NE(p.reel[1].id, p.reel[2].id);
    EXPECT_EQ(freshId(p, "clip-"), "clip-4");
    EXPECT_EQ(freshId(p, "other-"), "other-1");
}

TEST(Reel, TheTransitionTravelsWithItsIncomingClip) {
    const Project p = threeClips();
    ASSERT_EQ(transitionAt(p, 0).moves.size(), 1u);
    const Project moved = withClipsMoved(p, {1}, 3);
    EXPECT_EQ(order(moved), "ACB");
    EXPECT_TRUE(transitionAt(moved, 0).moves.empty());
    EXPECT_EQ(transitionAt(moved, 1).moves.size(), 1u);
    const Project first = withClipsMoved(p, {1}, 0);
    EXPECT_EQ(order(first), "BAC");
    EXPECT_EQ(withClipsMoved(first, {0}, 2), p) << "it rested while B was first and comes back whole";
}

TEST(Reel, MovingNowhereChangesNothing) {
    const Project p = threeClips();
    EXPECT_EQ(withClipsMoved(p, {1}, 1), p);
    EXPECT_EQ(withClipsMoved(p, {1}, 2), p);
    EXPECT_EQ(withClipsMoved(p, {7}, 0), p);
    EXPECT_EQ(withClipsMoved(p, {0}, 99), p);
    EXPECT_EQ(withoutClip(p, -1), p);
    EXPECT_EQ(order(withoutClip(p, 1)), "AC");
}

TEST(Trim, RipplesAndStaysInTheSource) {
    const Project p = threeClips();
    Project t = withClipTrimmed(p, 0, Edge::Tail, 10);
    EXPECT_EQ(t.reel[0].length, 35);
    EXPECT_EQ(clipStart(t, 1), 35) << "what follows moves along";
    t = withClipTrimmed(p, 0, Edge::Tail, 1000);
    EXPECT_EQ(t.reel[0].length, 50) << "25 spare frames are all there is";
    EXPECT_EQ(spareFrames(t, t.reel[0]).after, 0);
    t = withClipTrimmed(p, 0, Edge::Head, -1000);
    EXPECT_EQ(t.reel[0].length, 50);
    EXPECT_EQ(t.reel[0].sourceIn, Rational(0));
    t = withClipTrimmed(p, 0, Edge::Head, 5);
    EXPECT_EQ(t.reel[0].length, 20);
    EXPECT_EQ(t.reel[0].sourceIn, Rational(6, 5));
    EXPECT_EQ(withClipTrimmed(p, 0, Edge::Head, 1000).reel[0].length, 1) << "one frame always stays";
    EXPECT_EQ(withClipTrimmed(p, 0, Edge::Tail, -1000).reel[0].length, 1);
    EXPECT_EQ(withClipTrimmed(withClipTrimmed(p, 0, Edge::Head, 7), 0, Edge::Head, -7), p);
}

TEST(Trim, AStillIsAsLongAsOneLikes) {
    Project p = threeClips();
    p.media[0].still = true;
    p.media[0].duration = 0;
    EXPECT_EQ(withClipTrimmed(p, 0, Edge::Tail, 5000).reel[0].length, 5025);
    EXPECT_EQ(clipFor(p, p.media[0]).length, 50) << "two seconds at first";
}

TEST(Media, IsAddedOnce) {
    Project p = threeClips();
    Media again;
    again.path = "/media/a.mp4";
    std::string id;
    EXPECT_EQ(withMedia(p, again, &id), p);
    EXPECT_EQ(id, "media-1");
    again.path = "/media/new.mp4";
    again.duration = Rational(61, 25);
    p = withMedia(p, again, &id);
    EXPECT_EQ(id, "media-3");
    EXPECT_EQ(clipFor(p, *findMedia(p, id)).length, 61);
    EXPECT_EQ(clipFor(p, *findMedia(p, id)).name, "new");
    EXPECT_EQ(findMedia(p, "nobody"), nullptr);
}

} // namespace
} // namespace virga::edits_test
