#include "core/recipe/link.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <unordered_map>
#include <utility>

#include "core/edit/move_edits.h"
#include "core/edit/speed_edits.h"
#include "core/recipe/parts.h"
#include "core/recipe/shaping.h"

namespace virga {
namespace {

const RecipeLink* linkAt(const Project& project, int cut) {
    if (!hasCut(project, cut)) return nullptr;
    const auto& link = transitionAt(project, cut).link;
    return link && findRecipe(project, link->recipe) ? &*link : nullptr;
}

// Fits one recipe to many cuts: those with the same room and use share the work.
class Fitter {
public:
    Fitter(const Project& project, const Recipe& recipe) : m_project(project), m_recipe(recipe) {}
    const Fitted& at(int cut, const RecipeUse& use) {
        Room room = roomAt(m_project, cut);
        // Room beyond what it takes changes nothing.
        const auto longest = std::int64_t(longestNeeded(use));
        room.out = std::min(room.out, longest), room.in = std::min(room.in, longest);
        for (const Entry& e : m_made)
            if (e.room == room && e.use == use) return *e.fitted;
        m_made.push_back(
            {room, use,
             std::make_unique<Fitted>(fitted(m_recipe, use, m_project.settings.size, m_project.settings.rate, room))});
        return *m_made.back().fitted;
    }

private:
    struct Entry {
        Room room;
        RecipeUse use;
        std::unique_ptr<Fitted> fitted;
    };
    double longestNeeded(const RecipeUse& use) const {
        const double scale = use.length * (use.byTime ? (m_project.settings.rate / m_recipe.rate).toDouble() : 1.0);
        int usual = std::max(m_recipe.framesOut, m_recipe.framesIn);
        for (const auto& ramp : {m_recipe.rampOut, m_recipe.rampIn})
            if (ramp) usual = std::max(usual, ramp->frames);
        return std::max({usual * scale + 1, double(use.framesOut), double(use.framesIn)}) + 1;
    }
    const Project& m_project;
    const Recipe& m_recipe;
    std::vector<Entry> m_made;
};

// Edges and ramps of both shots follow where they are as the recipe had them.
void follow(Project& project, int cut, const Fitted& before, const Fitted& now) {
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        Clip& clip = project.reel[std::size_t(cut + (side == Side::Incoming))];
        if (before.edges != now.edges && now.edges && (!before.edges || edgesOf(project, clip) == *before.edges))
            clip.edges = now.edges;
        const auto& was = side == Side::Outgoing ? before.rampOut : before.rampIn;
        const auto& ramp = side == Side::Outgoing ? now.rampOut : now.rampIn;
        if (was == ramp || rampOf(clip, side) != was || !hasCurve(project, {cut, shotSpeed, 0, side})) continue;
        clip = ramp ? withRamp(std::move(clip), side, *ramp) : withoutRamp(std::move(clip), side);
    }
}

// The transition of a cut as the recipe has it now, in place; fresh moves get ids.
void put(Project& project, int cut, const Fitted& fit, const std::vector<std::string>& own, int& nextId) {
    Transition& at = project.reel[std::size_t(cut) + 1].transition;
    Transition next = fit.transition;
    if (!next.shutter) next.shutter = at.shutter;
    at = keepingParts(next, at, own);
    for (Move& move : at.moves)
        if (move.id.empty()) {
            if (nextId < 0) nextId = std::stoi(freshId(project, "move-").substr(5));
            move.id = "move-" + std::to_string(nextId++);
        }
}

Project withRecipeStored(const Project& project, const Recipe& recipe) {
    Project out = project;
    for (Recipe& known : out.recipes)
        if (known.id == recipe.id) return known = recipe, out;
    out.recipes.push_back(recipe);
    return out;
}

} // namespace

std::vector<int> cutsOf(const Project& project, const std::string& recipe) {
    std::vector<int> cuts;
    for (int cut = 0; cut < cutCount(project); ++cut)
        if (const auto& link = transitionAt(project, cut).link; link && link->recipe == recipe) cuts.push_back(cut);
    return cuts;
}

