// Formats, presets, parts, numbers, chunks and farms from the terminal.
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/decode/probe.h"
#include "core/encode/delivery_format.h"
#include "tests/support/clips.h"

namespace virga::deliver_test {
namespace {

using namespace test;
using json = nlohmann::json;

class CliDelivery : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {320, 180}, 25, 150, 12, true);
        writeNumberedClip(m_folder / "b.mp4", {320, 180}, 25, 150, 12, true);
        ASSERT_EQ(run("make p.virga a.mp4 b.mp4 --length 75 --move 'zoom:1,2.5|0.62,1@5,12'").code, 0);
    }
    Ran run(const std::string& words) {
        return runProgram("cd " + m_folder.path().string() + " && XDG_CONFIG_HOME=" + m_folder.path().string() + " " +
                          VIRGA_BINARY_DIR + "/cli/virga-cli " + words);
    }
    TemporaryFolder m_folder;
};

TEST_F(CliDelivery, TheEndingSaysTheFormat) {
    const std::pair<const char*, const char*> endings[] = {
        {"a.mkv", "ffv1"}, {"a.mov", "prores"}, {"a.webm", "vp9"}, {"a.gif", "gif"}};
    for (const auto& [name, codec] : endings) {
        const Ran ran = run("render p.virga --frames 73-76 --out " + std::string(name));
        EXPECT_EQ(ran.code, 0) << ran.err;
        const auto info = probe(m_folder / name);
        ASSERT_TRUE(info) << name;
        EXPECT_EQ(info->video->codec, codec);
    }
    EXPECT_EQ(probe(m_folder / "a.mov")->audio->codec, "pcm_s24le") << "the format's usual sound";
    EXPECT_EQ(run("render p.virga --frames 74-75 --out f.exr --alpha").code, 0);
    EXPECT_TRUE(fs::exists(m_folder / "f_0074.exr") && fs::exists(m_folder / "f_0075.exr"));
    EXPECT_TRUE(fs::exists(m_folder / "f.wav"));
    const Ran told = run("formats --json");
    const json formats = json::parse(told.out);
    EXPECT_EQ(formats["formats"].size(), deliveryFormats().size());
    EXPECT_EQ(formats["presets"].size(), 4u);
}

TEST_F(CliDelivery, PresetsAndOptionsTogether) {
    ASSERT_EQ(run("render p.virga --frames 73-76 --preset draft --out d.mp4").code, 0);
    EXPECT_EQ(probe(m_folder / "d.mp4")->video->size, (Size{160, 90}));
    fs::create_directories(m_folder / "virga/exports");
    std::ofstream(m_folder / "virga/exports/night.virga-export")
        << R"({"virga": "export", "version": 1, "name": "Night", "format": "dnxhr", "quality": "hqx", "sound": "pcm16"})";
    const Ran own = run("render p.virga --frames 73-76 --preset Night --out n.mov --rate 50");
    ASSERT_EQ(own.code, 0) << own.err;
    const auto info = probe(m_folder / "n.mov");
    EXPECT_EQ(info->video->codec, "dnxhd");
    EXPECT_EQ(info->video->frames, 8) << "four frames at twice the rate";
    EXPECT_EQ(info->video->bitDepth, 10);
    const Ran bad = run("render p.virga --quality wonderful --out q.mp4");
    EXPECT_EQ(bad.code, 2);
    EXPECT_NE(bad.err.find("very-good"), std::string::npos) << bad.err;
}

TEST_F(CliDelivery, ChunksJoinToTheSameFile) {
    ASSERT_EQ(run("render p.virga --out whole.mp4 --quiet").code, 0);
    EXPECT_EQ(run("render p.virga --out parts.mp4 --chunks").out, "2\n");
    const Ran early = run("join p.virga --out parts.mp4");
    EXPECT_EQ(early.code, 2);
    EXPECT_NE(early.err.find("2 chunks are not there yet"), std::string::npos) << early.err;
    for (const char* k : {"1", "0"}) EXPECT_EQ(run("render p.virga --out parts.mp4 --chunk " + std::string(k)).code, 0);
    EXPECT_EQ(run("render p.virga --out parts.mp4 --chunk 2").code, 2);
    ASSERT_EQ(run("join p.virga --out parts.mp4").code, 0);
    EXPECT_TRUE(*readFile(m_folder / "parts.mp4") == *readFile(m_folder / "whole.mp4"));
    EXPECT_FALSE(fs::exists(m_folder / "parts.mp4.chunks"));
}

