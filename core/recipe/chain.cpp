#include "core/recipe/chain.h"

#include <algorithm>
#include <fmt/format.h>
#include <random>

#include "core/edit/move_edits.h"
#include "core/flow/continue_move.h"
#include "core/flow/key_fixes.h"
#include "core/flow/mend.h"
#include "core/plan/cut_match.h"
#include "core/project/beats.h"
#include "core/recipe/recipe.h"
#include "core/recipe/shot_heading.h"

namespace virga {
namespace {

// How strongly a cut falls: on a bar's first beat, on another, beside them.
double weightOf(const Project& project, std::int64_t at) {
    if (!hasBeats(project)) return 1;
    const int beat = beatAtFrame(project, at);
    for (const int b : {beat, beat + 1}) {
        const std::int64_t frame = beatFrame(project, b);
        if (std::abs(frame - at) > 1) continue;
        const auto marks = beatsBetween(project, double(frame) - 1, double(frame) + 1);
        return std::any_of(marks.begin(), marks.end(), [](const BeatMark& m) { return m.startsBar; }) ? 2 : 1;
    }
    return 0.5;
}

// How strong a recipe is, by the fastest frame that it shows at the cut.
double strengthOf(const Project& with, int cut) {
    const CutVelocities v = velocitiesAtCut(with, cut);
    return std::max(v.speedOut, v.speedIn);
}

// Recipes that carry a movement through a cut.
std::vector<const Recipe*> chainable() {
    std::vector<const Recipe*> recipes;
    for (const Recipe& recipe : builtInRecipes())
        if (recipe.place == RecipePlace::Cut && recipe.step == 0 && recipe.framesOut > 0 && recipe.framesIn > 0 &&
            !recipe.headings.empty() && recipe.transition.overlap.isEmpty() && recipe.framesOut <= 15)
            recipes.push_back(&recipe);
    return recipes;
}

Proposal proposalOf(const Project& from, const Project& with, int cut, std::string label, double weight) {
    return {{FlowPlace::Cut, from.reel[std::size_t(cut) + 1].id}, std::move(label), weight, transitionAt(with, cut)};
}

} // namespace

std::optional<Proposal> continuationOf(const Project& project, int cut) {
    const int before = movingCutBefore(project, cut);
    if (before < 0 || cut >= cutCount(project)) return std::nullopt;
    const Project with = withMoveContinued(project, cut);
    if (with == project) return std::nullopt;
    return proposalOf(project, with, cut, fmt::format("as cut {}: {}", before + 1, movementText(with, cut)), 1);
}

std::vector<Proposal> chainOf(const Project& project, const ChainOptions& options) {
    std::vector<Proposal> proposals;
    std::mt19937 random(options.seed); // the same on every machine; its distributions are not, so they are not used
    const std::vector<const Recipe*> recipes = chainable();
    Project planned = project;
    const auto starts = clipStarts(project);
    struct Choice {
        std::size_t recipe = 0;
        bool opposite = false;
    };
    std::vector<Choice> made;
    for (int cut = 0; cut < cutCount(project); ++cut) {
        const Clip &out = project.reel[std::size_t(cut)], &in = project.reel[std::size_t(cut) + 1];
        const bool has = !transitionAt(project, cut).moves.empty();
        if (out.isGap() || in.isGap() || (has && !options.overExisting)) continue;
        const double weight = weightOf(project, starts[std::size_t(cut) + 1]);
        // Every second cut or so goes on as the one before.
        const auto dice = std::uint32_t(random());
        if (!made.empty() && dice % 5 < 2 && (made.size() < 2 || made.back().recipe != made[made.size() - 2].recipe)) {
            if (auto same = continuationOf(planned, cut)) {
                same->weight = weight;
                planned = withProposal(planned, *same).value_or(planned);
                made.push_back(made.back());
                proposals.push_back(std::move(*same));
                continue;
            }
        }
        // Otherwise one of a few that have not been lately, the stronger the beat the stronger.
        constexpr std::uint32_t few = 4;
        struct Ranked {
            double rank;
            std::size_t recipe;
            RecipeUse use;
            Project with;
            bool goesOn = false;
        };
        int shot = -1; // its heading, where it is known
        if (options.shots)
            if (const auto heading = headingOfShot(project, cut, *options.shots)) shot = int(*heading);
        std::vector<Ranked> ranked;
        for (std::uint32_t i = 0; i < few && i < recipes.size(); ++i) {
            const std::size_t r = ((dice >> 8) + i * (1 + (dice >> 20) % 5)) % recipes.size();
            const auto is = [&](const Ranked& one) { return one.recipe == r; };
            if ((!made.empty() && made.back().recipe == r) || std::any_of(ranked.begin(), ranked.end(), is)) continue;
            RecipeUse use = (dice >> 4) % 2 == 1 ? opposite(*recipes[r], {}) : RecipeUse{};
            const auto& can = recipes[r]->headings;
            const auto towards = std::find_if(can.begin(), can.end(), [&](Heading one) { return int(one) == shot; });
            const bool goesOn = towards != can.end();
            if (goesOn) use = {}, use.heading = *towards;
            Project with = withRecipe(planned, cut, *recipes[r], use);
            const double strength = strengthOf(with, cut);
            // What goes on from where the shot goes comes first.
            ranked.push_back({(weight > 1   ? -strength
                               : weight < 1 ? strength
                                            : double(i)) -
                                  (goesOn ? 1000 : 0),
                              r, use, std::move(with), goesOn});
        }
        if (ranked.empty()) continue;
        Ranked& best =
            *std::min_element(ranked.begin(), ranked.end(), [](auto& a, auto& b) { return a.rank < b.rank; });
        const bool otherWay = !best.goesOn && !(best.use == RecipeUse{});
        proposals.push_back(proposalOf(planned, best.with, cut,
                                       recipes[best.recipe]->name + (best.goesOn ? ", as the shot goes"
                                                                     : otherWay  ? ", the other way"
                                                                                 : ""),
                                       weight));
        planned = std::move(best.with);
        made.push_back({best.recipe, otherWay});
    }
    return proposals;
}

Expected<Project> withProposal(const Project& project, const Proposal& proposal) {
    const auto cut = indexOf(project, proposal.cut);
    if (!cut) return fail(ErrorCode::BadInput, "this cut is gone from the reel", {}, "ask for another plan");
    Transition transition = proposal.transition;
    transition.overlap = transitionAt(project, *cut).overlap;
    transition.top = transitionAt(project, *cut).top;
    Project done = withTransition(project, *cut, transition);
    // Movement shows the frame's edges: copies fill them.
    for (const int clip : {*cut, *cut + 1}) {
        Clip& c = done.reel[std::size_t(clip)];
        if (edgesOf(done, c) == EdgeFill::Empty) c.edges = EdgeFill::Mirror;
    }
    return done;
}

Project withChain(const Project& project, const ChainOptions& options) {
    Project done = project;
    for (const Proposal& proposal : chainOf(project, options))
        if (auto next = withProposal(done, proposal)) done = std::move(*next);
    // Nothing quite still: mending gives shots that rest a creeping drift, and hands tilts over.
    return mendedReel(done).project;
}

} // namespace virga
