#include "core/recipe/many.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/edit/continue_move.h"
#include "core/edit/move_edits.h"
#include "core/edit/reel_edits.h"
#include "core/plan/cut_match.h"
#include "core/project/limits.h"
#include "core/recipe/likeness.h"

namespace virga {
namespace {

bool canTake(const Project& project, int cut) {
    return hasCut(project, cut) && !project.reel[std::size_t(cut)].isGap() &&
           !project.reel[std::size_t(cut) + 1].isGap();
}

// The shots between neighbouring cuts shortened to the step, and those beneath kept on screen.
void stack(Project& project, const std::vector<int>& cuts, const Recipe& recipe, int step) {
    for (std::size_t i = 0; i < cuts.size(); ++i) {
        const int cut = cuts[i];
        std::size_t last = i; // of the run of neighbouring cuts
        while (last + 1 < cuts.size() && cuts[last + 1] == cuts[last] + 1) ++last;
        if (last > i) project = withLength(project, cut + 1, step);
        Transition& transition = project.reel[std::size_t(cut) + 1].transition;
        transition.overlap.after =
            std::min(longestOverlap, std::int64_t(last - i) * step + std::max(1, recipe.framesIn));
        if (transition.link) transition.link->own = {"overlap"};
    }
}

} // namespace

RecipeUse carryingOn(const Project& project, int cut, const Recipe& recipe, const RecipeUse& use) {
    const int before = movingCutBefore(project, cut);
    if (before < 0) return use;
    const Velocities going = velocitiesAtCut(project, before).in;
    double best = 0.1; // less alike than this is another movement altogether
    RecipeUse found = use;
    std::vector<Heading> headings = recipe.headings;
    if (headings.empty()) headings = {Heading::AsMade};
    for (const Heading heading : headings) {
        RecipeUse one = use;
        one.heading = heading;
        const Project with = withRecipe(project, cut, recipe, one);
        const CutVelocities v = velocitiesAtCut(with, cut);
        const double like = likeness(v.speedOut > 1e-6 ? v.out : v.in, going);
        if (like > best) best = like, found = one;
    }
    return found;
}

std::vector<std::pair<int, RecipeUse>> usesAt(const Project& project, const std::vector<int>& cuts,
                                              const Recipe& recipe, const RecipeUse& use, const ManyCuts& how) {
    std::vector<std::pair<int, RecipeUse>> uses;
    std::mt19937 random(how.seed); // the same on every machine; its distributions are not, so they are not used
    const auto between = [&](double least, double most) {
        return least + (most - least) * double(random() % 1001) / 1000.0;
    };
    Project so = project;
    int number = 0;
    for (const int cut : cuts) {
        if (!canTake(project, cut)) continue;
        const int place = number++;
        if (place % std::max(1, how.every) != 0) continue;
        RecipeUse one = use;
        if (how.seed != 0) {
            one.strength = std::clamp(use.strength * between(0.8, 1.25), weakestUse, strongestUse);
            one.length = std::clamp(use.length * between(0.8, 1.25), shortestUse, longestUse);
            if (recipe.headings.size() > 1) one.heading = recipe.headings[random() % recipe.headings.size()];
            one.mirrored = use.mirrored != (random() % 2 == 1);
        }
        if (how.carryOn)
            one = carryingOn(so, cut, recipe, one);
        else if (how.alternate && uses.size() % 2 == 1)
            one = opposite(recipe, one);
        if (how.carryOn) so = withRecipe(so, cut, recipe, one);
        uses.push_back({cut, one});
    }
    return uses;
}

Project withRecipeOnCuts(const Project& project, const std::vector<int>& cuts, const Recipe& recipe,
                         const RecipeUse& use, const ManyCuts& how) {
    Project out = project;
    const auto uses = usesAt(project, cuts, recipe, use, how);
    // Moves that go anyway take no room.
    for (const auto& [cut, one] : uses) out.reel[std::size_t(cut) + 1].transition.moves.clear();
    std::vector<int> taken;
    for (const auto& [cut, one] : uses) {
        out = withRecipe(out, cut, recipe, one, how.linked);
        taken.push_back(cut);
    }
    const int step = use.step > 0 && recipe.step > 0 ? use.step : recipe.step;
    if (step > 0) stack(out, taken, recipe, step);
    return out;
}

} // namespace virga
