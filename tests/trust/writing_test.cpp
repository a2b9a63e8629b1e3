// Everything that the command line writes, and what the window keeps beside its work, on a disk that fills up, in a
// folder that may not be written to, and killed at random moments: it says so and ends with 2, what was there before is
// there still, byte for byte, and nothing half written is left.
#include <chrono>
#include <fstream>
#include <gtest/gtest.h>
#include <iterator>
#include <map>
#include <random>

#include "core/project/project_file.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"
#include "tests/support/sanitizers.h"

namespace virga::writing_test {
namespace {

using namespace test;

struct Writing {
    const char* name;
    const char* arguments; // %o is where it is written to
    const char* ending;
    bool again = true; // it is done once more where it is there already
    const char* program = "cli/virga-cli";
};

void PrintTo(const Writing& writing, std::ostream* to) {
    *to << writing.name;
}

const Writing writings[] = {
    {"convert", "convert p.virga %o", ".virga"},
    {"convert to a timeline", "convert p.virga %o", ".otio"},
    {"make", "make --force %o a.mp4 b.mp4 --move 'zoom:1,2.5|0.62,1@5,12'", ".virga"},
    {"film", "render p.virga --out %o --quiet", ".mp4"},
    {"lossless film", "render p.virga --out %o --quiet", ".mkv"},
    {"web film", "render p.virga --out %o --frames 20-30 --quiet", ".webm"},
    {"sound", "render p.virga --out %o --quiet", ".wav"},
    {"message", "render p.virga --out %o --frames 20-26 --quiet", ".gif"},
    {"pictures", "render p.virga --out %o --frames 20-24 --quiet", ".png"},
    {"float pictures", "render p.virga --out %o --frames 20-22 --quiet", ".exr"},
    {"a chunk", "render p.virga --out %o --chunk 0 --quiet", ".mp4", false},
    {"movement", "data p.virga --out %o", ".json"},
    {"movement as a table", "data p.virga --out %o", ".csv"},
    {"ladder", "ladder p.virga --out %o", ".png"},
    {"parts", "parts p.virga --out %o", ".mov"},
    {"collected media", "collected %o", ".media", false, "tests/trust/keep"},
    {"light copy", "proxy %o", ".mp4", true, "tests/trust/keep"},
    {"field of movement", "flow %o", ".flow", true, "tests/trust/keep"},
    {"shot's movement", "movement %o", ".json", true, "tests/trust/keep"},
    {"recipe", "recipe %o", ".virga-recipe", true, "tests/trust/keep"},
    {"preset", "preset %o", ".presets", true, "tests/trust/keep"},
};

constexpr int killings = 8; // of each kind

class Everything : public testing::TestWithParam<Writing> {
protected:
    void SetUp() override {
        fs::create_directory(m_folder / "in");
        fs::create_directory(m_folder / "out");
        writeNumberedClip(m_folder / "in" / "a.mp4", {160, 90}, 25, 75, 12, true);
        writeNumberedClip(m_folder / "in" / "b.mp4", {160, 90}, 25, 75, 11);
        Project p = plungeProject(m_folder / "in" / "a.mp4", m_folder / "in" / "b.mp4");
        p.settings.size = {160, 90};
        for (Media& media : p.media) media.size = {160, 90}, media.sound = true;
        ASSERT_TRUE(saveProject(p, m_folder / "in" / "p.virga"));
    }
    fs::path out() const { return m_folder / "out"; }
    // In the folder of the project; `faults` are for the preloaded library, `before` is put in front.
    Ran run(const std::string& faults, const std::string& before = {}) {
        std::string arguments = GetParam().arguments;
        const std::string target = (out() / (std::string("result") + GetParam().ending)).string();
        arguments.replace(arguments.find("%o"), 2, "'" + target + "'");
        const std::string preload = faults.empty() ? ""
                                                   : "env LD_PRELOAD=" VIRGA_BINARY_DIR
                                                     "/tests/trust/libwrite_faults.so VIRGA_FAULT_FOLDER='" +
                                                         out().string() + "' " + faults + " ";
        return runProgram("cd '" + (m_folder / "in").string() + "' && " + before + preload + VIRGA_BINARY_DIR "/" +
                          GetParam().program + " " + arguments);
    }
    std::map<std::string, std::string> contents() {
        std::map<std::string, std::string> all;
        for (const auto& entry : fs::recursive_directory_iterator(out())) {
            if (!entry.is_regular_file()) continue;
            std::ifstream in(entry.path(), std::ios::binary);
            all[fs::relative(entry.path(), out()).string()] = {std::istreambuf_iterator<char>(in), {}};
        }
        return all;
    }
    TemporaryFolder m_folder;
};

TEST_P(Everything, ThatIsWrittenStandsAFullDisk) {
    if (underSanitizer) GTEST_SKIP() << "a sanitizer's runtime must be loaded first";
    const Ran whole = run("");
    ASSERT_EQ(whole.code, 0) << whole.err;
    const auto good = contents();
    ASSERT_FALSE(good.empty());
    std::size_t bytes = 0;
    for (const auto& [name, text] : good) bytes += text.size();
    for (const double part : {0.0, 0.001, 0.2, 0.5, 0.9}) {
        const std::string room = std::to_string(std::size_t(double(bytes) * part));
        SCOPED_TRACE("room for " + room + " of " + std::to_string(bytes) + " bytes");
        // Over what is there: it stays.
        if (!GetParam().again) fs::remove_all(out()), fs::create_directory(out());
        const Ran over = run("VIRGA_FAULT_BYTES=" + room);
        EXPECT_EQ(over.code, 2) << over.out << over.err;
        EXPECT_NE(over.err.find("space"), std::string::npos) << over.err;
        const auto after = contents();
        if (GetParam().again)
            for (const auto& [name, text] : good) {
                ASSERT_TRUE(after.contains(name)) << name << " is lost";
                EXPECT_TRUE(after.at(name) == text) << name << " was changed";
            }
        for (const auto& [name, text] : after) EXPECT_TRUE(good.contains(name)) << name << " was left";
        // Where nothing was.
        fs::remove_all(out());
        fs::create_directory(out());
        const Ran fresh = run("VIRGA_FAULT_BYTES=" + room);
        EXPECT_EQ(fresh.code, 2) << fresh.out << fresh.err;
        for (const auto& [name, text] : contents()) {
            ASSERT_TRUE(good.contains(name)) << name << " was left";
            EXPECT_TRUE(good.at(name) == text) << name << " is not whole";
        }
        ASSERT_EQ(run("").code, 0) << "with room again it works";
        EXPECT_TRUE(contents() == good) << "and gives the same";
    }
}

TEST_P(Everything, ThatIsWrittenStandsAProtectedFolder) {
    if (underSanitizer) GTEST_SKIP() << "a sanitizer's runtime must be loaded first";
    ASSERT_EQ(run("").code, 0);
    const auto good = contents();
    if (!GetParam().again) fs::remove_all(out()), fs::create_directory(out());
    const Ran denied = run("VIRGA_FAULT_DENY=1");
    EXPECT_EQ(denied.code, 2) << denied.out << denied.err;
    EXPECT_NE(denied.err.find("ermission"), std::string::npos) << denied.err;
    if (GetParam().again) EXPECT_TRUE(contents() == good);
}

// Killed (SIGKILL) at random moments: under a final name there is only ever a whole file, old or new, and what was half
// written is swept up by the next run.
TEST_P(Everything, ThatIsWrittenStandsBeingKilled) {
    const auto begun = std::chrono::steady_clock::now();
    ASSERT_EQ(run("").code, 0);
    const double whole = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    const auto good = contents();
    std::mt19937 draw(5);
    int killed = 0;
    for (int round = 0; round < killings; ++round) {
        if (round % 2) fs::remove_all(out()), fs::create_directory(out());
        const double moment = whole * double(draw() % 1000) / 1000;
        killed += run("", "timeout --foreground -s KILL " + std::to_string(moment + 0.001) + " ").code != 0;
        for (const auto& [name, text] : contents()) {
            if (name.starts_with(".") || name.find("/.") != name.npos) continue; // its own, hidden, while it writes
            ASSERT_TRUE(good.contains(name)) << name << " after " << moment << " s";
            ASSERT_TRUE(good.at(name) == text) << name << " is half written after " << moment << " s";
        }
    }
    ASSERT_EQ(run("").code, 0);
    EXPECT_TRUE(contents() == good) << "nothing else is left";
    RecordProperty("killed", killed);
    std::printf("killed %d times\n", killed);
}

INSTANTIATE_TEST_SUITE_P(Of, Everything, testing::ValuesIn(writings), [](const auto& of) {
    std::string name = of.param.name;
    for (char& c : name)
        if (c == ' ' || c == '\'') c = '_';
    return name;
});

} // namespace
} // namespace virga::writing_test