Project withRecipeChanged(const Project& project, const Recipe& recipe) {
    const Recipe* known = findRecipe(project, recipe.id);
    if (known && *known == recipe) return project;
    const Recipe before = known ? *known : recipe;
    Project out = withRecipeStored(project, recipe);
    Fitter was(project, before), now(project, recipe);
    int nextId = -1;
    for (const int cut : cutsOf(project, recipe.id)) {
        const RecipeLink link = *transitionAt(project, cut).link;
        const Fitted& fit = now.at(cut, link.use);
        put(out, cut, fit, link.own, nextId);
        if (before.edges != recipe.edges || before.rampOut != recipe.rampOut || before.rampIn != recipe.rampIn)
            follow(out, cut, was.at(cut, link.use), fit);
        if (!transitionAt(out, cut).moves.empty() && edgesOf(out, out.reel[std::size_t(cut)]) == EdgeFill::Empty)
            out = withCoverSolved(out, cut);
    }
    return out;
}

Project withOwnNoted(const Project& before, Project after) {
    if (before.settings.rate != after.settings.rate || before.settings.size != after.settings.size) return after;
    std::unordered_map<std::string_view, const Clip*> known;
    for (std::size_t i = 0; i < after.reel.size(); ++i) {
        const Clip& now = std::as_const(after).reel[i];
        const auto& link = now.transition.link;
        if (!link) continue;
        const Clip* old = i < before.reel.size() && before.reel[i].id == now.id ? &before.reel[i] : nullptr;
        if (!old) {
            if (known.empty())
                for (const Clip& clip : before.reel) known[clip.id] = &clip;
            const auto at = known.find(now.id);
            if (at == known.end()) continue;
            old = at->second;
        }
        if (isSame(old->transition, now.transition) || !old->transition.link || !(*old->transition.link == *link))
            continue;
        const Recipe *was = findRecipe(before, link->recipe), *is = findRecipe(after, link->recipe);
        if (!was || !is || !(*was == *is)) continue;
        const auto parts = differingParts(old->transition, now.transition);
        auto& own = after.reel[i].transition.link->own;
        for (const std::string& part : parts)
            if (std::find(own.begin(), own.end(), part) == own.end()) own.push_back(part);
        std::sort(own.begin(), own.end());
    }
    return after;
}

Project withOwnFolded(const Project& project, int cut) {
    const RecipeLink* link = linkAt(project, cut);
    if (!link) return project;
    Recipe recipe = *findRecipe(project, link->recipe);
    Transition at = transitionAt(project, cut);
    Transition told = unfitted(recipe, link->use, project.settings.rate, roomAt(project, cut), at);
    // The cut's own moves become the recipe's.
    Project out = project;
    Transition& mine = out.reel[std::size_t(cut) + 1].transition;
    std::vector<std::string> own = link->own;
    int number = 0;
    const auto isTaken = [&](const std::string& id) {
        return std::any_of(recipe.transition.moves.begin(), recipe.transition.moves.end(),
                           [&](const Move& m) { return m.id == id; }) ||
               std::any_of(mine.moves.begin(), mine.moves.end(), [&](const Move& m) { return m.recipeMove == id; });
    };
    for (std::size_t i = 0; i < mine.moves.size(); ++i) {
        if (!mine.moves[i].recipeMove.empty()) continue;
        do ++number;
        while (isTaken("m" + std::to_string(number)));
        mine.moves[i].recipeMove = told.moves[i].recipeMove = "m" + std::to_string(number);
        own.push_back(mine.moves[i].recipeMove);
    }
    // In the recipe a move is named by its id.
    Transition stored = recipe.transition;
    for (Move& move : stored.moves) move.recipeMove = move.id;
    // A reversed use has its sides exchanged: so have the names of its parts.
    if (link->use.reversed)
        for (std::string& part : own) {
            if (part.ends_with("/outgoing"))
                part.replace(part.size() - 8, 8, "incoming");
            else if (part.ends_with("/incoming"))
                part.replace(part.size() - 8, 8, "outgoing");
        }
    recipe.transition = keepingParts(stored, told, own);
    for (Move& move : recipe.transition.moves) move.id = move.recipeMove, move.recipeMove.clear(), move.solo = false;
    recipe.transition.link.reset();
    recipe.transition.ignored.clear();
    // Longer than it was: its usual lengths grow with it.
    const auto lengthOf = [&](Side side, int was) {
        const double reach = reachOf(recipe.transition, side);
        return reach > 0 ? int(std::ceil(reach)) : was;
    };
    recipe.framesOut = lengthOf(Side::Outgoing, recipe.framesOut);
    recipe.framesIn = lengthOf(Side::Incoming, recipe.framesIn);
    mine.link->own.clear();
    const Transition kept = mine;
    Project done = withRecipeChanged(out, recipe);
    // This cut says how it is to be; it is not fitted to itself again.
    done.reel[std::size_t(cut) + 1].transition = kept;
    return done;
}

