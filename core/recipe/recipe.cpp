#include "core/recipe/recipe.h"

#include <algorithm>

#include "core/curve/curve_edit.h"
#include "core/curve/matching.h"
#include "core/edit/move_edits.h"

namespace virga {

const std::vector<Recipe>& builtInRecipes() {
    static const std::vector<Recipe> all = {
        {"plunge", "Plunge", 5, 12, {{MoveKind::Zoom, 0, 1, 2.5, 0.62, 1}}, EdgeFill::Mirror},
        {"quarter-turn", "Quarter turn", 8, 8, {{MoveKind::Spin, 0, 0, -90, 90, 0}}, EdgeFill::Mirror},
        {"half-slide", "Half slide", 8, 8, {{MoveKind::Slide, 1, 0, -0.5, 0.5, 0}}, EdgeFill::Mirror},
    };
    return all;
}

const Recipe* findRecipe(const std::string& name) {
    for (const Recipe& r : builtInRecipes())
        if (r.name == name) return &r;
    return nullptr;
}

Project withRecipe(const Project& project, int cut, const Recipe& recipe, bool opposite) {
    if (cut < 0 || cut >= cutCount(project)) return project;
    const auto room = [&](int clip, int wanted) {
        return int(std::clamp<std::int64_t>(project.reel[std::size_t(clip)].length, 1, wanted));
    };
    const int out = room(cut, recipe.framesOut), in = room(cut + 1, recipe.framesIn);
    Transition transition;
    transition.shutter = transitionAt(project, cut).shutter;
    transition.overlap = transitionAt(project, cut).overlap;
    transition.top = transitionAt(project, cut).top;
    for (const RecipeChannel& c : recipe.channels) {
        if (transition.moves.empty() || transition.moves.back().kind != c.kind)
            transition.moves.push_back(makeMove(c.kind, ""));
        Move& move = transition.moves.back();
        Channel& channel = move.channels[std::size_t(c.channel)];
        const Space space = spaceOf(move, c.channel);
        const double neutral = moveInfo(c.kind).channels[std::size_t(c.channel)].neutral;
        channel.outgoing = twoKeys(space, -out, c.outStart, 0, c.outEnd, departingShape());
        channel.incoming = twoKeys(space, 0, c.inStart, in, c.inEnd, arrivingShape());
        if (opposite) {
            channel.outgoing = flipped(channel.outgoing, neutral);
            channel.incoming = flipped(channel.incoming, neutral);
        }
        if (auto matched = matchedByFirstHandle(channel.incoming, changeOver(channel.outgoing, -1)))
            channel.incoming = *matched;
    }
    Project done = withTransition(project, cut, transition);
    for (const int clip : {cut, cut + 1}) {
        auto& edges = done.reel[std::size_t(clip)].edges;
        if (edgesOf(done, done.reel[std::size_t(clip)]) != recipe.edges) edges = recipe.edges;
    }
    return done;
}

} // namespace virga
