// The program itself, run as a script would run it.
#include <algorithm>
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/decode/probe.h"
#include "core/project/project_file.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"

namespace virga::commands_test {
namespace {

using namespace test;
using json = nlohmann::json;

const std::string program = std::string(VIRGA_BINARY_DIR) + "/cli/virga-cli ";

int lines(const std::string& text) {
    return int(std::count(text.begin(), text.end(), '\n'));
}

class Cli : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {320, 180}, 25, 60, 12, true);
        writeNumberedClip(m_folder / "b.mp4", {320, 180}, 25, 60, 12, true);
    }
    std::string at(const std::string& name) { return (m_folder / name).string(); }
    Ran make(const std::string& more) {
        return runProgram(program + "make " + at("p.virga") + " " + at("a.mp4") + " " + at("b.mp4") + " " + more);
    }
    TemporaryFolder m_folder;
};

TEST_F(Cli, HelpIsCompleteAndFine) {
    const Ran help = runProgram(program + "--help");
    EXPECT_EQ(help.code, 0);
    for (const char* word : {"render", "probe", "check", "make", "Exit codes"})
        EXPECT_NE(help.out.find(word), std::string::npos) << word;
    for (const char* command : {"render", "probe", "check", "make"}) {
        const Ran own = runProgram(program + command + " --help");
        EXPECT_EQ(own.code, 0) << command;
        EXPECT_GT(own.out.size(), 200u);
    }
    EXPECT_NE(runProgram(program + "make --help").out.find("zoom:1,2.5"), std::string::npos);
}

TEST_F(Cli, MakeRenderAndCheckWorkTogether) {
    const Ran made = make("--length 25 --move 'zoom:1,2.5|0.62,1@5,12' --edges mirror --shutter 180");
    ASSERT_EQ(made.code, 0) << made.err;
    const auto project = loadProject(m_folder / "p.virga");
    ASSERT_TRUE(project);
    EXPECT_EQ(project->reel[0].length, 25);
    EXPECT_EQ(project->reel[0].sourceIn, Rational(17, 25)) << "from its middle, so that both ends have spare frames";
    EXPECT_EQ(project->reel[1].transition.moves.size(), 1u);
    const Ran checked = runProgram(program + "check " + at("p.virga"));
    EXPECT_EQ(checked.code, 1) << "the speeds differ";
    EXPECT_NE(checked.out.find("Speed drops"), std::string::npos);
    const Ran asJson = runProgram(program + "check --json " + at("p.virga"));
    EXPECT_EQ(asJson.code, 1);
    const json report = json::parse(asJson.out);
    EXPECT_EQ(report["cuts"][0]["frame"], 25);
    EXPECT_EQ(report["cuts"][0]["findings"][0]["name"], "speed-step");
    const Ran rendered =
        runProgram(program + "render " + at("p.virga") + " --out " + at("out.mp4") + " --frames 18-31 --size 160x90");
    ASSERT_EQ(rendered.code, 0) << rendered.err;
    const auto info = probe(m_folder / "out.mp4");
    ASSERT_TRUE(info);
    EXPECT_EQ(info->video->frames, 14);
    EXPECT_EQ(info->video->size, (Size{160, 90}));
    EXPECT_TRUE(info->audio);
    const Ran deep = runProgram(program + "render " + at("p.virga") + " --out " + at("deep.mp4") +
                                " --frames 24-26 --size 160x90 --bits 10 --enlarge sharper");
    ASSERT_EQ(deep.code, 0) << deep.err;
    EXPECT_EQ(probe(m_folder / "deep.mp4")->video->bitDepth, 10);
    EXPECT_EQ(runProgram(program + "render " + at("p.virga") + " --out " + at("x.mp4") + " --bits 9").code, 2);
}

