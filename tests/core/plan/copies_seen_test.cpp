// Which copies at a frame's edges are seen as copies. The table of thirty cases was made of recipes on real clips, with
// the pictures around each cut looked at and labelled by hand before there was a rule; it holds the moves themselves,
// so that recipes may change.
#include "core/plan/copies_seen.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/check/flow.h"
#include "core/plan/clip_facts.h"
#include "core/recipe/recipe.h"
#include "tests/support/projects.h"

namespace virga::copies_seen_test {
namespace {

using namespace test;

struct Case {
    std::string name;
    bool seen = false;
    Project project;
};

std::vector<Case> cases() {
    std::vector<Case> all;
    std::ifstream in(VIRGA_SOURCE_DIR "/tests/core/plan/copies_cases.jsonl");
    for (std::string line; std::getline(in, line);) {
        const auto json = nlohmann::json::parse(line);
        Case c{json["case"], json["seen"], twoClips()};
        for (const std::size_t i : {0, 1}) {
            Media& media = c.project.media[i];
            media.size = {json["shots"][i][0], json["shots"][i][1]};
            media.pixelAspect = *rationalFromText(json["shots"][i][2].get<std::string>());
            media.duration = 20;
            c.project.reel[i].length = 60;
            c.project.reel[i].sourceIn = 5;
        }
        const auto recipe = recipeFromText(json["recipe"].dump(), c.name);
        if (!recipe) {
            ADD_FAILURE() << describe(recipe.error());
            continue;
        }
        c.project = withRecipe(c.project, 0, *recipe);
        all.push_back(std::move(c));
    }
    return all;
}

double framesSeen(const Project& p) {
    const FrameSpan span = judgedAtCut(p, 0);
    double sum = 0;
    for (std::int64_t n = span.first; n <= span.last; ++n) sum += framesOfCopies(factsOf(p, cutFrame(p, 0) + n));
    return sum;
}

bool isTold(const Project& p) {
    const CutFlow flow = flowAtCut(p, 0);
    return std::any_of(flow.findings.begin(), flow.findings.end(),
                       [](const Finding& f) { return f.name.starts_with("copies"); });
}

TEST(CopiesSeen, AreThoseThatSomebodySawOfThirtyRealCases) {
    const std::vector<Case> all = cases();
    ASSERT_EQ(all.size(), 30u);
    int seen = 0, right = 0;
    std::string wrong;
    for (const Case& c : all) {
        seen += c.seen;
        const bool told = isTold(c.project);
        right += told == c.seen;
        if (told != c.seen) wrong += fmt::format("\n{}: {:.2f} frames", c.name, framesSeen(c.project));
    }
    EXPECT_EQ(seen, 15) << "half of them, so that always or never is half right";
    EXPECT_GE(right, 26) << wrong;
    RecordProperty("right", right);
}

LayerPlan layerOf(const Project& p, std::int64_t frame) {
    return planFrame(p, frame).layers.at(0);
}

// What can be worked out by hand, of a still shot placed beside the frame's middle.
TEST(CopiesSeen, CountWhatIsThereTwice) {
    Project p = twoClips();
    p.reel[0].edges = EdgeFill::Mirror;
    const Size size = p.settings.size;
    EXPECT_EQ(shareSeenTwice(layerOf(p, 5), 9, size), 0) << "it fills the frame";
    p.reel[0].placement.position.x = 0.25; // a quarter of the width on the left is mirrored, and seen beside it as well
    EXPECT_NEAR(shareSeenTwice(layerOf(p, 5), 9, size), 0.5, 0.02);
    p.reel[0].placement.position.x = 0.75; // three quarters are: of those one has its original on screen
    EXPECT_NEAR(shareSeenTwice(layerOf(p, 5), 9, size), 0.5, 0.02);
    p.reel[0].placement.position.x = 1; // the copy alone
    EXPECT_NEAR(shareSeenTwice(layerOf(p, 5), 9, size), 0, 0.02);
    p.reel[0].edges = EdgeFill::Repeat; // repeated, what comes in on the left goes out on the right
    p.reel[0].placement.position.x = 0.25;
    EXPECT_NEAR(shareSeenTwice(layerOf(p, 5), 9, size), 0, 0.02);
    p.reel[0].placement = {};
    p.reel[0].placement.scale = 0.5; // 2 by 2 of it
    EXPECT_NEAR(shareSeenTwice(layerOf(p, 5), 9, size), 1, 0.02);
    p.reel[0].edges = EdgeFill::Empty;
    EXPECT_EQ(shareSeenTwice(layerOf(p, 5), 9, size), 0);
}

TEST(CopiesSeen, FadeWithTheirBlur) {
    // A slide of 18 % of the width in a frame, 9 % of it while the shutter is open.
    Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.9, 5, 0, 0, 5, Shape{Interpolation::Linear},
                         Shape{Interpolation::Linear});
    for (Clip& clip : p.reel) clip.edges = EdgeFill::Mirror;
    const LayerPlan fast = layerOf(p, cutFrame(p, 0) - 2); // slid by 54 %
    const double plain = shareSeenTwice(fast, 1e9, p.settings.size), faded = shareSeenTwice(fast, 9, p.settings.size);
    EXPECT_NEAR(plain, 0.92, 0.04);
    EXPECT_NEAR(faded, plain * std::exp(-1), 0.02);
}

} // namespace
} // namespace virga::copies_seen_test
