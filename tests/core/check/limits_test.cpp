// The limits' one table: each within what it may be set to, saved with the project, told in the user guide.
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/project/fields.h"
#include "core/project/project_json.h"
#include "tests/support/projects.h"

namespace virga::flow_limits_test {
namespace {

struct Seen {
    std::vector<std::pair<Field, double>> all;
    template <typename T> void operator()(const Field& field, const T& value) { all.push_back({field, double(value)}); }
};

TEST(FlowLimitsTable, HasWordsAndRangesForEachAndTheGuideTellsThem) {
    std::ifstream file(std::filesystem::path(VIRGA_SOURCE_DIR) / "docs/user-guide.md");
    std::stringstream guide;
    guide << file.rdbuf();
    Seen seen;
    const FlowLimits limits;
    fieldsOf(seen, limits);
    for (const auto& [field, value] : seen.all) {
        ASSERT_TRUE(field.called && field.told) << field.name;
        EXPECT_GE(value, field.least) << field.name;
        EXPECT_LE(value, field.most) << field.name;
        // "| standing still | 0.02 |"
        std::ostringstream row;
        row << "| " << field.called << " | " << value;
        EXPECT_NE(guide.str().find(row.str()), std::string::npos) << row.str() << " is not in the guide's table";
    }
}

TEST(FlowLimitsTable, AreSavedWithTheProject) {
    Project p = test::twoClips();
    p.settings.flow.still = 0.5;
    p.settings.flow.stillFrames = 9;
    p.settings.ignored = {"still", "copies"};
    p.reel[0].ignored = {"magnified"};
    const auto again = fromJson(documentOf(p, "/"), "/", "p.virga");
    ASSERT_TRUE(again) << describe(again.error());
    EXPECT_EQ(again->settings, p.settings);
    EXPECT_EQ(again->reel[0].ignored, p.reel[0].ignored);
}

} // namespace
} // namespace virga::flow_limits_test
