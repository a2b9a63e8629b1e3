// Plans of moves as a phrase: measured on a reel of thirty cuts, half of them on a bar's first beat.
#include "core/recipe/chain.h"

#include <cmath>
#include <gtest/gtest.h>
#include <set>
#include <string>

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
        const auto plan = chainOf(bare, {seed, false, nullptr, {}});
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

// The way a movement goes, in the signs of the middle's slide, zoom and turn.
std::string wayOf(const CutVelocities& v) {
    const Point middle = v.out[4], across = v.out[5] - v.out[3]; // what lies right and left of it goes apart, or turns
    const double slides = middle.length(), zooms = std::abs(across.x), turns = std::abs(across.y);
    if (slides > zooms && slides > turns)
        return std::abs(middle.x) > std::abs(middle.y) ? (middle.x < 0 ? "left" : "right")
                                                       : (middle.y < 0 ? "up" : "down");
    if (zooms > turns) return across.x > 0 ? "in" : "out";
    return across.y > 0 ? "clockwise" : "counter";
}

// Without music, too, a plan is no one way throughout: phrases of a few cuts each, and every seed has its own.
TEST(Chain, ReadsAsAPhraseOfSeveralWays) {
    Project bare = reel(24);
    bare.music.clear();
    std::set<std::string> ways;
    for (const std::uint32_t seed : {1U, 2U, 3U}) {
        const auto plan = chainOf(bare, {seed, false, nullptr, {}});
        ASSERT_EQ(plan.size(), 24u);
        const Project with = planned(bare, plan);
        std::string row;
        std::set<std::string> used;
        int answers = 0, sameInARow = 0, longest = 0;
        std::string last;
        for (int cut = 0; cut < 24; ++cut) {
            const std::string way = wayOf(velocitiesAtCut(with, cut));
            if (cut > 0) answers += likeness(velocitiesAtCut(with, cut - 1).in, velocitiesAtCut(with, cut).out) >= 0.5;
            sameInARow = way == last ? sameInARow + 1 : 1;
            longest = std::max(longest, sameInARow);
            used.insert(way);
            row += way + " ";
            last = way;
        }
        EXPECT_GE(used.size(), 3u) << row;
        EXPECT_LE(longest, 10) << row;
        EXPECT_GE(answers, 0.8 * 23) << seed << ": " << row;
        ways.insert(row);
    }
    EXPECT_EQ(ways.size(), 3u);
}

// A move is the stronger the louder the music is behind its cut.
TEST(Chain, ReadsAsAPhraseWithTheMusicsLoudness) {
    Project bare = reel(24);
    bare.music.clear();
    std::vector<double> loudness;
    for (int cut = 0; cut < 24; ++cut) loudness.push_back(cut < 12 ? -9 : 5);
    for (const std::uint32_t seed : {1U, 2U}) {
        const Project with = planned(bare, chainOf(bare, {seed, false, nullptr, loudness}));
        double quiet = 0, loud = 0;
        for (int cut = 0; cut < 24; ++cut) (cut < 12 ? quiet : loud) += velocitiesAtCut(with, cut).speedOut;
        EXPECT_GT(loud, 1.3 * quiet) << seed;
    }
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