Project withEditFolded(const Project& before, const Project& after) {
    Project noted = withOwnNoted(before, after);
    if (noted.reel.size() != before.reel.size()) return noted;
    for (int cut = 0; cut < cutCount(noted); ++cut) {
        const auto& link = transitionAt(noted, cut).link;
        if (!link) continue;
        const Transition &was = transitionAt(before, cut), &now = transitionAt(noted, cut);
        // What was done to the link or the recipe itself is no edit of the cut.
        if (!was.link || was == now || was.link->recipe != link->recipe || !(was.link->use == link->use)) continue;
        const Recipe *old = findRecipe(before, link->recipe), *is = findRecipe(noted, link->recipe);
        if (!old || !is || !(*old == *is)) continue;
        const bool added = std::any_of(now.moves.begin(), now.moves.end(), [&](const Move& m) {
            return m.recipeMove.empty() &&
                   std::none_of(was.moves.begin(), was.moves.end(), [&](const Move& o) { return o.id == m.id; });
        });
        if (added || !differingParts(was, now).empty()) return withOwnFolded(noted, cut);
    }
    return noted;
}

Project withOwnDropped(const Project& project, int cut) {
    const RecipeLink* link = linkAt(project, cut);
    if (!link) return project;
    Project out = project;
    Transition& mine = out.reel[std::size_t(cut) + 1].transition;
    erase_if(mine.moves, [](const Move& m) { return m.recipeMove.empty(); });
    int nextId = -1;
    put(out, cut, fittedAt(project, cut, *findRecipe(project, link->recipe), link->use), {}, nextId);
    mine.link->own.clear();
    return withCoverSolved(out, cut);
}

Project withUseChanged(const Project& project, int cut, const RecipeUse& use) {
    const RecipeLink* link = linkAt(project, cut);
    if (!link || link->use == use) return project;
    const Recipe& recipe = *findRecipe(project, link->recipe);
    Project out = project;
    int nextId = -1;
    const Fitted now = fittedAt(project, cut, recipe, use);
    put(out, cut, now, link->own, nextId);
    follow(out, cut, fittedAt(project, cut, recipe, link->use), now);
    out = withCoverSolved(out, cut);
    out.reel[std::size_t(cut) + 1].transition.link->use = use;
    return out;
}

Project withLinkCut(const Project& project, int cut) {
    if (!hasCut(project, cut) || !transitionAt(project, cut).link) return project;
    Project out = project;
    Transition& mine = out.reel[std::size_t(cut) + 1].transition;
    mine.link.reset();
    for (Move& move : mine.moves) move.recipeMove.clear();
    return withoutUnusedRecipes(out);
}

OwnOfLane ownOfLane(const Project& project, int cut, int move, int channel) {
    const RecipeLink* link = linkAt(project, cut);
    const Stack* moves = link ? &transitionAt(project, cut).moves : nullptr;
    if (!moves || move < 0 || move >= int(moves->size())) return {};
    const Move& at = (*moves)[std::size_t(move)];
    if (at.recipeMove.empty()) return {.rest = true};
    const auto is = [&](const std::string& part) {
        return std::find(link->own.begin(), link->own.end(), part) != link->own.end();
    };
    const bool all = is(at.recipeMove);
    return {all || is(curvePart(at, channel, Side::Outgoing)), all || is(curvePart(at, channel, Side::Incoming)),
            all || is(at.recipeMove + "/settings")};
}

std::vector<std::string> ownTexts(const Project& project, int cut) {
    std::vector<std::string> texts;
    const RecipeLink* link = linkAt(project, cut);
    if (!link) return texts;
    const Transition& at = transitionAt(project, cut);
    for (const std::string& part : link->own) texts.push_back(partText(at, part));
    for (const Move& move : at.moves)
        if (move.recipeMove.empty()) texts.push_back(fmt::format("{} added here", moveInfo(move.kind).label));
    return texts;
}

} // namespace virga
