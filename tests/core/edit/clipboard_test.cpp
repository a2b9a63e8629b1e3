#include "core/edit/clipboard.h"

#include <fstream>
#include <gtest/gtest.h>
#include <set>

#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"
#include "tests/support/folder.h"
#include "tests/support/projects.h"

namespace virga::clipboard_test {
namespace {

using namespace test;

TEST(Clipboard, ClipsGoIntoTheSameProject) {
    const Project p = plungeProject();
    const auto out = pasted(p, copiedClips(p, {1, 0}), 1, 0, 0);
    ASSERT_TRUE(out) << describe(out.error());
    EXPECT_EQ(out->first, 1);
    EXPECT_EQ(out->count, 2);
    ASSERT_EQ(out->project.reel.size(), 4u);
    EXPECT_EQ(out->project.reel[1].name, "A") << "in the reel's order, not the order of choosing";
    EXPECT_EQ(out->project.reel[2].transition.moves.size(), 1u);
    EXPECT_EQ(out->project.media, p.media) << "no file twice";
    std::set<std::string> ids;
    for (const Clip& c : out->project.reel) ids.insert(c.id);
    EXPECT_EQ(ids.size(), 4u);
}

TEST(Clipboard, AndIntoAnother) {
    const Project p = plungeProject();
    Project other;
    other.settings.size = {640, 360};
    auto out = pasted(other, copiedClips(p, {1}), 0, 0, -1);
    ASSERT_TRUE(out) << describe(out.error());
    EXPECT_EQ(out->project.settings.size, (Size{1280, 720})) << "an empty piece takes the size";
    ASSERT_EQ(out->project.media.size(), 1u);
    EXPECT_EQ(out->project.reel[0].mediaId, out->project.media[0].id);
    EXPECT_EQ(out->project.media[0].path, "/media/b.mp4");
}

TEST(Clipboard, TransitionsOverlaysAndAdjustments) {
    Project p = plungeProject();
    p = withClip(p, 2, p.reel[0]);
    auto out = pasted(p, copiedTransition(p, 0), 0, 0, 1);
    ASSERT_TRUE(out);
    EXPECT_EQ(transitionAt(out->project, 1).moves[0].channels, transitionAt(p, 0).moves[0].channels);
    EXPECT_NE(transitionAt(out->project, 1).moves[0].id, transitionAt(p, 0).moves[0].id);
    EXPECT_FALSE(pasted(twoClips(), copiedTransition(p, 0), 0, 0, -1)) << "no cut to paste it to";
    p = withOverlayAdded(p, "media-1", 10);
    out = pasted(p, copiedOverlay(p, 0), 0, 12, 0);
    ASSERT_TRUE(out);
    EXPECT_EQ(out->project.overlays[1].start, 12);
    EXPECT_EQ(out->project.overlays[1].row, 1);
    p = withAdjustmentAdded(p, 3, 9);
    out = pasted(p, copiedAdjustment(p, 0), 0, 40, 0);
    ASSERT_TRUE(out);
    EXPECT_EQ(out->project.adjustments[1].start, 40);
}

TEST(Clipboard, OtherTextIsRefused) {
    const Project p = twoClips();
    for (const std::string text : {"", "hello", "{}", "[1,2]", "{\"virgaClipboard\":7,\"project\":{}}",
                                   "{\"virgaClipboard\":\"clips\",\"project\":{}}"})
        EXPECT_FALSE(pasted(p, text, 0, 0, 0)) << text;
}

TEST(ProjectFile, HoldsLayersOverlapsBeatsAndMarkers) {
    TemporaryFolder folder;
    Project p = plungeProject(folder / "a.mp4", folder / "b.mp4");
    p = withSpeed(p, 0, Rational(3, 2));
    p = withCrossfade(p, 0, 6);
    p.reel[0].crop = {0.1, 0, 0.2, 0.05};
    p.reel[0].placement = {1.5, 0, {0.1, -0.2}, {0.3, 0.4}};
    p.reel[1].transition.top = Side::Outgoing;
    p = withGap(p, 1, 7);
    p = withOverlayAdded(p, "media-1", 12);
    p = withEntrance(p, 0, Side::Incoming, Entrance::SpinIn, 9);
    p = withAdjustmentAdded(p, 4, 8);
    p = withMarker(p, 9, "gun");
    p = withMusic(p, "media-2");
    p.music[0].length = 40;
    p.music[0].fadeIn = 3;
    p.music[0].fadeOut = 12;
    p.music[0].tempo = withBeatAt(Tempo{128, Rational(1, 7), 3, {}}, 5, 2.5);
    p.notes = {"* A COMMENT"};
    p.media[0].fingerprint = "0123456789abcdef";
    p.media[0].timecode = 3600;
    p.media[0].bars = Crop{0, 0.125, 0, 0.125};
    ASSERT_TRUE(saveProject(p, folder / "p.virga"));
    const auto back = loadProject(folder / "p.virga");
    ASSERT_TRUE(back) << describe(back.error());
    EXPECT_EQ(*back, p);
}

TEST(ProjectFile, LostMediaIsFoundInFoldersNearby) {
    TemporaryFolder folder;
    Project p = twoClips("/nowhere/cards/day 1/a.mp4", "/nowhere/cards/day 2/seq_[001-002].png");
    fs::create_directories(folder / "old/x");
    fs::create_directories(folder / "shots/day 1");
    for (const char* name : {"old/x/a.mp4", "shots/day 1/a.mp4", "shots/seq_001.png", "shots/seq_002.png"})
        std::ofstream(folder / name) << "x";
    ASSERT_TRUE(saveProject(p, folder / "p.virga"));
    std::vector<std::string> missing;
    const auto back = loadProject(folder / "p.virga", &missing);
    ASSERT_TRUE(back);
    EXPECT_EQ(back->media[0].path, folder / "shots/day 1/a.mp4") << "of two, the one in a folder of the same name";
    EXPECT_EQ(back->media[1].path, folder / "shots/seq_[001-002].png");
    EXPECT_TRUE(missing.empty());
}

// A move of a kind that this version does not know travels whole, whatever its file says of it.
TEST(Clipboard, UnknownMovesSurviveSplitCopyAndSaving) {
    const std::string foreign =
        R"({"id":"m","kind":"teleport","lens":3,"channels":[{"name":"far","incoming":[{"time":0,"value":7}]}]})";
    Project p = plungeProject();
    Move unknown = makeMove(MoveKind::Unknown, "m");
    unknown.kindName = "teleport";
    unknown.foreign = foreign;
    p.reel[0].drift = {unknown};
    p.reel[1].transition.moves.push_back(unknown);
    const auto lensesIn = [](const Project& project) {
        const std::string text = documentOf(project, {}).dump();
        int count = 0;
        for (auto at = text.find("\"lens\":3"); at != text.npos; at = text.find("\"lens\":3", at + 1)) ++count;
        return count;
    };
    ASSERT_EQ(lensesIn(p), 2);
    EXPECT_EQ(lensesIn(withSplit(p, 10)), 3) << "both parts have it";
    const auto twice = pasted(p, copiedClips(p, {0, 1}), 2, 0, 0);
    ASSERT_TRUE(twice) << describe(twice.error());
    EXPECT_EQ(lensesIn(twice->project), 4);
    const auto moves = pasted(twoClips(), copiedTransition(p, 0), 0, 0, 0);
    ASSERT_TRUE(moves);
    EXPECT_EQ(lensesIn(moves->project), 1);
    const auto again = fromJson(documentOf(p, {}), {}, "p");
    ASSERT_TRUE(again) << describe(again.error());
    EXPECT_EQ(lensesIn(*again), 2);
}

} // namespace
} // namespace virga::clipboard_test
