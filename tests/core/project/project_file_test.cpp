#include "core/project/project_file.h"

#include <fstream>
#include <gtest/gtest.h>
#include <random>

#include "core/base/file.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/project_json.h"
#include "tests/support/folder.h"
#include "tests/support/projects.h"

namespace virga::project_file_test {
namespace {

using namespace test;
using json = nlohmann::json;

Project full(const fs::path& folder) {
    Project p = plungeProject(folder / "a.mp4", folder / "b.mp4");
    p = withMove(p, 0, MoveKind::Slide, 1, 0, -0.5, 8, 0.5, 0, 9);
    p.settings.rate = Rational(30000, 1001);
    p.settings.shutter = {270, -45.0, 32};
    p.reel[0].edges = EdgeFill::Repeat;
    p.reel[1].transition.shutter = Shutter{360, {}, 0};
    p.reel[1].transition.ignored = {"speed-step"};
    p.reel[1].muted = true;
    p.reel[1].fit = Fit::Stretch;
    p.reel[1].drift = {makeMove(MoveKind::Zoom, "move-9")};
    p.reel[1].transition.moves[1].solo = true;
    Media track;
    track.id = "media-3";
    track.path = folder / "music" / "track.wav";
    track.sound = true;
    p.media.push_back(track);
    p = withMusic(p, "media-3");
    p.music[0].tempo = Tempo{128.5, Rational(1, 7), 3};
    return p;
}

TEST(ProjectFile, ReadsBackWhatItWrote) {
    TemporaryFolder folder;
    const Project p = full(folder.path());
    ASSERT_TRUE(saveProject(p, folder / "p.virga"));
    std::vector<std::string> missing;
    const auto back = loadProject(folder / "p.virga", &missing);
    ASSERT_TRUE(back) << describe(back.error());
    EXPECT_EQ(*back, p);
    EXPECT_EQ(missing.size(), 3u) << "none of the media is there";
    ASSERT_TRUE(saveProject(*back, folder / "q.virga"));
    EXPECT_EQ(readFile(folder / "p.virga").value(), readFile(folder / "q.virga").value());
}

TEST(ProjectFile, MediaIsRelativeAndMovesWithTheProject) {
    TemporaryFolder a, b;
    const Project p = full(a.path());
    ASSERT_TRUE(saveProject(p, a / "p.virga"));
    const auto document = json::parse(readFile(a / "p.virga").value());
    EXPECT_EQ(document["media"][0]["path"], "a.mp4");
    EXPECT_EQ(document["media"][2]["path"], "music/track.wav");
    fs::copy(a / "p.virga", b / "p.virga");
    EXPECT_EQ(loadProject(b / "p.virga")->media[0].path, b / "a.mp4");
}

TEST(ProjectFile, FindsMediaBesideTheProject) {
    TemporaryFolder folder;
    Project p = full("/nowhere/at/all/really");
    ASSERT_TRUE(saveProject(p, folder / "p.virga"));
    std::ofstream(folder / "a.mp4") << "x";
    std::vector<std::string> missing;
    const auto back = loadProject(folder / "p.virga", &missing);
    ASSERT_TRUE(back);
    EXPECT_EQ(back->media[0].path, folder / "a.mp4");
    EXPECT_EQ(missing, (std::vector<std::string>{"media-2", "media-3"}));
}

TEST(ProjectFile, UnknownFieldsSurviveEverywhere) {
    TemporaryFolder folder;
    json document = toJson(full(folder.path()), folder.path());
    document["future"] = {{"a", 1}};
    document["settings"]["look"] = "warm";
    document["media"][1]["proxy"] = "small.mp4";
    document["reel"][1]["retime"] = {1, 2, 3};
    document["reel"][1]["transition"]["shine"] = {{"before", 4}};
    document["reel"][1]["transition"]["moves"][0]["blur"] = 0.5;
    document["reel"][1]["transition"]["moves"][0]["channels"][0]["outgoing"][1]["note"] = "mine";
    document["reel"][1]["transition"]["moves"].push_back(
        {{"id", "move-77"},
         {"kind", "teleport"},
         {"channels", {{{"name", "amount"}, {"outgoing", json::array()}}}},
         {"lens", 3}});
    document["music"][0]["fade"] = 12;
    ASSERT_TRUE(writeFileAtomically(folder / "p.virga", document.dump()));
    auto project = loadProject(folder / "p.virga");
    ASSERT_TRUE(project) << describe(project.error());
    EXPECT_EQ(project->reel[1].transition.moves.back().kind, MoveKind::Unknown);
    // An edit elsewhere, even one that moves the clip, does not lose them.
    Project edited = withClipsMoved(withClipTrimmed(*project, 0, Edge::Tail, -3), {1}, 0);
    ASSERT_TRUE(saveProject(edited, folder / "q.virga"));
    const json back = json::parse(readFile(folder / "q.virga").value());
    EXPECT_EQ(back["future"], document["future"]);
    EXPECT_EQ(back["settings"]["look"], "warm");
    EXPECT_EQ(back["media"][1]["proxy"], "small.mp4");
    EXPECT_EQ(back["reel"][0]["retime"], document["reel"][1]["retime"]);
    EXPECT_EQ(back["reel"][0]["transition"]["shine"], document["reel"][1]["transition"]["shine"]);
    EXPECT_EQ(back["reel"][0]["transition"]["moves"][0]["blur"], 0.5);
    EXPECT_EQ(back["reel"][0]["transition"]["moves"][0]["channels"][0]["outgoing"][1]["note"], "mine");
    EXPECT_EQ(back["reel"][0]["transition"]["moves"].back()["lens"], 3);
    EXPECT_EQ(back["reel"][0]["transition"]["moves"].back()["channels"],
              document["reel"][1]["transition"]["moves"].back()["channels"]);
    EXPECT_EQ(back["music"][0]["fade"], 12);
}

Error loadText(const std::string& text) {
    TemporaryFolder folder;
    EXPECT_TRUE(writeFileAtomically(folder / "p.virga", text));
    const auto project = loadProject(folder / "p.virga");
    EXPECT_FALSE(project) << text.substr(0, 80);
    return project ? Error{} : project.error();
}

TEST(ProjectFile, SaysWhatIsWrongAndWhere) {
    json good = toJson(full("/m"), "/m");
    const auto broken = [&](auto change) {
        json d = good;
        change(d);
        return loadText(d.dump());
    };
    EXPECT_NE(loadText("{\n\"format\": \"virga-project\",\n oops").place.find("line 3"), std::string::npos);
    EXPECT_EQ(loadText("").code, ErrorCode::Unreadable);
    EXPECT_EQ(loadText("[]").code, ErrorCode::Unreadable);
    EXPECT_EQ(loadText("{}").code, ErrorCode::Unreadable);
    EXPECT_NE(broken([](json& d) { d["reel"][1]["length"] = -3; }).place.find("/reel/1/length"), std::string::npos);
    EXPECT_NE(broken([](json& d) { d["settings"]["width"] = "wide"; }).place.find("/settings/width"),
              std::string::npos);
    EXPECT_NE(broken([](json& d) { d["reel"][0]["media"] = "media-99"; }).message.find("media-99"), std::string::npos);
    EXPECT_NE(broken([](json& d) { d["settings"]["rate"] = "0"; }).place.find("/settings/rate"), std::string::npos);
    const Error newer = broken([](json& d) { d["version"] = 7; });
    EXPECT_EQ(newer.code, ErrorCode::Unsupported);
    EXPECT_NE(newer.message.find("newer"), std::string::npos);
    EXPECT_EQ(loadProject("/no/such/file.virga").error().code, ErrorCode::NotFound);
}

// Long lists are checked and read on all processors.
TEST(ProjectFile, ALongReelIsReadAsAShortOne) {
    TemporaryFolder folder;
    Project p = full(folder.path());
    const Clip first = p.reel[0];
    const Media file = p.media[0];
    for (int i = 0; i < 1050; ++i) {
        Clip clip = first;
        clip.id = "long-" + std::to_string(i);
        clip.length = 10 + i % 7;
        clip.drift.clear();
        clip.transition = {};
        p.reel.push_back(clip);
        if (i % 2) continue;
        Media other = file;
        other.id = "file-" + std::to_string(i);
        other.path = folder / (other.id + ".mp4");
        p.media.push_back(other);
        p.reel.back().mediaId = other.id;
    }
    ASSERT_TRUE(saveProject(p, folder / "p.virga"));
    std::vector<std::string> missing;
    const auto back = loadProject(folder / "p.virga", &missing);
    ASSERT_TRUE(back) << describe(back.error());
    EXPECT_EQ(*back, p);
    EXPECT_EQ(missing.size(), p.media.size());

    const auto wrong = [&](json d) {
        const auto read = fromJson(std::move(d), folder.path(), "p.virga");
        EXPECT_FALSE(read);
        return read ? Error{} : read.error();
    };
    json document = json::parse(readFile(folder / "p.virga").value());
    document["reel"][734]["laterField"] = 5; // of a version to come
    auto later = fromJson(document, folder.path(), "p.virga");
    ASSERT_TRUE(later) << describe(later.error());
    EXPECT_EQ(toJson(*later, folder.path()), document);
    for (const int i : {0, 734, 1051}) {
        json bad = document;
        bad["reel"][i]["length"] = "long";
        EXPECT_NE(wrong(bad).place.find("/reel/" + std::to_string(i) + "/length"), std::string::npos) << i;
        bad = document;
        bad["media"][i / 2]["path"] = 3;
        EXPECT_NE(wrong(bad).place.find("/media/" + std::to_string(i / 2) + "/path"), std::string::npos) << i;
    }
    json bad = document;
    bad["settings"]["width"] = "wide";
    EXPECT_NE(wrong(bad).place.find("/settings/width"), std::string::npos);
    for (const char* list : {"reel", "media"}) {
        bad = document;
        bad[list] = 7;
        EXPECT_EQ(wrong(bad).code, ErrorCode::Unreadable) << list;
        bad.erase(list);
        EXPECT_EQ(wrong(bad).code, ErrorCode::Unreadable) << list;
    }
}

TEST(ProjectFile, SurvivesAnyBytes) {
    TemporaryFolder folder;
    const std::string good = toJson(full("/m"), "/m").dump();
    std::mt19937 random(3);
    for (int i = 0; i < 400; ++i) {
        std::string bad = good;
        for (int k = 0; k < 1 + i % 6; ++k) bad[random() % bad.size()] = char(random());
        if (i % 5 == 0) bad.resize(random() % bad.size());
        std::ofstream(folder / "p.virga", std::ios::binary) << bad;
        const auto project = loadProject(folder / "p.virga"); // an error or a project, never a crash
        if (project)
            EXPECT_TRUE(saveProject(*project, folder / "q.virga"));
        else
            EXPECT_FALSE(project.error().message.empty());
    }
}

TEST(ProjectFile, TheDemoIsValid) {
    const auto demo = loadProject(fs::path(VIRGA_SOURCE_DIR) / "demo/lantern-regatta.virga");
    ASSERT_TRUE(demo) << describe(demo.error());
    EXPECT_EQ(demo->reel.size(), 8u);
    EXPECT_EQ(reelLength(*demo), 600);
}

} // namespace
} // namespace virga::project_file_test
