// Plans of moves as a phrase: measured on a reel of thirty cuts, half of them on a bar's first beat.
#include "core/recipe/chain.h"

#include <cmath>
#include <gtest/gtest.h>
#include <set>

#include "core/plan/cut_match.h"
#include "core/recipe/likeness.h"
#include "core/recipe/recipe.h"
#include "tests/support/projects.h"

namespace virga::chain_test {
namespace {

using namespace test;

// Shots of a second each at 25 frames a second, under music of 120 beats a minute with four to the bar: a bar's first
// beat lies every two seconds, on every second cut.
Project reel(int cuts) {
    Project p = twoClips();
    const std::vector<Clip> two(p.reel.begin(), p.reel.end());
    p.settings.edges = EdgeFill::Mirror;
    p.reel.clear();
    for (int i = 0; i <= cuts; ++i) {
        Clip clip = two[std::size_t(i % 2)];
        clip.id = "clip-" + std::to_string(100 + i);
        clip.length = 25;
        clip.transition = {};
        p.reel.push_back(clip);
    }
    Music music;
    music.id = "music-1", music.mediaId = p.media[0].id;
    music.tempo = Tempo{};
    music.tempo->beatsPerMinute = 120;
    music.tempo->beatsPerBar = 4;
    p.music = {music};
    return p;
}

Project planned(Project project, const std::vector<Proposal>& plan) {
    for (const Proposal& p : plan) project = withProposal(project, p).value();
    return project;
}

TEST(Chain, ReadsAsAPhrase) {
    const Project bare = reel(30);
    std::set<std::string> plans;
    for (const std::uint32_t seed : {1U, 2U, 3U, 4U}) {
        const auto plan = chainOf(bare, {seed, false, nullptr});
        ASSERT_EQ(plan.size(), 30u);
        const Project with = planned(bare, plan);
        int answers = 0, turnsBack = 0, onBars = 0, beside = 0;
        double strongOnBars = 0, strongBeside = 0;
        Velocities going{};
        std::string all;
        for (int cut = 0; cut < 30; ++cut) {
            const CutVelocities v = velocitiesAtCut(with, cut);
            const double like = cut > 0 ? likeness(going, v.out) : 0;
            const bool bar = plan[std::size_t(cut)].weight > 1;
            answers += like >= 0.5 || (like <= -0.5 && bar);
            turnsBack += like <= -0.5;
            going = v.in;
            const double strength = std::max(v.speedOut, v.speedIn);
            (bar ? strongOnBars : strongBeside) += strength;
            ++(bar ? onBars : beside);
            all += plan[std::size_t(cut)].label.substr(0, plan[std::size_t(cut)].label.find(',')) + "; ";
        }
        EXPECT_EQ(onBars, 15);
        EXPECT_GE(answers, 24) << seed << ": four fifths of 29";
        EXPECT_LE(turnsBack, 15) << "on accents alone";
        EXPECT_GE(strongOnBars / onBars, 1.5 * strongBeside / beside) << seed;
        std::vector<std::string> recipes;
        for (const Proposal& p : plan) recipes.push_back(p.label.substr(0, p.label.find(',')));
        for (std::size_t i = 0; i < recipes.size(); ++i)
            for (std::size_t k = i + 1; k < std::min(recipes.size(), i + 3); ++k)
                EXPECT_NE(recipes[i], recipes[k]) << i;
        for (int cut = 0; cut < 30; ++cut)
            for (const Finding& f : flowAtCut(with, cut).findings)
                ADD_FAILURE() << seed << " " << cut << ", " << plan[std::size_t(cut)].label << ": " << f.title;
        plans.insert(all);
    }
    EXPECT_EQ(plans.size(), 4u) << "another seed, another plan";
}

// What moves already is answered, and left alone.
TEST(Chain, AnswersWhatIsThere) {
    Project p = reel(6);
    p = withRecipe(p, 2, *findRecipe("half-slide"));
    const Transition kept = transitionAt(p, 2);
    const auto plan = chainOf(p);
    EXPECT_EQ(plan.size(), 5u);
    const Project with = planned(p, plan);
    EXPECT_EQ(transitionAt(with, 2), kept);
    const double like = likeness(velocitiesAtCut(with, 2).in, velocitiesAtCut(with, 3).out);
    EXPECT_GT(std::abs(like), 0.5);
}

} // namespace
} // namespace virga::chain_test
