#include "core/recipe/fit.h"

#include <algorithm>
#include <cmath>

#include "core/edit/carry_on.h"
#include "core/plan/cut_match.h"
#include "core/recipe/shaping.h"

namespace virga {
namespace {

// The frames of one side as a use asks for them, held to the room.
int framesFor(int usual, int typed, const Recipe& recipe, const RecipeUse& use, FrameRate rate, std::int64_t room) {
    if (usual <= 0) return 0;
    const double scale = use.length * (use.byTime ? (rate / recipe.rate).toDouble() : 1);
    const std::int64_t wanted = typed > 0 ? typed : std::max<std::int64_t>(1, std::llround(usual * scale));
    return int(std::clamp<std::int64_t>(wanted, 1, std::max<std::int64_t>(1, room)));
}

// The recipe's lengths and ramps by the sides that they serve in this use.
struct Sides {
    int usualOut, usualIn, out, in; // frames
    double factorOut, factorIn;
    const std::optional<Ramp>*rampOut, *rampIn;
};

Sides sidesOf(const Recipe& recipe, const RecipeUse& use, FrameRate rate, Room room) {
    Sides s{recipe.framesOut, recipe.framesIn, 0, 0, 1, 1, &recipe.rampOut, &recipe.rampIn};
    if (use.reversed) std::swap(s.usualOut, s.usualIn), std::swap(s.rampOut, s.rampIn);
    s.out = framesFor(s.usualOut, use.framesOut, recipe, use, rate, room.out);
    s.in = framesFor(s.usualIn, use.framesIn, recipe, use, rate, room.in);
    if (s.usualOut > 0) s.factorOut = double(s.out) / s.usualOut;
    if (s.usualIn > 0) s.factorIn = double(s.in) / s.usualIn;
    return s;
}

std::optional<Ramp> fittedRamp(std::optional<Ramp> ramp, double factor, double strength, std::int64_t room) {
    if (!ramp) return ramp;
    const auto most = double(std::clamp<std::int64_t>(room, 1, 1000000));
    ramp->frames = int(std::clamp(std::round(ramp->frames * factor), 1.0, most));
    ramp->to = std::clamp(ramp->from + strength * (ramp->to - ramp->from), 0.0, fastestPercent);
    return ramp;
}

// Two shots of the frame's own size that stand still but for the transition.
Project betweenTwoShots(const Transition& transition, Size frame) {
    Project p;
    p.settings.size = frame;
    p.settings.edges = EdgeFill::Mirror;
    Media media;
    media.id = "shot";
    media.size = frame;
    media.still = true;
    p.media = {media};
    const auto shot = [&](const char* id, Side side) {
        Clip clip;
        clip.id = id;
        clip.mediaId = media.id;
        clip.length = std::int64_t(std::ceil(reachOf(transition, side))) + 50;
        return clip;
    };
    p.reel = {shot("out", Side::Outgoing), shot("in", Side::Incoming)};
    p.reel[1].transition = transition;
    p.reel[1].transition.link.reset();
    return p;
}

// How much evener a side becomes that was shortened to a few frames.
double evening(double factor, int frames) {
    return factor < 1 ? std::min(1.0, 1.5 * (1 - factor)) * std::clamp((8 - frames) / 5.0, 0.0, 1.0) : 0;
}

// A step of this share of the speed is not seen; one as large as the other was meant.
constexpr double steady = 0.02, meant = 0.1;

bool isSteady(const Project& two, double step) {
    const CutVelocities v = velocitiesAtCut(two, 0);
    return v.speedOut > 0.2 && v.speedIn > 0.2 && v.difference <= step * std::max(v.speedOut, v.speedIn);
}

// Whether a channel of the incoming side would come from much farther or nearer than before, or from the other side of
// its rest: then it is another movement.
bool isAnother(const Stack& before, const Stack& after) {
    constexpr double most = 3;
    for (std::size_t m = 0; m < before.size() && m < after.size(); ++m)
        for (std::size_t c = 0; c < before[m].channels.size(); ++c) {
            const Curve &a = before[m].channels[c].incoming, &b = after[m].channels[c].incoming;
            if (a.isEmpty() || b.isEmpty()) continue;
            const double rest = toSpace(moveInfo(before[m].kind).channels[c].neutral, a.space),
                         was = toSpace(a.keys.front().value, a.space) - rest,
                         is = toSpace(b.keys.front().value, b.space) - rest;
            if (std::abs(was) < 1e-9 ? std::abs(is) > 1e-9 : is / was < 1 / most || is / was > most) return true;
        }
    return false;
}

// The moves with their incoming side matched again: all together, else each channel by itself, whichever comes
// nearer without turning anything round.
Stack carriedOn(const Transition& transition, Size frame) {
    const Project two = betweenTwoShots(transition, frame);
    if (isSteady(two, steady)) return transition.moves;
    std::vector<Project> tries;
    if (auto all = withAllMatched(two, 0, Match::ByHandle)) tries.push_back(std::move(*all));
    Project each = two;
    for (int m = 0; m < int(transition.moves.size()); ++m) {
        const Move& move = transition.moves[std::size_t(m)];
        if (moveInfo(move.kind).role != MoveRole::Movement || moveInfo(move.kind).pattern) continue;
        for (int c = 0; c < int(move.channels.size()); ++c)
            if (auto one = withSpeedMatched(each, 0, m, c, true)) each = std::move(*one);
    }
    tries.push_back(std::move(each));
    const Project* best = &two;
    double least = velocitiesAtCut(two, 0).difference;
    for (const Project& one : tries) {
        const double left = velocitiesAtCut(one, 0).difference;
        if (left < least && !isAnother(transition.moves, transitionAt(one, 0).moves)) least = left, best = &one;
    }
    return transitionAt(*best, 0).moves;
}

} // namespace

bool carriesOn(const Transition& transition, Size frame) {
    return isSteady(betweenTwoShots(transition, frame), meant);
}

Room roomAt(const Project& project, int cut) {
    if (!hasCut(project, cut)) return {};
    const std::int64_t out = project.reel[std::size_t(cut)].length, in = project.reel[std::size_t(cut) + 1].length;
    const auto left = [](std::int64_t length, double taken) {
        return std::max({std::int64_t(1), (length + 1) / 2, length - std::int64_t(std::ceil(taken))});
    };
    // What an overlap keeps on screen can move too.
    const std::int64_t ahead = cut > 0 ? transitionAt(project, cut - 1).overlap.before : 0,
                       past = cut + 1 < cutCount(project) ? transitionAt(project, cut + 1).overlap.after : 0;
    const double before = cut > 0 ? reachOf(transitionAt(project, cut - 1), Side::Incoming) : 0,
                 after = cut + 1 < cutCount(project) ? reachOf(transitionAt(project, cut + 1), Side::Outgoing) : 0;
    return {left(out + ahead, before), left(in + past, after)};
}

Heading headingOf(const Recipe& recipe, const RecipeUse& use) {
    if (use.heading == Heading::AsMade) return recipe.headings.empty() ? Heading::AsMade : recipe.headings.front();
    return use.heading;
}

RecipeUse opposite(const Recipe& recipe, RecipeUse use) {
    constexpr std::pair<Heading, Heading> pairs[] = {{Heading::Left, Heading::Right},
                                                     {Heading::Up, Heading::Down},
                                                     {Heading::In, Heading::Out},
                                                     {Heading::Clockwise, Heading::Counter}};
    const Heading now = headingOf(recipe, use);
    const auto has = [&](Heading h) {
        return std::find(recipe.headings.begin(), recipe.headings.end(), h) != recipe.headings.end();
    };
    for (const auto& [one, other] : pairs)
        if ((now == one && has(other)) || (now == other && has(one))) {
            use.heading = now == one ? other : one;
            return use;
        }
    use.mirrored = !use.mirrored;
    return use;
}

Fitted fitted(const Recipe& recipe, const RecipeUse& use, Size frame, FrameRate rate, Room room) {
    const Sides sides = sidesOf(recipe, use, rate, room);
    Transition t = recipe.transition;
    const bool carried = carriesOn(t, frame);
    if (use.reversed) t = reversed(t);
    if (!recipe.headings.empty()) t = turned(t, recipe.headings.front(), headingOf(recipe, use));
    if (use.mirrored) t = mirrored(t);
    t = passing(t, use.wholeFrames, recipe.wholeFrames);
    t = strengthened(t, use.strength);
    t = lasting(t, sides.factorOut, sides.factorIn);
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const bool out = side == Side::Outgoing;
        t = evened(t, side, evening(out ? sides.factorOut : sides.factorIn, out ? sides.out : sides.in));
    }
    for (Move& move : t.moves) move.recipeMove = move.id;
    // What carried on before it was fitted does so afterwards.
    if (carried) t.moves = carriedOn(t, frame);
    for (Move& move : t.moves) move.id.clear();
    t.link.reset();
    t.ignored.clear();
    return {t,
            recipe.edges,
            fittedRamp(*sides.rampOut, sides.factorOut, use.strength, room.out),
            fittedRamp(*sides.rampIn, sides.factorIn, use.strength, room.in),
            sides.out,
            sides.in};
}

Transition unfitted(const Recipe& recipe, const RecipeUse& use, FrameRate rate, Room room, const Transition& at) {
    const Sides sides = sidesOf(recipe, use, rate, room);
    Transition t = lasting(at, 1 / sides.factorOut, 1 / sides.factorIn);
    t = strengthened(t, 1 / use.strength);
    if (use.wholeFrames > 0) t = passing(t, recipe.wholeFrames, use.wholeFrames);
    if (use.mirrored) t = mirrored(t);
    if (!recipe.headings.empty()) t = turned(t, headingOf(recipe, use), recipe.headings.front());
    if (use.reversed) t = reversed(t);
    t.link.reset();
    t.ignored.clear();
    return t;
}

} // namespace virga