TEST_F(Cli, CheckIsFineWhereNothingIsFound) {
    ASSERT_EQ(make("").code, 0);
    const Ran checked = runProgram(program + "check " + at("p.virga"));
    EXPECT_EQ(checked.code, 0);
    EXPECT_NE(checked.out.find("nothing found"), std::string::npos);
}

TEST_F(Cli, ProbeSaysWhatAFileIs) {
    const Ran plain = runProgram(program + "probe " + at("a.mp4"));
    EXPECT_EQ(plain.code, 0);
    EXPECT_NE(plain.out.find("320 x 180"), std::string::npos);
    const json info = json::parse(runProgram(program + "probe --json " + at("a.mp4")).out);
    EXPECT_EQ(info["video"]["frames"], 60);
    EXPECT_EQ(info["video"]["rate"], "25");
    EXPECT_EQ(info["audio"]["sampleRate"], 48000);
}

TEST_F(Cli, BadInputEndsWithTwoAndOneLine) {
    std::ofstream(m_folder / "empty.mp4").close();
    std::ofstream(m_folder / "text.mp4") << "no film";
    std::ofstream(m_folder / "bad.virga") << "{ not json";
    fs::copy(m_folder / "a.mp4", m_folder / "cut.mp4");
    fs::resize_file(m_folder / "cut.mp4", 600);
    const std::string commands[] = {
        "probe " + at("empty.mp4"),
        "probe " + at("text.mp4"),
        "probe " + at("cut.mp4"),
        "probe " + at("nothing.mp4"),
        "check " + at("bad.virga"),
        "render " + at("bad.virga") + " --out " + at("o.mp4"),
        "render " + at("nothing.virga") + " --out " + at("o.mp4"),
        "make " + at("q.virga") + " " + at("a.mp4") + " " + at("text.mp4"),
        "make " + at("q.virga") + " " + at("a.mp4") + " --length 500",
        "make " + at("q.virga") + " " + at("a.mp4") + " --move wobble:1,2",
        "make " + at("q.virga") + " " + at("a.mp4") + " --size huge",
        "make " + at("q.virga") + " " + at("a.mp4") + " --rate fast",
    };
    for (const auto& command : commands) {
        const Ran ran = runProgram(program + command);
        EXPECT_EQ(ran.code, 2) << command;
        EXPECT_EQ(lines(ran.err), 1) << command << "\n" << ran.err;
        EXPECT_TRUE(ran.out.empty()) << command;
    }
    EXPECT_FALSE(fs::exists(m_folder / "o.mp4"));
    EXPECT_FALSE(fs::exists(m_folder / "q.virga"));
    for (const char* usage : {"", "dance", "render", "make x.virga", "probe --json", "render a --out b --quality 99"})
        EXPECT_EQ(runProgram(program + usage).code, 2) << usage;
}

TEST_F(Cli, RenderRefusesFramesThatAreNotThere) {
    ASSERT_EQ(make("--length 10").code, 0);
    const Ran ran = runProgram(program + "render " + at("p.virga") + " --out " + at("o.mp4") + " --frames 15-25");
    EXPECT_EQ(ran.code, 2);
    EXPECT_NE(ran.err.find("0 to 19"), std::string::npos);
}

TEST_F(Cli, MusicAndStillsAndOtherSizes) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i sine=440:d=3 " + at("m.wav")));
    ASSERT_TRUE(ffmpeg("-f lavfi -i testsrc2=s=333x127 -frames:v 1 " + at("s.png")));
    const Ran made = runProgram(program + "make " + at("m.virga") + " " + at("s.png") + " " + at("a.mp4") +
                                " --size 640x360 --rate 29.97 --music " + at("m.wav") +
                                " --move 'spin:0,-90|90,0@8,8' --move 'slide-x:0,1|-1,0@8,8'");
    ASSERT_EQ(made.code, 0) << made.err;
    const auto project = loadProject(m_folder / "m.virga");
    ASSERT_TRUE(project);
    EXPECT_EQ(project->settings.rate, Rational(30000, 1001));
    EXPECT_EQ(project->reel[0].length, 60) << "a still for two seconds";
    EXPECT_EQ(project->music.size(), 1u);
    EXPECT_EQ(project->reel[1].transition.moves.size(), 2u);
}

