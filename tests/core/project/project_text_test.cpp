// A project's text, made again and again, is the same as made at once.
#include <gtest/gtest.h>
#include <random>

#include "core/base/json.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/limits.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"
#include "tests/support/projects.h"

namespace virga::project_text_test {
namespace {

namespace fs = std::filesystem;

using namespace test;

const fs::path folder = "/somewhere/films";

std::string plain(const Project& project, const fs::path& in = folder) {
    return jsonText(toJson(withinLimits(project), in), 1);
}

Project demo() {
    const fs::path file = fs::path(VIRGA_SOURCE_DIR) / "demo/lantern-regatta.virga";
    auto project = loadProject(file);
    EXPECT_TRUE(project);
    return project ? *project : Project();
}

TEST(ProjectText, IsTheSameThroughManyEdits) {
    std::mt19937 draw(5);
    Project p = demo();
    ProjectText text;
    EXPECT_EQ(text.of(p, folder), plain(p));
    EXPECT_EQ(text.made(), p.reel.size() + p.media.size());
    EXPECT_EQ(text.of(p, folder), plain(p));
    EXPECT_EQ(text.made(), 0u) << "nothing has changed";
    std::vector<Project> before{p};
    for (int round = 0; round < 60; ++round) {
        const auto n = std::size_t(draw()) % p.reel.size();
        switch (draw() % 7) {
        case 0:
            p.reel[n].name = "\"reel\": []\n \"reel\": [] " + std::to_string(round);
            break;
        case 1:
            p = withMove(p, int(n % (p.reel.size() - 1)), MoveKind::Zoom, 0, 1, 1.5, 4, 0.8, 1, 6);
            break;
        case 2:
            p = withSplit(p, 3 + std::int64_t(draw()) % 500);
            break;
        case 3:
            if (p.reel.size() > 3) p.reel.erase(p.reel.begin() + long(n));
            break;
        case 4:
            std::swap(p.reel[n], p.reel[0]);
            break;
        case 5:
            p.reel[n].length = -7; // held to the limits
            break;
        default:
            p = before[draw() % before.size()]; // undone
        }
        before.push_back(p);
        ASSERT_EQ(text.of(p, folder), plain(p)) << round;
    }
}

TEST(ProjectText, OfOneEditOnlyOneClipIsMade) {
    Project p = demo();
    ProjectText text;
    (void)text.of(p, folder);
    p.reel[3].name = "another";
    EXPECT_EQ(text.of(p, folder), plain(p));
    EXPECT_EQ(text.made(), 1u);
    p.settings.rate = 30; // what is not in the lists is written every time
    EXPECT_EQ(text.of(p, folder), plain(p));
    EXPECT_EQ(text.made(), 0u);
    EXPECT_EQ(text.of(p, "/elsewhere"), plain(p, "/elsewhere")) << "its files have other paths from there";
}

TEST(ProjectText, KeepsWhatItDoesNotKnow) {
    const std::string file = "{\"format\": \"virga-project\", \"version\": 2, \"colour\": [1, 2], \"media\": [],"
                             "\"settings\": {\"width\": 1280, \"height\": 720, \"rate\": \"25\"}, \"reel\": ["
                             "{\"id\": \"a\", \"media\": \"\", \"length\": 5, \"mood\": {\"x\": 1}},"
                             "{\"id\": \"b\", \"media\": \"\", \"length\": 7, \"mood\": {\"x\": 2}}]}";
    auto read = fromJson(*parseJson(file, "a project", "f"), folder, "f");
    ASSERT_TRUE(read) << read.error().message;
    Project p = *read;
    ProjectText text;
    (void)text.of(p, folder);
    p.reel[1].length = 9;
    const std::string written = text.of(p, folder, {{"keptOf", "abc"}});
    const auto document = *parseJson(written, "a project", "f");
    EXPECT_EQ(document["reel"][1]["mood"]["x"], 2);
    EXPECT_EQ(document["reel"][0]["mood"]["x"], 1);
    EXPECT_EQ(document["colour"][1], 2);
    EXPECT_EQ(document["keptOf"], "abc");
    EXPECT_EQ(text.of(p, folder), plain(p));
    // Elements that share an id go by their order.
    p.reel[1].id = "a";
    EXPECT_EQ(text.of(p, folder), plain(p));
    p.reel.clear();
    EXPECT_EQ(text.of(p, folder), plain(p));
}

} // namespace
} // namespace virga::project_text_test
