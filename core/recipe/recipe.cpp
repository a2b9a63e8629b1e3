#include "core/recipe/recipe.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <tuple>

#include "core/curve/backwards.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/move_edits.h"
#include "core/edit/speed_edits.h"
#include "core/recipe/built_in_files.h"
#include "core/recipe/link.h"
#include "core/recipe/shaping.h"

namespace virga {

std::span<const std::string_view> recipeGroups() {
    static constexpr std::string_view groups[] = {"in", "out", "turn", "slide", "depth", "lens", "shake", "soft"};
    return groups;
}

const std::vector<Recipe>& builtInRecipes() {
    static const std::vector<Recipe> all = [] {
        std::vector<Recipe> recipes;
        for (const BuiltInFile& file : builtInFiles())
            if (auto recipe = recipeFromText(file.text, std::string(file.name))) recipes.push_back(std::move(*recipe));
        // Those for cuts first, by group, and in a group those of every day.
        const auto placeOf = [](const Recipe& r) {
            const auto groups = recipeGroups();
            const bool everyday = std::find(r.tags.begin(), r.tags.end(), "everyday") != r.tags.end();
            return std::tuple(int(r.place), std::find(groups.begin(), groups.end(), r.group) - groups.begin(),
                              !everyday);
        };
        std::stable_sort(recipes.begin(), recipes.end(),
                         [&](const Recipe& a, const Recipe& b) { return placeOf(a) < placeOf(b); });
        return recipes;
    }();
    return all;
}

namespace {

const Recipe* findIn(const std::vector<Recipe>& recipes, const std::string& id) {
    const auto at = std::find_if(recipes.begin(), recipes.end(), [&](const Recipe& r) { return r.id == id; });
    return at == recipes.end() ? nullptr : &*at;
}

void keepRecipe(Project& project, const Recipe& recipe) {
    for (Recipe& known : project.recipes)
        if (known.id == recipe.id) return void(known = recipe);
    project.recipes.push_back(recipe);
}

// Both shots of a cut given a recipe's edges and ramps. A shot that runs backwards or stands still keeps its speed.
void dress(Project& project, int cut, const Fitted& fitted) {
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        Clip& clip = project.reel[std::size_t(cut + (side == Side::Incoming))];
        if (fitted.edges && edgesOf(project, clip) != *fitted.edges) clip.edges = fitted.edges;
        const auto& ramp = side == Side::Outgoing ? fitted.rampOut : fitted.rampIn;
        if (ramp && hasCurve(project, {cut, shotSpeed, 0, side})) clip = withRamp(std::move(clip), side, *ramp);
    }
}

} // namespace

const Recipe* findRecipe(const std::string& id) {
    return findIn(builtInRecipes(), id);
}
const Recipe* findRecipe(const Project& project, const std::string& id) {
    return findIn(project.recipes, id);
}

StackPlace placeFor(const Recipe& recipe, int cut) {
    return recipe.place == RecipePlace::Shot ? StackPlace(StackPlace::Drift, cut + 1) : StackPlace(cut);
}

Fitted fittedAt(const Project& project, int cut, const Recipe& recipe, const RecipeUse& use) {
    return fitted(recipe, use, project.settings.size, project.settings.rate, roomAt(project, cut));
}

namespace {

bool standsStill(const Move& move) {
    return std::all_of(move.channels.begin(), move.channels.end(), [](const Channel& channel) {
        return channel.outgoing.keys.size() == 1 && channel.incoming.keys.size() == 1;
    });
}

} // namespace

Project withCoverSolved(const Project& project, int cut) {
    if (!hasCut(project, cut)) return project;
    for (const int clip : {cut, cut + 1})
        if (edgesOf(project, project.reel[std::size_t(clip)]) != EdgeFill::Empty) return project;
    const auto isCover = [](const Move& move) {
        return move.kind == MoveKind::Zoom && move.enabled && standsStill(move);
    };
    Project out = project;
    Stack& moves = out.reel[std::size_t(cut) + 1].transition.moves;
    const auto found = std::find_if(moves.rbegin(), moves.rend(),
                                    [](const Move& move) { return moveInfo(move.kind).role == MoveRole::Movement; });
    if (found == moves.rend() || !isCover(*found)) return project;
    const auto at = std::size_t(moves.rend() - found) - 1;
    if (ownOfLane(project, cut, int(at), 0).any()) return project; // the editor's own number
    const auto setTo = [&](double factor) {
        for (Curve* curve : {&moves[at].channels[0].outgoing, &moves[at].channels[0].incoming})
            curve->keys.front().value = factor;
    };
    setTo(1);
    const auto least = zoomThatCovers(out, cut);
    if (!least) return project;
    setTo(std::ceil(least->factor * 100 - 1e-6) / 100);
    return out;
}

