// Recipes fitted to cuts: directions, strength, length, room. The built-in numbers are common practice, with no
// published source.
#include "core/recipe/recipe.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <set>

#include "core/check/flow.h"
#include "core/curve/curve.h"
#include "core/curve/matching.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/move_edits.h"
#include "core/plan/cut_match.h"
#include "core/recipe/fit.h"
#include "core/recipe/many.h"
#include "core/recipe/shaping.h"
#include "tests/support/projects.h"

namespace virga::recipe_test {
namespace {

using namespace test;

const Recipe& builtIn(const char* id) {
    const Recipe* recipe = findRecipe(id);
    if (!recipe) ADD_FAILURE() << id;
    static const Recipe none;
    return recipe ? *recipe : none;
}

// Two longer clips with plenty of spare frames.
Project longClips() {
    Project p = twoClips();
    for (Media& media : p.media) media.duration = 20;
    for (Clip& clip : p.reel) clip.length = 60, clip.sourceIn = 5;
    return p;
}

const Channel& channelOf(const Project& p, std::size_t move = 0, std::size_t channel = 0) {
    return transitionAt(p, 0).moves[move].channels.at(channel);
}

RecipeUse going(Heading heading) {
    RecipeUse use;
    use.heading = heading;
    return use;
}

// What is seen of a recipe at a time from the cut: where a square about the frame's centre lands.
struct Seen {
    double size, turn, x, y; // as a factor, clockwise degrees, shares of the frame
};
Seen seenAt(const Project& p, Side side, double time) {
    const Size frame = p.settings.size;
    const ScreenMap map = movementOf(transitionAt(p, 0).moves, side, time, frame);
    const Point middle(frame.width / 2.0, frame.height / 2.0), aside = middle + Point(100, 0);
    const Point a = map.toScreen(middle), way = map.toScreen(aside) - a;
    return {way.length() / 100, std::atan2(way.y, way.x) * 180 / std::numbers::pi, (a.x - middle.x) / frame.width,
            (a.y - middle.y) / frame.height};
}

// Common practice, with no published source: what an editor sees of each on the screen.
TEST(Recipe, ShowsWhatItsNameSays) {
    const auto at = [](const char* id) { return withRecipe(longClips(), 0, builtIn(id)); };
    const Project plunge = at("plunge");
    EXPECT_NEAR(seenAt(plunge, Side::Outgoing, -12).size, 1, 1e-9) << "at rest until a few frames before the cut";
    EXPECT_NEAR(seenAt(plunge, Side::Outgoing, 0).size, 2.5, 0.01);
    EXPECT_LT(seenAt(plunge, Side::Incoming, 0).size, 0.75) << "comes from farther away, with copies around it";
    EXPECT_NEAR(seenAt(plunge, Side::Incoming, 15).size, 1, 1e-9);
    for (double t = -12; t < 0; t += 0.5) // never the other way: that would turn back
        EXPECT_LE(seenAt(plunge, Side::Outgoing, t).size, seenAt(plunge, Side::Outgoing, t + 0.5).size + 1e-9) << t;
    const Project turn = at("quarter-turn");
    EXPECT_NEAR(seenAt(turn, Side::Outgoing, 0).turn, -90, 0.1);
    EXPECT_NEAR(seenAt(turn, Side::Incoming, 0).turn, 90, 0.1) << "what leaves by the left arrives from the right";
    const Project slide = at("half-slide");
    EXPECT_NEAR(seenAt(slide, Side::Outgoing, 0).y, -0.5, 0.01);
    EXPECT_GT(seenAt(slide, Side::Incoming, 0).y, 0.3) << "on in the same direction";
    EXPECT_NEAR(seenAt(slide, Side::Incoming, 30).y, 0, 1e-9);
    const Project scroll = at("scroll");
    EXPECT_NEAR(
        std::abs(seenAt(scroll, Side::Outgoing, 0).x - seenAt(scroll, Side::Outgoing, -40).x) +
            std::abs(seenAt(scroll, Side::Incoming, 40).x - seenAt(scroll, Side::Incoming, 0).x),
        std::round(std::abs(seenAt(scroll, Side::Outgoing, 0).x) + std::abs(seenAt(scroll, Side::Incoming, 0).x)), 0.02)
        << "whole frames pass, so that the copies lie where the shot lies";
    EXPECT_EQ(findRecipe("nothing"), nullptr);
    EXPECT_GE(builtInRecipes().size(), 30u);
    std::set<std::string> ids, names;
    for (const Recipe& r : builtInRecipes()) {
        EXPECT_TRUE(ids.insert(r.id).second && names.insert(r.name).second) << r.id;
        EXPECT_FALSE(r.note.empty()) << r.id;
        const auto groups = recipeGroups();
        EXPECT_NE(std::find(groups.begin(), groups.end(), r.group), groups.end()) << r.id << ": " << r.group;
    }
}

TEST(Recipe, CarriesOnEitherWayRound) {
    for (const char* id : {"plunge", "quarter-turn", "half-slide", "swipe", "scroll", "swing"})
        for (const bool other : {false, true}) {
            const Recipe& recipe = builtIn(id);
            const Project p = withRecipe(longClips(), 0, recipe, other ? opposite(recipe, {}) : RecipeUse{});
            const CutFlow flow = flowAtCut(p, 0);
            EXPECT_NEAR(flow.speedIn, flow.speedOut, 0.06 * flow.speedOut) << id;
            EXPECT_GT(flow.speedOut, 5);
            EXPECT_EQ(edgesOf(p, p.reel[0]), *recipe.edges);
        }
    const auto last = [](const char* id) {
        const Recipe& recipe = builtIn(id);
        return channelOf(withRecipe(twoClips(), 0, recipe, opposite(recipe, {}))).outgoing.keys.back().value;
    };
    EXPECT_EQ(last("quarter-turn"), 90);
    EXPECT_NEAR(last("plunge"), 0.4, 1e-12);
}

TEST(Recipe, FitsItselfToShortClips) {
    Project p = twoClips();
    p.reel[0].length = 3;
    p.reel[1].length = 6;
    p = withRecipe(p, 0, builtIn("plunge"));
    EXPECT_EQ(channelOf(p).outgoing.keys.front().time, -3);
    EXPECT_EQ(channelOf(p).incoming.keys.back().time, 6);
}

TEST(Recipe, LeavesTheNeighboursMovesTheirRoom) {
    Project p = longClips();
    p.reel[1].length = 20;
    Clip third = p.reel[0];
    third.id = "clip-99", third.transition = {};
    p.reel.push_back(third);
    EXPECT_EQ(roomAt(p, 0).in, 20);
    p = withRecipe(p, 1, builtIn("swipe")); // takes ten frames of the middle shot
    EXPECT_EQ(roomAt(p, 0).in, 10);
    p = withRecipe(p, 0, builtIn("scroll")); // would take twenty
    EXPECT_EQ(channelOf(p).incoming.keys.back().time, 10);
    // However much the neighbour takes, half of the shot is left.
    RecipeUse use;
    use.framesOut = 19;
    EXPECT_EQ(roomAt(withRecipe(p, 1, builtIn("swipe"), use), 0).in, 10);
}

TEST(Recipe, ReplacesTheMovesAndFillsEmptyEdges) {
    Project p = plungeProject();
    p.settings.edges = EdgeFill::Empty;
    p = withRecipe(p, 0, builtIn("half-slide"));
    ASSERT_EQ(transitionAt(p, 0).moves.size(), 1u);
    EXPECT_EQ(transitionAt(p, 0).moves[0].kind, MoveKind::Slide);
    EXPECT_FALSE(transitionAt(p, 0).link);
    EXPECT_EQ(p.reel[0].edges, EdgeFill::Mirror);
    EXPECT_EQ(p.settings.edges, EdgeFill::Empty) << "the rest of the piece is left alone";
    EXPECT_EQ(withRecipe(p, 7, builtIn("plunge")), p);
    EXPECT_EQ(withRecipe(p, 0, builtIn("pop-up")), p) << "that one is for overlays";
}

TEST(Recipe, GoesWhereItIsTurned) {
    // A half slide up, in all four directions: which channel, and which sign.
    const std::tuple<Heading, std::size_t, double> ways[] = {
        {Heading::Up, 1, -0.5}, {Heading::Down, 1, 0.5}, {Heading::Left, 0, -0.5}, {Heading::Right, 0, 0.5}};
    for (const auto& [heading, channel, end] : ways) {
        const Project p = withRecipe(longClips(), 0, builtIn("half-slide"), going(heading));
        ASSERT_FALSE(channelOf(p, 0, channel).outgoing.isEmpty()) << int(heading);
        EXPECT_EQ(channelOf(p, 0, channel).outgoing.keys.back().value, end) << int(heading);
        EXPECT_TRUE(channelOf(p, 0, 1 - channel).outgoing.isEmpty());
        // As seen: the centre goes that way.
        const Velocities v = velocitiesAtCut(p, 0).out;
        const Point middle = v[4];
        EXPECT_GT((channel == 0 ? middle.x : middle.y) * (end > 0 ? 1 : -1), 0.01) << int(heading);
    }
    // Back and forth comes home, for every recipe and each of its headings.
    for (const Recipe& recipe : builtInRecipes())
        for (const Heading to : recipe.headings) {
            const Transition there = turned(recipe.transition, recipe.headings.front(), to);
            EXPECT_EQ(turned(there, to, recipe.headings.front()).moves.size(), recipe.transition.moves.size());
            const Transition back = turned(there, to, recipe.headings.front());
            for (std::size_t m = 0; m < back.moves.size(); ++m)
                for (std::size_t c = 0; c < back.moves[m].channels.size(); ++c) {
                    const auto &a = back.moves[m].channels[c].outgoing.keys,
                               &b = recipe.transition.moves[m].channels[c].outgoing.keys;
                    ASSERT_EQ(a.size(), b.size()) << recipe.id;
                    for (std::size_t k = 0; k < a.size(); ++k) EXPECT_NEAR(a[k].value, b[k].value, 1e-12) << recipe.id;
                }
        }
}

TEST(Recipe, MirroredAndBackwardsAreTheirOwnInverse) {
    for (const Recipe& recipe : builtInRecipes()) {
        const Transition& t = recipe.transition;
        for (const Transition& twice : {mirrored(mirrored(t)), reversed(reversed(t))}) {
            ASSERT_EQ(twice.moves.size(), t.moves.size());
            EXPECT_EQ(twice.overlap, t.overlap);
            for (std::size_t m = 0; m < t.moves.size(); ++m) {
                EXPECT_NEAR(twice.moves[m].anchor.x, t.moves[m].anchor.x, 1e-12);
                EXPECT_EQ(twice.moves[m].parameters, t.moves[m].parameters) << recipe.id;
                for (std::size_t c = 0; c < t.moves[m].channels.size(); ++c)
                    for (double time = -30; time <= 30; time += 0.7)
                        for (const Side side : {Side::Outgoing, Side::Incoming})
                            EXPECT_NEAR(evaluate(twice.moves[m].channels[c].side(side), time),
                                        evaluate(t.moves[m].channels[c].side(side), time), 1e-9)
                                << recipe.id;
            }
        }
    }
    // Slide over, backwards: the shot that came in on top leaves on top.
    RecipeUse use;
    use.reversed = true;
    const Project p = withRecipe(longClips(), 0, builtIn("slide-over"), use);
    EXPECT_EQ(transitionAt(p, 0).overlap, (Overlap{3, 0}));
    EXPECT_EQ(transitionAt(p, 0).top, Side::Outgoing);
    EXPECT_EQ(channelOf(p, 0, 1).outgoing.keys.back().value, 1);
    EXPECT_EQ(channelOf(p, 0, 1).outgoing.keys.front().time, -3);
}

TEST(Recipe, StrengthScalesWaysAndKeepsWholeFramesWhole) {
    RecipeUse use;
    use.strength = 0.5;
    EXPECT_NEAR(channelOf(withRecipe(longClips(), 0, builtIn("plunge"), use)).outgoing.keys.back().value,
                std::sqrt(2.5), 1e-12)
        << "half of a zoom's way is its square root";
    EXPECT_EQ(channelOf(withRecipe(longClips(), 0, builtIn("quarter-turn"), use)).outgoing.keys.back().value, -45);
    const auto scroll = [&](double strength) {
        use.strength = strength;
        return channelOf(withRecipe(longClips(), 0, builtIn("scroll"), use)).outgoing.keys.back().value;
    };
    use.wholeFrames = 5;
    EXPECT_EQ(scroll(1), -5);
    EXPECT_EQ(scroll(0.5), -3) << "2.5 frames are no whole ones";
    EXPECT_EQ(scroll(0.05), -1);
    use.strength = 1;
    use.wholeFrames = 8;
    EXPECT_EQ(channelOf(withRecipe(longClips(), 0, builtIn("scroll"), use)).outgoing.keys.back().value, -8);
    // Fades stay.
    use.strength = 0.5;
    const Project creep = withRecipe(longClips(), 0, builtIn("creep-and-plunge"), use);
    EXPECT_EQ(channelOf(creep, 1).incoming.keys.back().value, 1);
    EXPECT_EQ(channelOf(creep, 1).incoming.keys.front().value, 0);
}

TEST(Recipe, LengthGoesByFramesOrByTime) {
    Project p = longClips();
    RecipeUse use;
    use.length = 2;
    EXPECT_EQ(channelOf(withRecipe(p, 0, builtIn("plunge"), use)).outgoing.keys.front().time, -10);
    EXPECT_EQ(channelOf(withRecipe(p, 0, builtIn("plunge"), use)).incoming.keys.back().time, 24);
    use = {};
    use.framesOut = 7, use.framesIn = 9;
    EXPECT_EQ(channelOf(withRecipe(p, 0, builtIn("plunge"), use)).outgoing.keys.front().time, -7);
    EXPECT_EQ(channelOf(withRecipe(p, 0, builtIn("plunge"), use)).incoming.keys.back().time, 9);
    // At 50 frames a second as many frames, or as long: recipes are made at 25.
    p.settings.rate = 50;
    EXPECT_EQ(channelOf(withRecipe(p, 0, builtIn("plunge"))).outgoing.keys.front().time, -5);
    use = {};
    use.byTime = true;
    EXPECT_EQ(channelOf(withRecipe(p, 0, builtIn("plunge"), use)).outgoing.keys.front().time, -10);
}

// One's own recipes may have their last key on the shot's last frame: made longer, that key would lie before it.
TEST(Recipe, GoesOnToItsShotsLastFrameHoweverLongItIs) {
    Recipe recipe = builtIn("plunge");
    Curve& made = recipe.transition.moves[0].channels[0].outgoing;
    ASSERT_EQ(made.keys.size(), 2u);
    made.keys[1].time = -1;
    for (const double length : {1.2, 1.5, 2.0, 3.0}) {
        SCOPED_TRACE(length);
        RecipeUse use;
        use.length = length;
        const Project p = withRecipe(longClips(), 0, recipe, use);
        const Curve& longer = channelOf(p).outgoing;
        EXPECT_EQ(longer.keys.back().time, -1);
        for (int n = int(std::ceil(longer.keys.front().time)) + 1; n <= -1; ++n)
            EXPECT_GT(evaluate(longer, n), evaluate(longer, n - 1)) << n;
        // Told in the recipe's own terms it is what the recipe says.
        const Curve told =
            unfitted(recipe, use, p.settings.rate, roomAt(p, 0), transitionAt(p, 0)).moves[0].channels[0].outgoing;
        ASSERT_EQ(told.keys.size(), 2u);
        EXPECT_NEAR(told.keys[1].time, -1, 1e-9);
    }
}

TEST(Recipe, CarriesOnAgainHoweverItIsFitted) {
    for (const char* id : {"plunge", "quarter-turn", "half-slide", "zoom-and-drop", "roll-and-plunge", "depth-push"})
        for (const auto& [out, in] : {std::pair(3, 20), {12, 5}, {10, 14}, {6, 6}}) {
            RecipeUse use;
            use.framesOut = out, use.framesIn = in;
            const CutVelocities v = velocitiesAtCut(withRecipe(longClips(), 0, builtIn(id), use), 0);
            EXPECT_LE(v.difference, 0.1 * v.speedOut) << id << " " << out << " | " << in;
        }
}

TEST(Recipe, GoesOverAShotAndOntoAnOverlay) {
    Project p = longClips();
    const Project breathing = withRecipe(p, {StackPlace::Drift, 1}, builtIn("breathing-shot"));
    ASSERT_EQ(breathing.reel[1].drift.size(), 1u);
    EXPECT_EQ(breathing.reel[1].drift[0].channels[0].incoming.keys.back().time, 60) << "as long as the shot";
    EXPECT_EQ(breathing.reel[1].drift[0].channels[0].incoming.keys[1].time, 30);
    Overlay overlay;
    overlay.clip = p.reel[0];
    overlay.clip.id = "clip-7";
    overlay.clip.length = 40;
    p.overlays = {overlay};
    const Project popped = withRecipe(p, {StackPlace::Overlay, 0}, builtIn("pop-up"));
    ASSERT_EQ(popped.overlays[0].clip.transition.moves.size(), 2u);
    EXPECT_EQ(popped.overlays[0].clip.transition.moves[0].channels[0].incoming.keys.back().time, 8);
    EXPECT_NE(popped.overlays[0].clip.transition.moves[0].id, popped.overlays[0].clip.transition.moves[1].id);
    EXPECT_EQ(withRecipe(p, {StackPlace::Overlay, 3}, builtIn("pop-up")), p);
}

TEST(Recipe, RampsComeAlong) {
    const Project p = withRecipe(longClips(), 0, builtIn("ramp-through"));
    EXPECT_FALSE(p.reel[0].speedCurve.outgoing.isEmpty());
    EXPECT_FALSE(p.reel[1].speedCurve.incoming.isEmpty());
    EXPECT_EQ(p.reel[0].length, 60) << "lengths are kept";
}

TEST(Recipe, IsMadeOfACut) {
    const Project p = withRecipe(longClips(), 0, builtIn("creep-and-plunge"));
    const Recipe kept = recipeFrom(p, 0, "My Rush!").value();
    EXPECT_EQ(kept.id, "my-rush");
    EXPECT_EQ(kept.framesOut, 20);
    EXPECT_EQ(kept.framesIn, 35);
    EXPECT_EQ(kept.transition.moves.size(), 3u);
    EXPECT_EQ(kept.transition.overlap, (Overlap{5, 5}));
    ASSERT_EQ(kept.headings.size(), 2u);
    EXPECT_EQ(kept.headings[0], Heading::In);
    EXPECT_EQ(kept.group, "in");
    // Put back it is what it was.
    const Project again = withRecipe(longClips(), 0, kept);
    for (std::size_t m = 0; m < 3; ++m)
        EXPECT_EQ(transitionAt(again, 0).moves[m].channels, transitionAt(p, 0).moves[m].channels);
    RecipeParts parts;
    parts.movement = false, parts.overlap = false;
    const Recipe less = recipeFrom(p, 0, "x", parts).value();
    EXPECT_EQ(less.transition.moves.size(), 2u);
    EXPECT_TRUE(less.transition.overlap.isEmpty());
    EXPECT_FALSE(recipeFrom(longClips(), 0, "nothing", {true, true, true, true, true, false, false}));
    EXPECT_FALSE(recipeFrom(p, 5, "no cut"));
    EXPECT_EQ(idFor("Plunge", {}), "plunge-2") << "a built-in one has that id";
    EXPECT_EQ(plainId("../../etc/Passwd"), "etc-passwd");
}

TEST(Recipe, WhatCoveredTheFrameCoversAnother) {
    Project p = longClips();
    p.settings.edges = EdgeFill::Empty;
    p = withMove(p, 0, MoveKind::Spin, 0, 0, -12, 8, 12, 0, 8);
    p = withCoveringZoom(p, 0, zoomThatCovers(p, 0)->factor);
    const auto bare = [](const Project& q) {
        for (const Finding& f : flowAtCut(q, 0).findings)
            if (f.name.find("bare") != std::string::npos) return true;
        return false;
    };
    ASSERT_FALSE(bare(p));
    const Recipe kept = recipeFrom(p, 0, "Covered").value();
    Project tall = longClips();
    tall.settings.edges = EdgeFill::Empty;
    for (const Size frame : {Size{720, 1280}, Size{2000, 500}, Size{720, 720}}) {
        tall.settings.size = frame;
        for (const double strength : {0.5, 1.0, 2.0}) {
            RecipeUse use;
            use.strength = strength;
            const Project q = withRecipe(tall, 0, kept, use, true);
            EXPECT_FALSE(bare(q)) << frame.width << " x " << frame.height << ", " << strength;
            const double zoom = channelOf(q, 1).outgoing.keys.front().value;
            EXPECT_GT(zoom, 1);
            Project less = q;
            for (const Side side : {Side::Outgoing, Side::Incoming})
                less = withCurve(less, {0, 1, 0, side}, {Space::Log2, {Key{0, zoom * 0.97}}});
            EXPECT_TRUE(bare(less)) << "no larger than needed";
        }
    }
}

TEST(Recipe, PartsArePastedAndTheRestStays) {
    const Project from = withRecipe(longClips(), 0, builtIn("flash"));
    const Recipe copied = recipeFrom(from, 0, "copied").value();
    const Project to = withRecipe(longClips(), 0, builtIn("quarter-turn"));
    RecipeParts parts{false, false, true, false, false, false, false};
    const Project finished = withRecipeParts(to, 0, copied, parts);
    ASSERT_EQ(transitionAt(finished, 0).moves.size(), 2u);
    EXPECT_EQ(transitionAt(finished, 0).moves[0].kind, MoveKind::Spin);
    EXPECT_EQ(transitionAt(finished, 0).moves[1].kind, MoveKind::Light);
    parts = {true, false, false, false, false, false, false};
    const Project moved = withRecipeParts(to, 0, copied, parts);
    ASSERT_EQ(transitionAt(moved, 0).moves.size(), 1u);
    EXPECT_EQ(transitionAt(moved, 0).moves[0].kind, MoveKind::Zoom);
}

// Six shots, five cuts.
Project reelOfSix() {
    Project p = longClips();
    for (int i = 2; i < 6; ++i) {
        Clip more = p.reel[std::size_t(i % 2)];
        more.id = "clip-" + std::to_string(90 + i);
        p.reel.push_back(more);
    }
    return p;
}

TEST(ManyCuts, AlternateSkipAndVary) {
    const Project p = reelOfSix();
    const std::vector<int> all{0, 1, 2, 3, 4};
    ManyCuts how;
    how.alternate = true;
    auto uses = usesAt(p, all, builtIn("half-slide"), {}, how);
    ASSERT_EQ(uses.size(), 5u);
    EXPECT_EQ(uses[0].second.heading, Heading::AsMade);
    EXPECT_EQ(uses[1].second.heading, Heading::Down);
    EXPECT_EQ(uses[2].second.heading, Heading::AsMade);
    how = {};
    how.every = 2;
    uses = usesAt(p, all, builtIn("half-slide"), {}, how);
    ASSERT_EQ(uses.size(), 3u);
    EXPECT_EQ(uses[1].first, 2);
    how = {};
    how.seed = 7;
    uses = usesAt(p, all, builtIn("half-slide"), {}, how);
    EXPECT_EQ(uses, usesAt(p, all, builtIn("half-slide"), {}, how)) << "the same seed, the same variation";
    std::set<double> strengths;
    for (const auto& [cut, use] : uses) strengths.insert(use.strength);
    EXPECT_GE(strengths.size(), 4u);
    how.seed = 8;
    EXPECT_NE(uses, usesAt(p, all, builtIn("half-slide"), {}, how));
    const Project done = withRecipeOnCuts(p, all, builtIn("half-slide"), {}, {});
    ASSERT_EQ(done.recipes.size(), 1u);
    for (int cut = 0; cut < 5; ++cut) EXPECT_EQ(transitionAt(done, cut).link->recipe, "half-slide");
}

TEST(ManyCuts, CarryOnGoesAsTheCutBeforeWent) {
    Project p = withRecipe(reelOfSix(), 0, builtIn("half-slide"), going(Heading::Left));
    ManyCuts how;
    how.carryOn = true;
    const auto uses = usesAt(p, {1, 2, 3}, builtIn("glide"), going(Heading::Right), how);
    ASSERT_EQ(uses.size(), 3u);
    for (const auto& [cut, use] : uses) EXPECT_EQ(use.heading, Heading::Left) << cut;
    p = withRecipe(p, 0, builtIn("quarter-turn"), going(Heading::Clockwise));
    EXPECT_EQ(carryingOn(p, 1, builtIn("swing"), {}).heading, Heading::Clockwise);
    p = withRecipe(p, 0, builtIn("pull-away"));
    EXPECT_EQ(carryingOn(p, 1, builtIn("plunge"), {}).heading, Heading::Out);
}

// Common practice, with no published source: shots stacked three frames apart make a slide cascade.
TEST(ManyCuts, ACascadeStacksItsShots) {
    RecipeUse use;
    use.step = 4;
    const Project p = withRecipeOnCuts(reelOfSix(), {1, 2, 3}, builtIn("cascade"), use, {});
    EXPECT_EQ(p.reel[1].length, 60);
    EXPECT_EQ(p.reel[2].length, 4);
    EXPECT_EQ(p.reel[3].length, 4);
    EXPECT_EQ(p.reel[4].length, 60);
    // Those beneath stay until the last one has covered them.
    EXPECT_EQ(transitionAt(p, 1).overlap.after, 2 * 4 + 10);
    EXPECT_EQ(transitionAt(p, 3).overlap.after, 10);
    EXPECT_TRUE(transitionAt(p, 0).moves.empty()) << "the first cut was not chosen";
    const auto& slide = transitionAt(p, 2).moves[0].channels.at(1).incoming.keys;
    EXPECT_EQ(slide.back().time, 10) << "it slides on longer than it is alone on screen";
    EXPECT_TRUE(transitionAt(p, 2).alone) << "copies would cover what lies beneath";
}

} // namespace
} // namespace virga::recipe_test
