// Files that once ended Virga, or were lost by it: each told in words, with the right exit code, in time, and nothing
// of the user's replaced. tests/corpus/cases.txt lists the small ones; here are also those that are large, or no files
// at all.
#include <chrono>
#include <csignal>
#include <fstream>
#include <gtest/gtest.h>
#include <map>
#include <sstream>
#include <sys/stat.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

#include "core/base/hash.h"
#include "core/interchange/edit_file.h"
#include "core/project/project_file.h"
#include "tests/support/clips.h"
#include "tests/support/sanitizers.h"

namespace virga::corpus_test {
namespace {

using namespace test;

const std::string program = VIRGA_BINARY_DIR "/cli/virga-cli";

std::string bytesOf(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

// A limit on the program's memory; the sanitizers need their own.
std::string memory(int kilobytes) {
    return underSanitizer ? std::string() : "ulimit -v " + std::to_string(kilobytes) + " && ";
}

std::string trimmed(const std::string& text) {
    const auto a = text.find_first_not_of(' '), b = text.find_last_not_of(' ');
    return a == text.npos ? "" : text.substr(a, b - a + 1);
}

class Corpus : public testing::Test {
protected:
    void SetUp() override {
        for (const auto& entry : fs::directory_iterator(VIRGA_SOURCE_DIR "/tests/corpus"))
            if (entry.is_regular_file()) fs::copy_file(entry.path(), m_folder / entry.path().filename().string());
    }
    // In the folder, at most 20 s and 4 GB.
    Ran run(const std::string& arguments) {
        const auto began = std::chrono::steady_clock::now();
        const Ran ran = runProgram("cd '" + m_folder.path().string() + "' && " + memory(4000000) + "timeout -k 1 20 " +
                                   program + " " + arguments);
        EXPECT_LT(std::chrono::steady_clock::now() - began, std::chrono::seconds(20)) << arguments;
        EXPECT_TRUE(ran.code >= 0 && ran.code <= 2) << arguments << ": " << ran.code << ran.err;
        for (const std::string* text : {&ran.out, &ran.err})
            for (const unsigned char c : *text)
                EXPECT_TRUE((c >= 0x20 && c != 0x7f) || c == '\n' || c == '\r') << arguments << ": byte " << int(c);
        for (const std::string* text : {&ran.out, &ran.err}) // C1 controls and marks that turn the writing, as UTF-8
            for (const char* mark : {"\xc2\x9b", "\u202e", "\u2028", "\u2066"})
                EXPECT_EQ(text->find(mark), std::string::npos) << arguments;
        return ran;
    }
    void refuses(const std::string& arguments, const std::string& words) {
        const Ran ran = run(arguments);
        EXPECT_EQ(ran.code, 2) << arguments << ran.out;
        EXPECT_NE(ran.err.find(words), std::string::npos) << arguments << " says: " << ran.err;
    }
    std::map<std::string, std::string> contents() {
        std::map<std::string, std::string> all;
        for (const auto& entry : fs::directory_iterator(m_folder.path()))
            if (entry.is_regular_file()) all[entry.path().filename().string()] = bytesOf(entry.path());
        return all;
    }
    void put(const std::string& name, const std::string& text) {
        std::ofstream(m_folder / name, std::ios::binary) << text;
    }
    TemporaryFolder m_folder;
};

TEST_F(Corpus, EveryCaseIsToldAndNothingIsLost) {
    const auto before = contents();
    std::istringstream cases(bytesOf(m_folder / "cases.txt"));
    int count = 0;
    for (std::string line; std::getline(cases, line);) {
        if (line.empty() || line[0] == '#') continue;
        std::istringstream parts(line);
        std::string command, code, words;
        std::getline(parts, command, '|');
        std::getline(parts, code, '|');
        std::getline(parts, words);
        SCOPED_TRACE(line);
        const Ran ran = run(trimmed(command));
        EXPECT_EQ(ran.code, std::stoi(code)) << ran.out << ran.err;
        EXPECT_NE((ran.out + ran.err).find(trimmed(words)), std::string::npos) << ran.out << ran.err;
        ++count;
        for (const auto& [name, bytes] : contents()) {
            const auto was = before.find(name);
            if (name.starts_with("out")) {
                if (ran.code == 0 && name.ends_with("irga"))
                    EXPECT_LE(run("check " + name).code, 1) << "what it made opens";
                fs::remove(m_folder / name);
                continue;
            }
            ASSERT_TRUE(was != before.end()) << name << " is new";
            // A project may be replaced by convert, which was asked to.
            if (!trimmed(command).ends_with(name) || ran.code != 0)
                EXPECT_EQ(bytes, was->second) << name << " was changed";
        }
        fs::copy_file(VIRGA_SOURCE_DIR "/tests/corpus/extra-channels.virga", m_folder / "extra-channels.virga",
                      fs::copy_options::overwrite_existing);
        fs::copy_file(VIRGA_SOURCE_DIR "/tests/corpus/title-indented.edl", m_folder / "title-indented.edl",
                      fs::copy_options::overwrite_existing);
    }
    EXPECT_GE(count, 40);
}

// A picture is itself, whatever its name looks like to FFmpeg; a list opens nothing beside it; results too may be
// called so.
TEST_F(Corpus, NamesAreNames) {
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=red:s=64x36 -frames:v 1 " + (m_folder / "red.png").string()));
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=blue:s=32x18 -frames:v 1 " + (m_folder / "blue.png").string()));
    for (const char* name : {"a%03d.png", "b%d.png", "c*.png", "d{1,2}.png", "-", "e?.png"})
        fs::copy_file(m_folder / "red.png", m_folder / name);
    for (const char* name : {"a001.png", "a002.png", "b1.png"}) fs::copy_file(m_folder / "blue.png", m_folder / name);
    for (const char* name : {"a%03d.png", "b%d.png", "c*.png", "d{1,2}.png", "./-", "e?.png"}) {
        const Ran ran = run(std::string("probe '") + name + "'");
        EXPECT_EQ(ran.code, 0) << name << ran.err;
        EXPECT_NE(ran.out.find("64 x 36"), std::string::npos) << name << ran.out;
    }
    fs::create_directory(m_folder / "http:");
    fs::copy_file(m_folder / "red.png", m_folder / "http:/x.png");
    EXPECT_EQ(run("probe http:/x.png").code, 0);
    ASSERT_EQ(run("make p.virga red.png blue.png --length 3 --size 64x36 --rate 25").code, 0);
    EXPECT_EQ(run("render p.virga -o 'film%03d.mp4' -q").code, 0) << "a film's name is a name";
    EXPECT_TRUE(fs::exists(m_folder / "film%03d.mp4"));
    EXPECT_EQ(run("render p.virga -o 'shot.%05d.png' -q --no-sound").code, 0) << "pictures get their number there";
    EXPECT_TRUE(fs::exists(m_folder / "shot.00000.png") && fs::exists(m_folder / "shot.00005.png"));
    EXPECT_EQ(run("probe 'shot.[00000-00005].png'").code, 0);
    EXPECT_EQ(run("ladder p.virga -o 'l%d.png' --cut 1 --count 2").code, 0);
    EXPECT_TRUE(fs::exists(m_folder / "l%d.png"));
}

// Before the first file is written every name is asked for; what is of another origin stays.
TEST_F(Corpus, NothingOfAnyonesIsReplacedUnasked) {
    writeNumberedClip(m_folder / "silent.mp4", {160, 96}, 25, 40);
    ASSERT_TRUE(ffmpeg("-i " + (m_folder / "silent.mp4").string() + " -f lavfi -i sine=440:d=1.6 -c:v copy -shortest " +
                       (m_folder / "a.mp4").string()));
    ASSERT_EQ(run("make p.virga a.mp4 a.mp4 --length 12 --move 'zoom:1,2|0.6,1@4,4'").code, 0);
    for (const char* name : {"d.json", "d.csv", "part-parts.otio", "part-parts.edl", "heat.wav"}) put(name, "mine\n");
    fs::create_directory(m_folder / "snow_0007.png");
    fs::create_symlink("a.mp4", m_folder / "rain_0005.png");
    const auto before = contents();
    for (const char* arguments : {"data p.virga -o d.json", "data p.virga -o d.csv", "parts p.virga -o part.mkv -q",
                                  "render p.virga -o heat.png -q", "render p.virga -o snow.png -q --no-sound",
                                  "render p.virga -o rain.png -q --no-sound"}) {
        EXPECT_EQ(run(arguments).code, 2) << arguments;
        EXPECT_TRUE(contents() == before) << arguments;
    }
    EXPECT_TRUE(fs::is_symlink(m_folder / "rain_0005.png"));
    EXPECT_EQ(run("data p.virga -o d.json --force").code, 0);
    EXPECT_EQ(run("data p.virga -o d.json").code, 0) << "its own may be replaced";
    EXPECT_EQ(run("parts p.virga -o part.mkv -q --force").code, 0);
    EXPECT_EQ(run("parts p.virga -o part.mkv -q").code, 0);
}

// Chunks say what they are: exchanged, doubled, shortened, damaged ones and those of an older source are not joined.
TEST_F(Corpus, OnlyTheRightChunksAreJoined) {
    writeNumberedClip(m_folder / "a.mp4", {160, 96}, 25, 300);
    ASSERT_EQ(run("make p.virga a.mp4").code, 0);
    const std::string same = " p.virga -o out.mp4 -q";
    const auto renderAll = [&] {
        for (const char* k : {"0", "1", "2"}) ASSERT_EQ(run("render" + same + " --chunk " + k).code, 0);
    };
    const auto chunk = [&](int k) {
        for (const auto& e : fs::directory_iterator(m_folder / "out.mp4.chunks"))
            if (e.path().extension() == ".nut" && e.path().filename().string().starts_with("0000" + std::to_string(k)))
                return e.path();
        return fs::path();
    };
    renderAll();
    const auto saved = bytesOf(chunk(1));
    std::ofstream(chunk(1), std::ios::binary) << bytesOf(chunk(2)); // another chunk in its place
    refuses("join" + same, "chunk 1");
    std::ofstream(chunk(1), std::ios::binary) << saved.substr(0, saved.size() - 100); // a part of it
    refuses("join" + same, "not as it was rendered");
    std::string damaged = saved;
    damaged[damaged.size() / 2] = char(damaged[damaged.size() / 2] ^ 1);
    std::ofstream(chunk(1), std::ios::binary) << damaged;
    refuses("join" + same, "chunk 1");
    EXPECT_EQ(run("render" + same + " --chunk 1").code, 0) << "what is damaged is made again";
    writeNumberedClip(m_folder / "a.mp4", {160, 96}, 25, 301); // another source by the same name
    refuses("join" + same, "not there yet");
    writeNumberedClip(m_folder / "a.mp4", {160, 96}, 25, 300);
    put("out.mp4.chunks/notes.txt", "mine");
    EXPECT_EQ(run("join" + same).code, 0);
    EXPECT_EQ(bytesOf(m_folder / "out.mp4.chunks/notes.txt"), "mine") << "what else lies in the folder stays";
    EXPECT_EQ(run("render p.virga -o whole.mp4 -q").code, 0);
    EXPECT_TRUE(bytesOf(m_folder / "whole.mp4") == bytesOf(m_folder / "out.mp4"));
}

TEST_F(Corpus, FullAndClosedOutputsAreToldByTheExitCode) {
    const std::string go = "cd '" + m_folder.path().string() + "' && timeout 20 " + program;
    for (const char* how : {" formats > /dev/full", " formats >&-", " check good.virga >&- 2>&-",
                            " probe gone.mp4 2>&-", " probe gone.mp4 2>/dev/full", " formats --json > /dev/full"})
        EXPECT_EQ(runProgram("( " + go + how + " )").code, 2) << how;
    // The number of a closed stream is not given to a file that is written.
    writeNumberedClip(m_folder / "a.mp4", {160, 96}, 25, 10);
    ASSERT_EQ(run("make p.virga a.mp4").code, 0);
    runProgram("( " + go + " render p.virga -o out.mp4 >&- 2>&- <&- )");
    EXPECT_EQ(run("probe out.mp4").code, 0);
}

// From any folder, by any way: what is written finds its shots again.
TEST_F(Corpus, PathsLeadBackFromEverywhere) {
    fs::create_directories(m_folder / "one/deep");
    fs::create_directories(m_folder / "two");
    writeNumberedClip(m_folder / "one/a.mp4", {160, 96}, 25, 20);
    for (const char* out : {"../two/p.virga", "../two/../two/q.virga", "deep/../r.virga", "./s.virga"}) {
        const std::string go = "cd '" + (m_folder / "one").string() + "' && " + program + " ";
        ASSERT_EQ(runProgram(go + "make " + out + " a.mp4").code, 0) << out;
        std::vector<std::string> missing;
        const auto back = loadProject(m_folder / "one" / out, &missing);
        ASSERT_TRUE(back) << out;
        EXPECT_TRUE(missing.empty()) << out;
        EXPECT_TRUE(fs::equivalent(back->media[0].path, m_folder / "one/a.mp4")) << out << " " << back->media[0].path;
        EXPECT_FALSE(back->media[0].fingerprint.empty()) << out;
        ASSERT_EQ(runProgram(go + "convert " + out + " ../two/x.otio --force").code, 0) << out;
        const auto edit = readEditFile(m_folder / "two/x.otio", {});
        ASSERT_TRUE(edit);
        EXPECT_TRUE(fs::equivalent(edit->project.media[0].path, m_folder / "one/a.mp4")) << out;
    }
    writeNumberedClip(m_folder / "one/a.mp4", {160, 96}, 25, 30);
    EXPECT_NE(run("check two/p.virga").err.find("another file"), std::string::npos) << "it was exchanged";
}

// The same files in this process: an error or a value, never an exception.
TEST_F(Corpus, ReadersGiveAnErrorOrAValue) {
    for (const auto& [name, bytes] : contents()) {
        SCOPED_TRACE(name);
        if (name.ends_with(".virga")) (void)loadProject(m_folder / name);
        (void)readEditFile(m_folder / name, {});
        for (std::size_t cut = 0; cut < bytes.size(); cut += std::max<std::size_t>(1, bytes.size() / 40)) {
            put("cut" + fs::path(name).extension().string(), bytes.substr(0, cut));
            const fs::path part = m_folder / ("cut" + fs::path(name).extension().string());
            if (name.ends_with(".virga")) EXPECT_FALSE(loadProject(part)) << cut;
            (void)readEditFile(part, {});
        }
    }
}

TEST_F(Corpus, DepthAndLengthAreBounded) {
    for (const std::string open : {"[", "{\"a\":"}) {
        std::string deep;
        for (int i = 0; i < 100000; ++i) deep += open;
        put("deep.virga", deep);
        refuses("check deep.virga", "deep inside each other");
        put("deep.otio", deep);
        refuses("convert deep.otio out.virga", "deep inside each other");
    }
    const std::string good = bytesOf(m_folder / "good.virga");
    std::string unknown = good;
    std::string inner;
    for (int i = 0; i < 100000; ++i) inner += "[";
    unknown.insert(1, "\"mystery\": " + inner + std::string(100000, ']') + ", ");
    put("deep.virga", unknown);
    refuses("check deep.virga", "deep inside each other");
    std::string longPath = good;
    longPath.replace(longPath.find("\"media\": []"), 11,
                     "\"media\": [{\"id\": \"m\", \"path\": \"" + std::string(300000, 'x') + "\"}]");
    put("long.virga", longPath);
    refuses("check long.virga", "too much");
    put("long.edl", bytesOf(m_folder / "title-indented.edl") + "* COMMENT " + std::string(300000, 'y') + "\n");
    EXPECT_EQ(run("convert long.edl out.virga").code, 0);
    EXPECT_EQ(run("check out.virga").code, 0);
}

TEST_F(Corpus, ManyReelsAndManyClipsTakeNoLongerThanTheyMust) {
    std::string list = "TITLE: MANY\n";
    for (int i = 0; i < 8000; ++i) {
        char line[120];
        const int a = i % 60, m = i / 60 % 60, h = i / 3600;
        std::snprintf(line, sizeof line,
                      "%03d  R%05d   V     C        00:00:00:00 00:00:01:00 %02d:%02d:%02d:00 %02d:%02d:%02d:00\n",
                      i % 1000, i, 1 + h, m, a, 1 + (i + 1) / 3600, (i + 1) / 60 % 60, (i + 1) % 60);
        list += line;
    }
    put("many.edl", list);
    const Ran made = run("convert many.edl out.virga");
    EXPECT_EQ(made.code, 0);
    EXPECT_NE(made.out.find("8000 clips"), std::string::npos) << made.out;
    std::string clips;
    for (int i = 0; i < 3000; ++i)
        clips += (i ? "," : "") + std::string("{\"id\":\"c") + std::to_string(i) +
                 "\",\"media\":\"m\",\"length\":25,\"transition\":{\"moves\":[{\"id\":\"v" + std::to_string(i) +
                 "\",\"kind\":\"zoom\",\"channels\":[{\"name\":\"factor\",\"outgoing\":[{\"time\":-5,\"value\":1},{"
                 "\"time\":1,\"value\":2}],"
                 "\"incoming\":[{\"time\":-1,\"value\":0.6},{\"time\":8,\"value\":1}]}]}]}}";
    put("many.virga", "{\"format\":\"virga-project\",\"version\":2,\"settings\":{\"width\":1280,\"height\":720,"
                      "\"rate\":\"25\"},\"media\":[{\"id\":\"m\",\"path\":\"none.mp4\",\"width\":1280,\"height\":720,"
                      "\"duration\":\"9\"}],"
                      "\"reel\":[" +
                          clips + "]}");
    EXPECT_EQ(run("check many.virga").code, 1);
}

// Pipes, devices, links, folders without permission: told by name, at once.
TEST_F(Corpus, OnlyRegularFilesAreReadAndReplaced) {
    ASSERT_EQ(::mkfifo((m_folder / "pipe.virga").c_str(), 0600), 0);
    ASSERT_EQ(::mkfifo((m_folder / "pipe.mp4").c_str(), 0600), 0);
    ASSERT_EQ(::mkfifo((m_folder / "pipe.edl").c_str(), 0600), 0);
    refuses("check pipe.virga", "pipe");
    refuses("probe pipe.mp4", "pipe");
    refuses("convert pipe.edl out.virga", "pipe");
    refuses("probe /dev/zero", "device");
    fs::create_symlink("round.virga", m_folder / "round.virga");
    refuses("check round.virga", "leads back to itself");
    refuses("check " + std::string(400, 'n') + ".virga", "too long");
    // Writing: a link, a pipe, a protected file.
    fs::create_symlink("good.virga", m_folder / "link.virga");
    const std::string good = bytesOf(m_folder / "good.virga");
    refuses("convert extra-channels.virga link.virga", "link");
    EXPECT_TRUE(fs::is_symlink(m_folder / "link.virga"));
    EXPECT_EQ(bytesOf(m_folder / "good.virga"), good);
    refuses("convert extra-channels.virga pipe.virga", "pipe");
    EXPECT_TRUE(fs::is_fifo(m_folder / "pipe.virga"));
    put("kept.virga", good);
    fs::permissions(m_folder / "kept.virga", fs::perms::owner_read);
    refuses("convert extra-channels.virga kept.virga", "protected");
    EXPECT_EQ(bytesOf(m_folder / "kept.virga"), good);
}

TEST_F(Corpus, NoCommandLineReplacesAnInput) {
    writeNumberedClip(m_folder / "a.mp4", {160, 96}, 25, 20);
    writeNumberedClip(m_folder / "b.mp4", {160, 96}, 25, 20);
    ASSERT_TRUE(ffmpeg("-i " + (m_folder / "a.mp4").string() + " " + (m_folder / "p_%04d.png").string()));
    ASSERT_TRUE(ffmpeg("-i " + (m_folder / "a.mp4").string() + " -c copy " + (m_folder / "c.avi").string()));
    ASSERT_EQ(run("make p.virga a.mp4 b.mp4 'p_[0001-0020].png'").code, 0);
    ASSERT_EQ(run("convert p.virga p.otio").code, 0);
    fs::create_symlink("a.mp4", m_folder / "other.mp4");
    fs::create_hard_link(m_folder / "a.mp4", m_folder / "same.mp4");
    const auto before = contents();
    for (const std::string arguments :
         {"make a.mp4 b.mp4 c.avi", "make a.mp4 a.mp4", "make b.mp4 a.mp4", "make p_0003.png a.mp4",
          "make c.avi a.mp4 --force", "convert p.virga a.mp4", "convert p.virga p.virga", "convert p.otio a.mp4",
          "convert p.virga c.avi --force", "render p.virga -o p.virga", "render p.virga -o a.mp4",
          "render p.virga -o ./a.mp4", "render p.virga -o same.mp4", "render p.virga -o other.mp4",
          "render p.virga -o p.png", "render p.virga -o p.png --frames 3-5", "render p.virga -o b.mp4 --frames 0-2",
          "make p_0001.png 'p_[0001-0020].png'", "convert p.otio p.otio"}) {
        const Ran ran = run(arguments);
        EXPECT_EQ(ran.code, 2) << arguments;
        EXPECT_FALSE(ran.err.empty()) << arguments;
        EXPECT_TRUE(contents() == before) << arguments;
    }
    // A picture of the sequence by a name that is a video's is still its own: nothing else is in the way.
    EXPECT_EQ(run("render p.virga -o fresh.mp4 --frames 0-2 -q").code, 0);
    EXPECT_EQ(run("render p.virga -o fresh.mp4 --frames 0-1 -q").code, 0) << "an earlier export may be replaced";
}

TEST_F(Corpus, AnEndedExportLeavesNoPartFile) {
    writeNumberedClip(m_folder / "a.mp4", {640, 360}, 25, 200);
    ASSERT_EQ(run("make p.virga a.mp4 a.mp4").code, 0);
    const auto parts = [&] {
        int n = 0;
        for (const auto& e : fs::directory_iterator(m_folder.path()))
            n += e.path().filename().string().find(".part") != std::string::npos;
        return n;
    };
    for (const int signal : {SIGTERM, SIGHUP, SIGKILL}) {
        const pid_t child = ::fork();
        ASSERT_GE(child, 0) << "no process could be begun";
        if (child == 0) {
            ::chdir(m_folder.path().c_str());
            ::execl(program.c_str(), "virga-cli", "render", "p.virga", "-o", "out.mp4", "-q", nullptr);
            ::_exit(127);
        }
        for (int i = 0; i < 400 && parts() == 0; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(10));
        EXPECT_EQ(parts(), 1);
        ::kill(child, signal);
        int status = 0;
        ::waitpid(child, &status, 0);
        EXPECT_TRUE(WIFSIGNALED(status)) << signal;
        EXPECT_EQ(parts(), signal == SIGKILL ? 1 : 0) << signal;
    }
    EXPECT_EQ(run("render p.virga -o other.mp4 --frames 0-1 -q").code, 0);
    EXPECT_EQ(parts(), 0) << "the next export takes away what a killed one left";
}

// Too little memory for a picture: told, and nobody waits for ever.
TEST_F(Corpus, RefusedMemoryIsAnError) {
    if (underSanitizer) GTEST_SKIP() << "under a sanitizer memory cannot be refused";
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i color=c=gray:s=12000x12000 -frames:v 1 -pix_fmt gray " + (m_folder / "huge.png").string()));
    ASSERT_EQ(run("make p.virga huge.png huge.png --length 3 --size 640x360").code, 0);
    const Ran ran = runProgram("cd '" + m_folder.path().string() + "' && " + memory(1500000) + "timeout -k 1 20 " +
                               program + " render p.virga -o out.mp4 -q");
    EXPECT_EQ(ran.code, 2) << ran.out << ran.err;
    EXPECT_NE(ran.err.find("memory"), std::string::npos) << ran.err;
    EXPECT_FALSE(fs::exists(m_folder / "out.mp4"));
}

// Names that are not UTF-8 and channels of a newer version come back from the file.
TEST_F(Corpus, OddNamesAndChannelsSurvive) {
    const std::string odd = "caf\xe9.mp4";
    writeNumberedClip(m_folder / "a.mp4", {160, 96}, 25, 10);
    fs::rename(m_folder / "a.mp4", m_folder / odd);
    Project p;
    Media m;
    m.id = "m";
    m.path = m_folder / odd;
    m.size = {160, 96};
    m.duration = 1;
    p.media.push_back(m);
    ASSERT_TRUE(saveProject(p, m_folder / "odd.virga"));
    std::vector<std::string> missing;
    const auto back = loadProject(m_folder / "odd.virga", &missing);
    ASSERT_TRUE(back) << describe(back.error());
    EXPECT_TRUE(missing.empty());
    EXPECT_EQ(back->media[0].path.native(), (m_folder / odd).native());
    const auto extra = loadProject(m_folder / "extra-channels.virga");
    ASSERT_TRUE(extra);
    ASSERT_TRUE(saveProject(*extra, m_folder / "again.virga"));
    EXPECT_NE(bytesOf(m_folder / "again.virga").find("wobble"), std::string::npos);
}

} // namespace
} // namespace virga::corpus_test