namespace {

Project withRecipeAlong(const Project& project, StackPlace place, const Recipe& recipe, RecipeUse use) {
    const Stack* there = stackAt(project, place);
    if (!there) return project;
    const SideSpan in = sideSpan(project, place, Side::Incoming);
    const auto length = std::int64_t(in.to - in.from);
    Room room{length, length};
    if (place.kind == StackPlace::Drift) {
        if (recipe.place != RecipePlace::Shot) return project;
        use.framesIn = int(std::min<std::int64_t>(length, 1000000000)); // all of the shot
    } else if (recipe.place == RecipePlace::Shot) {
        return project;
    } else {
        room = {std::max<std::int64_t>(1, length / 2), std::max<std::int64_t>(1, length / 2)};
    }
    Stack moves = fitted(recipe, use, project.settings.size, project.settings.rate, room).transition.moves;
    for (Move& move : moves) {
        move.recipeMove.clear();
        if (place.kind == StackPlace::Drift)
            for (Channel& channel : move.channels) channel.outgoing.keys.clear();
    }
    Project out = withStack(project, place, moves);
    for (std::size_t i = 0; i < moves.size(); ++i) {
        moves[i].id = freshId(out, "move-");
        out = withStack(out, place, moves);
    }
    return out;
}

} // namespace

Project withRecipe(const Project& project, StackPlace place, const Recipe& recipe, const RecipeUse& use, bool linked) {
    if (place.kind == StackPlace::Drift || place.kind == StackPlace::Overlay)
        return withRecipeAlong(project, place, recipe, use);
    const int cut = place.index;
    if (place.kind != StackPlace::Cut || !hasCut(project, cut) || recipe.place != RecipePlace::Cut) return project;
    // Another state of the recipe that other cuts follow: they follow this one from now on.
    if (const Recipe* known = findRecipe(project, recipe.id); linked && known && !(*known == recipe))
        return withRecipe(withRecipeChanged(project, recipe), place, recipe, use, linked);
    const Fitted fit = fittedAt(project, cut, recipe, use);
    const Transition& before = transitionAt(project, cut);
    Transition transition = fit.transition;
    transition.ignored = before.ignored;
    if (!transition.shutter) transition.shutter = before.shutter;
    if (linked)
        transition.link = RecipeLink{recipe.id, use, {}};
    else
        for (Move& move : transition.moves) move.recipeMove.clear();
    Project done = withTransition(project, cut, transition);
    dress(done, cut, fit);
    done = withCoverSolved(done, cut);
    if (linked) keepRecipe(done, recipe);
    return before.link ? withoutUnusedRecipes(done) : done;
}

namespace {

// The heading of what moves most on the outgoing side, or else on the incoming one, and its opposite.
std::vector<Heading> headingsOf(const Transition& transition) {
    struct Pair {
        Axis axis;
        Heading rising, falling;
    };
    constexpr Pair pairs[] = {{Axis::Across, Heading::Right, Heading::Left},
                              {Axis::Down, Heading::Down, Heading::Up},
                              {Axis::Depth, Heading::In, Heading::Out},
                              {Axis::Turn, Heading::Clockwise, Heading::Counter}};
    double most = 0;
    std::vector<Heading> headings;
    for (const Move& move : transition.moves) {
        const MoveInfo& info = moveInfo(move.kind);
        if (info.role != MoveRole::Movement || info.pattern) continue;
        for (std::size_t c = 0; c < move.channels.size(); ++c)
            for (const Pair& pair : pairs) {
                if (pair.axis != info.channels[c].axis) continue;
                for (const Side side : {Side::Outgoing, Side::Incoming}) {
                    const Curve& curve = move.channels[c].side(side);
                    if (curve.keys.size() < 2) continue;
                    const double way =
                        toSpace(curve.keys.back().value, curve.space) - toSpace(curve.keys.front().value, curve.space);
                    const double size = std::abs(way) / std::abs(toSpace(info.channels[c].usual, curve.space) -
                                                                 toSpace(info.channels[c].neutral, curve.space));
                    if (size <= most) continue;
                    most = size;
                    headings =
                        way > 0 ? std::vector{pair.rising, pair.falling} : std::vector{pair.falling, pair.rising};
                }
            }
    }
    // What slides can go all four ways.
    if (!headings.empty() && (headings[0] == Heading::Left || headings[0] == Heading::Right))
        headings.insert(headings.end(), {Heading::Up, Heading::Down});
    else if (!headings.empty() && (headings[0] == Heading::Up || headings[0] == Heading::Down))
        headings.insert(headings.end(), {Heading::Left, Heading::Right});
    return headings;
}

} // namespace