TEST_F(Cli, ConvertsBetweenProjectsTimelinesAndEditLists) {
    ASSERT_EQ(make("--length 20 --move 'zoom:1,2|0.5,1@5,5'").code, 0);
    for (const char* kind : {"otio", "edl"}) {
        const std::string out = at(std::string("x.") + kind);
        const Ran there = runProgram(program + "convert " + at("p.virga") + " " + out);
        EXPECT_EQ(there.code, 0) << there.err;
        const Ran back = runProgram(program + "convert " + out + " " + at("back.virga"));
        EXPECT_EQ(back.code, 0) << back.err;
        const auto p = loadProject(at("p.virga")), q = loadProject(at("back.virga"));
        ASSERT_TRUE(p && q);
        ASSERT_EQ(q->reel.size(), 2u);
        EXPECT_EQ(clipStarts(*q), clipStarts(*p));
        EXPECT_EQ(q->reel[1].sourceIn, p->reel[1].sourceIn);
        EXPECT_EQ(q->media[0].path, p->media[0].path);
        EXPECT_EQ(q->settings.size, p->settings.size);
    }
    EXPECT_NE(runProgram(program + "convert " + at("p.virga") + " " + at("x.edl")).err.find("moves"),
              std::string::npos);
    std::ofstream(m_folder / "bad.edl") << "not a list";
    const Ran bad = runProgram(program + "convert " + at("bad.edl") + " " + at("y.virga"));
    EXPECT_EQ(bad.code, 2);
    EXPECT_NE(bad.err.find("line 1"), std::string::npos) << bad.err;
    EXPECT_FALSE(fs::exists(m_folder / "y.virga"));
}

TEST_F(Cli, RecipesAreListedUsedKeptAndShown) {
    const std::string home = "XDG_DATA_HOME=" + at("data") + " ";
    ASSERT_EQ(make("--length 30").code, 0);
    const Ran list = runProgram(home + program + "recipes list --json");
    ASSERT_EQ(list.code, 0) << list.err;
    const json all = json::parse(list.out);
    EXPECT_GE(all.size(), 30u);
    EXPECT_EQ(all[0]["id"], "plunge");
    const Ran used = runProgram(home + program + "recipes apply " + at("p.virga") + " plunge --out " + at("q.virga") +
                                " --heading out --strength 50");
    ASSERT_EQ(used.code, 0) << used.out << used.err;
    const Project with = loadProject(m_folder / "q.virga").value();
    EXPECT_NEAR(with.reel[1].transition.moves[0].channels[0].outgoing.keys.back().value, std::sqrt(0.4), 1e-9);
    ASSERT_TRUE(with.reel[1].transition.link);
    EXPECT_EQ(with.recipes.size(), 1u);
    const Ran kept = runProgram(home + program + "recipes save " + at("q.virga") + " --cut 1 --name 'Soft fall'");
    ASSERT_EQ(kept.code, 0) << kept.err;
    EXPECT_NE(kept.out.find("soft-fall.virga-recipe"), std::string::npos);
    const Ran shown = runProgram(home + program + "recipes show soft-fall");
    ASSERT_EQ(shown.code, 0) << shown.err;
    EXPECT_EQ(json::parse(shown.out)["name"], "Soft fall");
    EXPECT_NE(runProgram(home + program + "recipes list").out.find("Soft fall"), std::string::npos);
    // What is wrong is said, and nothing is written.
    for (const std::string bad :
         {"recipes show nothing", "recipes apply p.virga plunge --out x.virga --cuts 7",
          "recipes apply p.virga plunge --out x.virga --heading sideways", "recipes apply p.virga pop-up --out x.virga",
          "recipes save p.virga --cut 1 --name x"}) {
        const Ran ran = runProgram("cd " + m_folder.path().string() + " && " + home + program + bad);
        EXPECT_EQ(ran.code, 2) << bad;
        EXPECT_EQ(lines(ran.err), 1) << ran.err;
    }
    EXPECT_FALSE(fs::exists(m_folder / "x.virga"));
}

