#include "core/interchange/edit_list.h"

#include <gtest/gtest.h>

#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "core/plan/plan.h"
#include "tests/support/projects.h"

namespace virga::edit_list_test {
namespace {

using namespace test;

Project at(FrameRate rate) {
    Project p;
    p.settings.rate = rate;
    p.settings.size = {1280, 720};
    for (const char* name : {"dawn-crane", "first-heat", "quay-stalls"}) {
        Media m;
        m.path = std::string("/shots/") + name + ".mp4";
        m.size = {1280, 720};
        m.rate = rate;
        m.duration = 20;
        p = withMedia(p, m);
    }
    return p;
}

// The layout of an event by the published description of CMX 3600 lists (from memory): number, reel name, track,
// transition, then source in and out and record in and out; FCM lines; comments behind an asterisk.
const char* const plain = "TITLE: LANTERN REGATTA\r\n"
                          "FCM: NON-DROP FRAME\r\n"
                          "001  DAWNCRAN V     C        00:00:01:00 00:00:03:00 01:00:00:00 01:00:02:00\r\n"
                          "* FROM CLIP NAME: dawn-crane.mp4\r\n"
                          "002  FIRSTHEA V     C        00:00:00:10 00:00:01:10 01:00:02:00 01:00:03:00\r\n"
                          "003  BL       V     C        00:00:00:00 00:00:00:12 01:00:03:00 01:00:03:12\r\n"
                          "004  QUAYSTAL V     C        00:00:05:00 00:00:06:00 01:00:04:00 01:00:05:00\r\n";

TEST(EditList, CutsBlackAndGapsBecomeTheReel) {
    const auto read = readEditList(plain, at(25), "regatta");
    ASSERT_TRUE(read) << describe(read.error());
    for (const auto& problem : read->problems) ADD_FAILURE() << problem;
    const Project& p = read->project;
    EXPECT_EQ(p.name, "LANTERN REGATTA");
    EXPECT_EQ(clipStarts(p), (std::vector<std::int64_t>{0, 50, 75, 87, 100, 125}));
    EXPECT_EQ(p.reel[0].mediaId, "media-1");
    EXPECT_EQ(p.reel[0].sourceIn, Rational(1));
    EXPECT_EQ(p.reel[1].mediaId, "media-2") << "found by its reel name";
    EXPECT_EQ(p.reel[1].sourceIn, Rational(10, 25));
    EXPECT_TRUE(p.reel[2].isGap()) << "black";
    EXPECT_TRUE(p.reel[3].isGap()) << "nothing was recorded there";
    EXPECT_EQ(p.reel[4].mediaId, "media-3");
}

TEST(EditList, DropFrameCountsAsSmpte12Says) {
    // SMPTE ST 12-1: at 29.97 the numbers ;00 and ;01 are left out each minute but the tenth, so one minute of record
    // time is 1798 frames and 10 minutes are 17982.
    const FrameRate ntsc(30000, 1001);
    const std::string text = "TITLE: DF\nFCM: DROP FRAME\n"
                             "001  FIRSTHEA V     C        00:00:00;00 00:01:00;02 01:00:00;00 01:01:00;02\n"
                             "002  QUAYSTAL V     C        00:00:00;00 00:08:59;28 01:01:00;02 01:10:00;00\n";
    auto read = readEditList(text, at(ntsc), "df");
    ASSERT_TRUE(read);
    EXPECT_EQ(clipStarts(read->project), (std::vector<std::int64_t>{0, 1800, 17982}));
    std::string nonDrop = text;
    nonDrop.replace(nonDrop.find("DROP"), 4, "NON-DROP");
    read = readEditList(nonDrop, at(ntsc), "ndf");
    ASSERT_TRUE(read);
    EXPECT_EQ(clipStarts(read->project), (std::vector<std::int64_t>{0, 1802, 18000}));
    const std::string bad = "FCM: DROP FRAME\n001  A V C 00:01:00;00 00:01:01;00 01:00:00;00 01:00:01;00\n";
    const auto refused = readEditList(bad, at(ntsc), "bad");
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().message.find("line 2"), std::string::npos) << refused.error().message;
    EXPECT_NE(refused.error().message.find("drop-frame"), std::string::npos);
    EXPECT_TRUE(readEditList("FCM: DROP FRAME\n" + std::string(plain), at(25), "x")->problems.size() == 1)
        << "25 frames have no drop-frame counting: said, and counted plainly";
}

TEST(EditList, DissolvesBecomeCrossfades) {
    const std::string text = "TITLE: D\nFCM: NON-DROP FRAME\n"
                             "001  DAWNCRAN V     C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00\n"
                             "002  DAWNCRAN V     C        00:00:02:00 00:00:02:00 01:00:02:00 01:00:02:00\n"
                             "002  FIRSTHEA V     D    012 00:00:01:00 00:00:03:00 01:00:02:00 01:00:04:00\n"
                             "* FROM CLIP NAME: dawn-crane.mp4\n* TO CLIP NAME: first-heat.mp4\n";
    const auto read = readEditList(text, at(25), "d");
    ASSERT_TRUE(read);
    const Project& p = read->project;
    ASSERT_EQ(p.reel.size(), 2u);
    EXPECT_EQ(transitionAt(p, 0).overlap, (Overlap{0, 12}));
    EXPECT_NEAR(planFrame(p, 56).layers[1].opacity, 0.5, 1e-9);
    EXPECT_EQ(p.reel[1].name, "first-heat");
}

TEST(EditList, SpeedsAreTaken) {
    const std::string text = "001  FIRSTHEA V     C        00:00:00:00 00:00:04:00 01:00:00:00 01:00:02:00\n"
                             "M2   FIRSTHEA       050.0                00:00:00:00\n";
    const auto read = readEditList(text, at(25), "m");
    ASSERT_TRUE(read);
    EXPECT_EQ(read->project.reel[0].speed, Rational(2));
    EXPECT_EQ(read->project.reel[0].length, 50);
}

// Backwards as a negative speed beside the span of source that is used, still as 0 (common practice, no source).
TEST(EditList, BackwardsStillAndRampedShots) {
    Project p = twoClips();
    for (Media& m : p.media) m.duration = 60;
    for (Clip& c : p.reel) c.transition = {};
    p.reel[0].sourceIn = 20, p.reel[0].speed = -2;
    p.reel[1].sourceIn = 10, p.reel[1].speed = 0;
    std::vector<std::string> problems;
    Project base; // knows the files
    base.settings = p.settings, base.media = p.media;
    const std::string text = writeEditList(p, &problems);
    EXPECT_NE(text.find("-50.0"), std::string::npos) << text;
    const auto back = readEditList(text, base, "b");
    ASSERT_TRUE(back) << describe(back.error());
    ASSERT_EQ(back->project.reel.size(), 2u);
    EXPECT_EQ(back->project.reel[0].speed, Rational(-2));
    EXPECT_EQ(sourceTime(back->project, back->project.reel[0], 0), Rational(20));
    EXPECT_EQ(sourceTime(back->project, back->project.reel[0], 24), Rational(20) - Rational(48, 25));
    EXPECT_EQ(back->project.reel[1].speed, Rational(0));
    EXPECT_EQ(back->project.reel[1].sourceIn, Rational(10));
    p.reel[0] = withRamp(p.reel[0], Side::Outgoing, {100, 800, 12});
    problems.clear();
    writeEditList(p, &problems);
    ASSERT_FALSE(problems.empty());
    EXPECT_NE(problems.front().find("speed changes"), std::string::npos) << problems.front();
}

TEST(EditList, WhatIsNotSupportedIsReportedAndKept) {
    const std::string text = "TITLE: X\n"
                             "001  DAWNCRAN V     C        00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00\n"
                             "002  FIRSTHEA A     C        00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00\n"
                             "003  FIRSTHEA V     W001 025 00:00:00:00 00:00:01:00 01:00:01:00 01:00:02:00\n"
                             "GPI  DAWNCRAN 00:00:00:00\n"
                             "004  UNKNOWN9 V     C        00:00:00:00 00:00:01:00 01:00:02:00 01:00:03:00\n"
                             "005  QUAYSTAL V     C        00:00:00:00 00:00:61:00 01:00:03:00 01:00:04:00\n"
                             "006  QUAYSTAL V     C        00:00:00:00\n"
                             "* SHOT FROM THE QUAY\n"
                             "* LOC: 01:00:01:10 RED     start gun\n";
    const auto read = readEditList(text, at(25), "x");
    ASSERT_TRUE(read);
    const Project& p = read->project;
    EXPECT_EQ(p.reel.size(), 3u);
    std::string all;
    for (const auto& problem : read->problems) all += problem + "\n";
    for (const char* said :
         {"line 3: track A", "line 4: the transition W001", "line 5:", "line 7:", "line 8:", "UNKNOWN9"})
        EXPECT_NE(all.find(said), std::string::npos) << said << " in\n" << all;
    std::string notes;
    for (const auto& note : p.notes) notes += note + "\n";
    for (const char* kept : {"GPI", "SHOT FROM THE QUAY", "002  FIRSTHEA A"})
        EXPECT_NE(notes.find(kept), std::string::npos);
    ASSERT_EQ(p.markers.size(), 1u);
    EXPECT_EQ(p.markers[0].frame, 35);
    EXPECT_EQ(p.markers[0].name, "start gun");
    EXPECT_EQ(findMedia(p, p.reel[2].mediaId)->path, "UNKNOWN9");
    EXPECT_NE(writeEditList(p).find("* SHOT FROM THE QUAY"), std::string::npos) << "comments go out again";
}

TEST(EditList, WrongFilesSayWhere) {
    EXPECT_FALSE(readEditList("", at(25), "x"));
    const auto text = readEditList("Dear editor,\nhere is the list\n", at(25), "x");
    ASSERT_FALSE(text);
    EXPECT_NE(text.error().message.find("line 1"), std::string::npos) << text.error().message;
    EXPECT_FALSE(readEditList(std::string("\0\1\2\3\xff\xfe", 6), at(25), "x"));
    EXPECT_FALSE(readEditList("001\n002 A\n003 A V C\n", at(25), "x"));
    const std::string huge = "001  A V D 99999999999999999999 00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00\n";
    EXPECT_TRUE(readEditList(huge, at(25), "x"));
}

// What is on screen, apart from ids and moves.
std::vector<std::tuple<std::string, Rational, std::int64_t, Rational, std::int64_t>> shape(const Project& p) {
    std::vector<std::tuple<std::string, Rational, std::int64_t, Rational, std::int64_t>> out;
    for (const Clip& c : p.reel)
        out.push_back({c.mediaId, c.isGap() ? Rational(0) : c.sourceIn, c.length, c.speed,
                       c.transition.overlap.before + c.transition.overlap.after});
    return out;
}

TEST(EditList, WrittenListsAreReadBackEqual) {
    for (const FrameRate rate : {FrameRate(25), FrameRate(24), FrameRate(30000, 1001)}) {
        Project p = readEditList(plain, at(rate), "r")->project;
        p = withSpeed(p, 4, 2);
        p.reel[1].transition.overlap = {0, 8};
        p = withMarker(p, 31, "gun");
        const std::string text = writeEditList(p);
        const auto back = readEditList(text, at(rate), "r");
        ASSERT_TRUE(back) << describe(back.error());
        EXPECT_TRUE(back->problems.empty()) << back->problems.front();
        // Two gaps side by side may come back as one.
        ASSERT_EQ(reelLength(back->project), reelLength(p));
        Project joined = withGap(p, 2, 1);
        joined.reel[2].length -= 1;
        EXPECT_EQ(shape(back->project), shape(joined)) << text;
        EXPECT_EQ(back->project.markers[0].frame, 31);
        EXPECT_EQ(back->project.markers[0].name, "gun");
    }
}

TEST(EditList, ADissolveAroundTheCutIsWrittenFromItsBeginning) {
    Project p = withCrossfade(twoClips(), 0, 10);
    std::vector<std::string> problems;
    const std::string text = writeEditList(p, &problems);
    EXPECT_NE(text.find("D    010 00:00:00:20 00:00:02:00 01:00:00:20 01:00:02:00"), std::string::npos) << text;
    p = withOverlayAdded(p, "media-1", 0);
    problems.clear();
    writeEditList(p, &problems);
    std::string all;
    for (const auto& s : problems) all += s + "\n";
    EXPECT_NE(all.find("1 overlays"), std::string::npos);
    EXPECT_NE(all.find("moves"), std::string::npos);
}

TEST(EditList, ReelNamesAreShortAndUnique) {
    Project p;
    for (const char* name : {"/a/first-heat.mp4", "/b/first-heat 2.mp4", "/c/ünï.mp4", "/d/BL.mp4"}) {
        Media m;
        m.path = name;
        p = withMedia(p, m);
    }
    EXPECT_EQ(reelNames(p), (std::vector<std::string>{"FIRSTHEA", "FIRSTHE2", "N", "BL2"}));
}

// Lists of older programs are in ISO 8859-1; what is UTF-8 (RFC 3629) stays.
TEST(EditList, OlderCharacterSetsAreReadAsUtf8) {
    const auto named = [](const std::string& name) {
        const auto read = readEditList(
            "TITLE: X\n001  A V C 00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\n* FROM CLIP NAME: " + name + "\n",
            at(25), "a.edl");
        return read && !read->project.reel.empty() ? read->project.reel[0].name : std::string("?");
    };
    EXPECT_EQ(named("caf\xe9"), "caf\xc3\xa9");
    EXPECT_EQ(named("caf\xc3\xa9"), "caf\xc3\xa9");
    EXPECT_EQ(named("\xf0\x9f\x8e\xa5 one"), "\xf0\x9f\x8e\xa5 one");
    EXPECT_EQ(named("\xed\xa0\x80"), "\xc3\xad\xc2\xa0\xc2\x80") << "half a surrogate is no UTF-8";
}

} // namespace
} // namespace virga::edit_list_test
