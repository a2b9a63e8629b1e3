// The guide tells the truth: each fault of docs/guide/findings.txt is found, and nothing is found in its cure; what the
// guide quotes is what the check says.
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>

#include "tests/support/clips.h"

namespace virga::test::guide_test {
namespace {

struct Pair {
    std::string name, finding, fault, cure;
};

std::vector<Pair> pairs() {
    std::vector<Pair> all;
    std::ifstream in(VIRGA_SOURCE_DIR "/docs/guide/findings.txt");
    for (std::string line; std::getline(in, line);) {
        if (line.empty() || line[0] == '#') continue;
        std::vector<std::string> parts;
        for (std::size_t at = 0;;) {
            const std::size_t end = line.find(" | ", at);
            parts.push_back(line.substr(at, end - at));
            if (end == line.npos) break;
            at = end + 3;
        }
        EXPECT_EQ(parts.size(), 4u) << line;
        if (parts.size() == 4) all.push_back({parts[0], parts[1], parts[2], parts[3]});
    }
    return all;
}

class Guide : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "lighthouse.mp4", {1280, 720}, 25, 75);
        writeNumberedClip(m_folder / "first-heat.mp4", {1280, 720}, 25, 75, 11);
    }
    // What the check finds in a project made with these arguments: names, and in `words` titles and details.
    std::multiset<std::string> found(const std::string& arguments, std::string* words = nullptr) {
        std::string quoted;
        std::istringstream parts(arguments);
        for (std::string part; parts >> part;) quoted += " '" + part + "'";
        const std::string in = "cd '" + m_folder.path().string() + "' && " VIRGA_BINARY_DIR "/cli/virga-cli ";
        const Ran made = runProgram(in + "make --force p.virga lighthouse.mp4 first-heat.mp4 --length 40" + quoted);
        EXPECT_EQ(made.code, 0) << made.err;
        const Ran checked = runProgram(in + "check --json p.virga");
        std::multiset<std::string> names;
        const auto report = nlohmann::json::parse(checked.out, nullptr, false);
        if (report.is_discarded()) {
            ADD_FAILURE() << checked.out << checked.err;
            return names;
        }
        for (const char* part : {"cuts", "clips"})
            for (const auto& place : report[part])
                for (const auto& finding : place["findings"]) {
                    names.insert(finding["name"]);
                    if (words)
                        *words +=
                            finding["title"].get<std::string>() + ". " + finding["detail"].get<std::string>() + "\n";
                }
        return names;
    }
    TemporaryFolder m_folder;
};

TEST_F(Guide, EveryFaultIsFoundAndNothingInItsCure) {
    const auto all = pairs();
    ASSERT_GE(all.size(), 10u);
    std::ifstream in(VIRGA_SOURCE_DIR "/docs/what-goes-wrong.md");
    const std::string guide{std::istreambuf_iterator<char>(in), {}};
    for (const Pair& pair : all) {
        SCOPED_TRACE(pair.name);
        std::string words;
        const auto names = found(pair.fault, &words);
        EXPECT_EQ(names, std::multiset<std::string>{pair.finding});
        EXPECT_TRUE(found(pair.cure).empty());
        EXPECT_NE(guide.find("guide/" + pair.name + ".png"), std::string::npos) << "has its picture in the guide";
        EXPECT_TRUE(fs::exists(VIRGA_SOURCE_DIR "/docs/guide/" + pair.name + ".png"));
        // The quotation above its picture begins as the check's own words do.
        const std::size_t picture = guide.find("guide/" + pair.name + ".png"), quote = guide.rfind("\n> **", picture);
        ASSERT_NE(quote, std::string::npos);
        const std::size_t end = guide.find("**", quote + 5);
        EXPECT_NE(words.find(guide.substr(quote + 5, end - quote - 6)), std::string::npos)
            << words << "\nguide: " << guide.substr(quote, 200);
    }
}

} // namespace
} // namespace virga::test::guide_test