TEST_F(CliDelivery, AFarmOfOneMachineGoesOnWhereItStopped) {
    ASSERT_EQ(run("render p.virga --out whole.mp4 --quiet").code, 0);
    ASSERT_EQ(run("render p.virga --out night.mp4 --chunk 1 --quiet").code, 0);
    const Ran farm = run("farm p.virga --out night.mp4");
    ASSERT_EQ(farm.code, 0) << farm.err;
    EXPECT_NE(farm.out.find("2 of 2 chunks"), std::string::npos) << farm.out;
    EXPECT_EQ(farm.out.find("1 of 2 chunks"), std::string::npos) << "one was there";
    EXPECT_TRUE(*readFile(m_folder / "night.mp4") == *readFile(m_folder / "whole.mp4"));
    // Another scheduler by a file: a shell that does all at once, and fails at the first try.
    std::ofstream(m_folder / "mine.json")
        << json{{"index", "$K"},
                {"submit", "test -e tried || { touch tried; echo 7; exit 0; }; for K in 0 1; do K=$K sh -c {command} "
                           ">>{log} 2>&1; done; echo 8"},
                {"join", "echo 9; sh -c {command} >>{log} 2>&1 || true"},
                {"state", "true"}};
    const Ran other = run("farm p.virga --out other.mp4 --scheduler mine.json --shared / --every 0.1");
    ASSERT_EQ(other.code, 0) << other.err << other.out;
    EXPECT_NE(other.err.find("try 2 of 3"), std::string::npos) << other.err;
    EXPECT_TRUE(*readFile(m_folder / "other.mp4") == *readFile(m_folder / "whole.mp4"));
    const Ran unseen = run("farm p.virga --out far.mp4 --scheduler mine.json");
    EXPECT_EQ(unseen.code, 2);
    EXPECT_NE(unseen.err.find("this machine alone"), std::string::npos) << unseen.err;
    // What cannot be rendered is told with its own words.
    fs::remove(m_folder / "b.mp4");
    std::ofstream(m_folder / "b.mp4") << "no film";
    const Ran broken = run("farm p.virga --out broken.mp4 --tries 2");
    EXPECT_EQ(broken.code, 2);
    EXPECT_NE(broken.err.find("chunk"), std::string::npos);
    EXPECT_NE(broken.err.find("b.mp4"), std::string::npos) << broken.err;
}

TEST_F(CliDelivery, PartsAndNumbers) {
    const Ran parts = run("parts p.virga --out reel.mkv --handles 3 --quiet");
    ASSERT_EQ(parts.code, 0) << parts.err;
    EXPECT_NE(parts.out.find("in place of frames 70 to"), std::string::npos) << parts.out;
    for (const char* name : {"reel-cut-01.mkv", "reel-parts.otio", "reel-parts.edl"})
        EXPECT_TRUE(fs::exists(m_folder / name)) << name;
    EXPECT_EQ(run("parts p.virga --out reel.mkv --cuts 2").code, 2);
    EXPECT_EQ(run("parts p.virga --out reel.png").code, 2);
    ASSERT_EQ(run("data p.virga --out m.json --frames 70-80").code, 0);
    EXPECT_EQ(json::parse(*readFile(m_folder / "m.json"))["frames"].size(), 11u);
    EXPECT_EQ(run("data p.virga --out m.txt").code, 2);
    EXPECT_EQ(run("data p.virga --out m.csv --frames 70-180").code, 2);
}

TEST_F(CliDelivery, TheLadderIsOnePicture) {
    ASSERT_EQ(run("ladder p.virga --out l.png --count 5 --height 36").code, 0);
    const auto info = probe(m_folder / "l.png");
    ASSERT_TRUE(info);
    EXPECT_EQ(info->video->size, (Size{5 * 64 + 5 * 2, 36}));
    EXPECT_FALSE(fs::exists(m_folder / "l_0000.png"));
    EXPECT_EQ(run("ladder p.virga --out l.png --cut 2").code, 2);
}

TEST_F(CliDelivery, ManualAndCompletionComeFromTheCommands) {
    const Ran manual = run("--manual");
    EXPECT_EQ(manual.code, 0);
    for (const char* word : {".TH VIRGA", "virga\\-cli render", "\\-\\-preset", "virga\\-cli recipes apply"})
        EXPECT_NE(manual.out.find(word), std::string::npos) << word;
    // man's own formatter has nothing to say against it.
    if (runProgram("command -v groff").code == 0) {
        std::ofstream(m_folder / "m.1") << manual.out;
        const Ran groff = runProgram("groff -man -ww -z " + (m_folder / "m.1").string() + " 2>&1");
        EXPECT_TRUE(groff.out.empty()) << groff.out;
    }
    const Ran completion = run("--bash-completion");
    std::ofstream(m_folder / "c.bash") << completion.out;
    const auto complete = [&](const std::string& words, int at) {
        return runProgram("bash -c 'source " + (m_folder / "c.bash").string() + "; COMP_WORDS=(" + words +
                          "); COMP_CWORD=" + std::to_string(at) + "; _virga_cli; echo ${COMPREPLY[@]}'")
            .out;
    };
    EXPECT_EQ(complete("virga-cli ren", 1), "render\n");
    EXPECT_EQ(complete("virga-cli render p.virga --pre", 3), "--preset\n");
    EXPECT_NE(complete("virga-cli recipes ap", 2).find("apply"), std::string::npos);
}

} // namespace
} // namespace virga::deliver_test