TEST_F(Cli, FindsCutsAndSaysWhereThereAreNoBeats) {
    ASSERT_EQ(make("--length 20").code, 0);
    ASSERT_EQ(runProgram(program + "render -q --no-sound " + at("p.virga") + " -o " + at("flat.mp4")).code, 0);
    const Ran cuts = runProgram(program + "cuts --json " + at("flat.mp4"));
    EXPECT_EQ(cuts.code, 0);
    EXPECT_EQ(json::parse(cuts.out)["pictures"], 40);
    const Ran beats = runProgram(program + "beats " + at("a.mp4")); // a steady tone
    EXPECT_EQ(beats.code, 2);
    EXPECT_NE(beats.err.find("beat"), std::string::npos) << beats.err;
    EXPECT_EQ(runProgram(program + "beats " + at("flat.mp4")).code, 2) << "no sound at all";
}

TEST_F(Cli, TracesATransitionAndReadsMovement) {
    // Two shots that cannot be mistaken for each other, and a turn between them.
    writeClip(m_folder / "dark.mp4", {320, 180}, 25, 40, [](int) { return detailedPicture({320, 180}, 4); });
    writeClip(m_folder / "bright.mp4", {320, 180}, 25, 40, [](int) {
        Image<Rgba8> picture = detailedPicture({320, 180}, 9);
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x) picture.at(x, y).r = 255, picture.at(x, y).b /= 4;
        return picture;
    });
    ASSERT_EQ(runProgram(program + "make " + at("p.virga") + " " + at("dark.mp4") + " " + at("bright.mp4") +
                         " --length 30 --move 'spin:0,-60|60,0@7,8'")
                  .code,
              0);
    ASSERT_EQ(runProgram(program + "render -q --no-sound " + at("p.virga") + " -o " + at("flat.mp4")).code, 0);
    const std::string recipe = at("theirs.virga-recipe");
    const Ran traced = runProgram(program + "trace --json --picture 30 " + at("flat.mp4") + " --out " + recipe);
    ASSERT_EQ(traced.code, 0) << traced.err;
    const json all = json::parse(traced.out);
    EXPECT_TRUE(all["outgoing"]["moves"]);
    EXPECT_GT(all["explained"], 0.95);
    const Ran shown = runProgram(program + "recipes show " + recipe);
    ASSERT_EQ(shown.code, 0) << shown.err;
    EXPECT_EQ(json::parse(shown.out)["transition"]["moves"][0]["kind"], "spin");
    const Ran told = runProgram(program + "trace --picture 30 " + at("flat.mp4"));
    EXPECT_NE(told.out.find("before: spin"), std::string::npos) << told.out;
    // A file of somebody else's is not replaced; a cut that is not there is said.
    EXPECT_EQ(runProgram(program + "trace --picture 30 " + at("flat.mp4") + " --out " + at("p.virga")).code, 2);
    EXPECT_EQ(runProgram(program + "trace --cut 9 " + at("flat.mp4")).code, 2);
    EXPECT_EQ(runProgram(program + "trace --picture 0 " + at("flat.mp4")).code, 2);
    const Ran movement = runProgram(program + "movement --json " + at("flat.mp4"));
    ASSERT_EQ(movement.code, 0) << movement.err;
    EXPECT_EQ(json::parse(movement.out)["pictures"].size(), 60u);
    EXPECT_GT(lines(runProgram(program + "movement " + at("flat.mp4")).out), 59);
    EXPECT_EQ(runProgram(program + "movement " + at("none.mp4")).code, 2);
}

} // namespace
} // namespace virga::commands_test