Expected<Recipe> recipeFrom(const Project& project, int cut, const std::string& name, const RecipeParts& parts) {
    if (!hasCut(project, cut))
        return fail(ErrorCode::BadInput, "there is no cut to keep as a recipe", {}, "select a cut first");
    const Transition& at = transitionAt(project, cut);
    Recipe recipe;
    recipe.name = name;
    recipe.rate = project.settings.rate;
    recipe.framesOut = int(std::ceil(reachOf(at, Side::Outgoing)));
    recipe.framesIn = int(std::ceil(reachOf(at, Side::Incoming)));
    int number = 0;
    for (Move move : at.moves) {
        if (!parts.takes(moveInfo(move.kind).role)) continue;
        move.id = "m" + std::to_string(++number);
        move.recipeMove.clear();
        move.solo = false;
        recipe.transition.moves.push_back(std::move(move));
    }
    if (parts.overlap)
        recipe.transition.overlap = at.overlap, recipe.transition.top = at.top, recipe.transition.alone = at.alone;
    if (parts.shutter) recipe.transition.shutter = at.shutter;
    const Clip &out = project.reel[std::size_t(cut)], &in = project.reel[std::size_t(cut) + 1];
    if (parts.edges && edgesOf(project, out) == edgesOf(project, in)) recipe.edges = edgesOf(project, in);
    if (parts.ramps) recipe.rampOut = rampOf(out, Side::Outgoing), recipe.rampIn = rampOf(in, Side::Incoming);
    if (recipe.transition.moves.empty() && !recipe.rampOut && !recipe.rampIn && recipe.transition.overlap.isEmpty())
        return fail(ErrorCode::BadInput, "nothing of what is to be kept is at this cut", {},
                    "include more of it, or give the cut a move first");
    // A ramp alone still has a length.
    if (recipe.rampOut) recipe.framesOut = std::max(recipe.framesOut, recipe.rampOut->frames);
    if (recipe.rampIn) recipe.framesIn = std::max(recipe.framesIn, recipe.rampIn->frames);
    recipe.headings = headingsOf(recipe.transition);
    if (!recipe.headings.empty()) {
        const Heading h = recipe.headings.front();
        recipe.group = h == Heading::In                                   ? "in"
                       : h == Heading::Out                                ? "out"
                       : h == Heading::Clockwise || h == Heading::Counter ? "turn"
                                                                          : "slide";
    }
    recipe.id = idFor(name, project.recipes);
    return recipe;
}

Project withRecipeParts(const Project& project, int cut, const Recipe& recipe, const RecipeParts& parts) {
    if (!hasCut(project, cut)) return project;
    const Fitted fit = fittedAt(project, cut, recipe, {});
    Transition next = transitionAt(project, cut);
    erase_if(next.moves, [&](const Move& m) { return parts.takes(moveInfo(m.kind).role); });
    Stack taken;
    for (Move move : fit.transition.moves) {
        move.recipeMove.clear();
        if (parts.takes(moveInfo(move.kind).role)) taken.push_back(std::move(move));
    }
    // Movement beneath finishing, as the recipe had it.
    next.moves.insert(parts.movement ? next.moves.begin() : next.moves.end(), taken.begin(), taken.end());
    if (parts.overlap)
        next.overlap = fit.transition.overlap, next.top = fit.transition.top, next.alone = fit.transition.alone;
    if (parts.shutter) next.shutter = fit.transition.shutter;
    next.link.reset();
    for (Move& move : next.moves) move.recipeMove.clear();
    Project done = withTransition(project, cut, next);
    Fitted dressing = fit;
    if (!parts.edges) dressing.edges.reset();
    if (!parts.ramps) dressing.rampOut.reset(), dressing.rampIn.reset();
    dress(done, cut, dressing);
    return withoutUnusedRecipes(done);
}

std::string plainId(const std::string& name) {
    std::string id;
    for (const unsigned char c : name)
        if (std::isalnum(c))
            id += char(std::tolower(c));
        else if (!id.empty() && id.back() != '-')
            id += '-';
    while (!id.empty() && id.back() == '-') id.pop_back();
    return id.empty() ? "recipe" : id;
}

std::string idFor(const std::string& name, std::span<const Recipe> taken) {
    const std::string id = plainId(name);
    const auto isTaken = [&](const std::string& one) {
        return findRecipe(one) || std::any_of(taken.begin(), taken.end(), [&](const Recipe& r) { return r.id == one; });
    };
    std::string free = id;
    for (int n = 2; isTaken(free); ++n) free = id + "-" + std::to_string(n);
    return free;
}

Project withoutUnusedRecipes(const Project& project) {
    Project out = project;
    std::erase_if(out.recipes, [&](const Recipe& recipe) {
        return std::none_of(out.reel.begin(), out.reel.end(), [&](const Clip& clip) {
            return clip.transition.link && clip.transition.link->recipe == recipe.id;
        });
    });
    return out;
}

} // namespace virga
