// Findings about what the shots do by themselves, read from their pictures: against each other at the cut, and against
// the move.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include "core/check/checks.h"
#include "core/curve/curve_edit.h"
#include "core/edit/move_edits.h"
#include "core/edit/reel_edits.h"

namespace virga {
namespace {

// Degrees between two movements: below the first they go the same way, from the second on the turn is a finding, from
// the third on they go against each other.
constexpr double same = 45, turned = 60, against = 107;
constexpr std::int64_t farthest = 25; // frames that a cut is moved at most to where the shots agree
constexpr int slideFrames = 12;       // that a slide takes to lead from one shot's movement to the other's

double degreesBetween(Point a, Point b) {
    return std::abs(std::atan2(a.x * b.y - a.y * b.x, a.dot(b))) * 180 / std::numbers::pi;
}

// "to the left", by what is seen.
const char* towards(Point v) {
    if (std::abs(v.x) >= std::abs(v.y)) return v.x < 0 ? "to the left" : "to the right";
    return v.y < 0 ? "up" : "down";
}

struct OwnMeans {
    Point out, in; // % of the width per frame
};
OwnMeans meansOf(const CutVelocities& v) {
    return {meanOf(v.ownOut) * 100, meanOf(v.ownIn) * 100};
}

// What the moves alone do.
double movesAt(const CutVelocities& v) {
    const auto most = [](const Velocities& all, const Velocities& own) {
        double fastest = 0;
        for (std::size_t i = 0; i < all.size(); ++i)
            if (const double length = (all[i] - own[i]).length(); std::isfinite(length))
                fastest = std::max(fastest, 100 * length);
        return fastest;
    };
    return std::max(most(v.out, v.ownOut), most(v.in, v.ownIn));
}

// The roll of the cut after which the shots' own movements differ least; 0 where none is clearly better.
std::int64_t bestRoll(const CutContext& context) {
    const auto differs = [&](const Project& p) {
        const CutVelocities v = velocitiesAtCut(p, reelIndex(p), context.cut, context.shots.get());
        const OwnMeans m = meansOf(v);
        return v.ownKnown ? (m.out - m.in).length() : 1e9;
    };
    const double now = differs(context.project);
    double least = now;
    std::int64_t best = 0;
    for (std::int64_t by = -farthest; by <= farthest; ++by) {
        if (by == 0 || rollable(context.project, context.cut, by) != by) continue;
        const double there = differs(withCutRolled(context.project, context.cut, by)) + 0.002 * double(std::abs(by));
        if (there < least) least = there, best = by;
    }
    return least < 0.5 * now ? best : 0;
}

} // namespace

// Nothing is judged by what may be a subject's movement; that is said.
void checkSubjects(const CutContext& context, CutFlow& flow) {
    const auto& reel = context.project.reel;
    const auto say = [&](const Clip& clip) {
        flow.fine.push_back(
            fmt::format("What moves in {} may be its subject, for most of the picture's border does not "
                        "move along: the camera is taken to stand still",
                        clip.name));
    };
    if (context.velocities.subjectOut) say(reel[std::size_t(context.cut)]);
    if (context.velocities.subjectIn) say(reel[std::size_t(context.cut) + 1]);
}

void checkShotsAgree(const CutContext& context, CutFlow& flow) {
    const OwnMeans own = meansOf(context.velocities);
    const double slower = std::min(own.out.length(), own.in.length()),
                 faster = std::max(own.out.length(), own.in.length());
    if (slower < context.limits.pan || slower < context.limits.panShare * movesAt(context.velocities)) return;
    const CutVelocities& v = context.velocities;
    const double turn = degreesBetween(own.out, own.in);
    if (turn < turned) {
        flow.fine.push_back(turn < same ? "The shots themselves move on in the same direction"
                                        : fmt::format("The shots' own direction turns by {:.0f}° at the cut", turn));
        return;
    }
    // A move may lead from the one to the other.
    if (v.difference <= context.limits.turn * std::max(v.speedOut, v.speedIn)) return;
    Finding f = context.finding(
        turn < against ? "shots-turn" : "shots-against", Severity::WorthALook, 0,
        turn < against ? fmt::format("The shots' own direction turns by {:.0f}° at the cut", turn)
                       : "The shots move against each other at the cut",
        fmt::format(
            "By itself the outgoing shot goes {} at {:.1f} % of the width a frame, the incoming one {} at {:.1f} %.",
            towards(own.out), own.out.length(), towards(own.in), own.in.length()));
    f.weight = faster;
    if (const std::int64_t by = bestRoll(context))
        f.fixes.push_back(fixOf(
            fmt::format("Cut {} {}, where they agree", framesText(std::abs(by)), by < 0 ? "earlier" : "later"),
            context.place, [by](const Project& p, int cut) -> Expected<Project> {
                if (rollable(p, cut, by) != by)
                    return fail(ErrorCode::BadInput, "the cut cannot be moved so far any more", {}, "check again");
                return withCutRolled(p, cut, by);
            }));
    // Begins as the outgoing shot goes, and leaves the rest to the incoming one.
    const Point rate = (own.out - own.in) / 100;
    f.fixes.push_back(
        fixOf("Lead over with a slide", context.place, [rate](const Project& p, int cut) -> Expected<Project> {
            Project q = withMoveAdded(p, StackPlace(cut), MoveKind::Slide);
            const int move = int(transitionAt(q, cut).moves.size()) - 1;
            const double aspect = p.settings.size.aspect();
            const std::array<double, 2> rates{rate.x, rate.y * aspect};
            for (int c = 0; c < 2; ++c) {
                const double r = rates[std::size_t(c)];
                if (std::abs(r) < 5e-4) continue;
                const double from =
                    -r * slideFrames / 2.5; // even decay: a little less than half of the way at that rate
                Curve curve = curveAt(q, {StackPlace(cut), move, c, Side::Incoming});
                Key first{0, from, Interpolation::Eased, {1.0 / 3, r * slideFrames / 3}, {}};
                const Key last{double(slideFrames), 0, Interpolation::Eased, {}, {0.5, 0}};
                curve.keys = {first, last};
                q = withCurve(q, {StackPlace(cut), move, c, Side::Incoming}, curve);
            }
            return q;
        }));
    flow.findings.push_back(std::move(f));
}

void checkPan(const CutContext& context, CutFlow& flow) {
    if (!context.moves()) return;
    const CutVelocities& v = context.velocities;
    Velocities alone;
    for (std::size_t i = 0; i < alone.size(); ++i) alone[i] = v.out[i] - v.ownOut[i];
    const Point own = meanOf(v.ownOut) * 100, move = meanOf(alone) * 100;
    const double speed = speedOf(alone);
    // A movement that has a direction as a whole: no zoom and no turn.
    if (own.length() < context.limits.pan || move.length() < 0.5 * speed || speed < context.limits.pan) return;
    const double turn = degreesBetween(own, move);
    if (turn < turned) {
        flow.fine.push_back(turn < same ? "The move goes on from the shot's own pan"
                                        : fmt::format("The move turns by {:.0f}° from the shot's own pan", turn));
        return;
    }
    Finding f =
        context.finding(turn < against ? "pan-turn" : "pan-against", Severity::WorthALook, -1,
                        turn < against ? fmt::format("The move turns by {:.0f}° from the shot's own pan", turn)
                                       : "The shot's own pan goes against the move",
                        fmt::format("The outgoing shot pans {} at {:.1f} % of the width a frame, the move goes {}.",
                                    towards(own), own.length(), towards(move)));
    f.weight = own.length();
    const int channel = std::abs(move.x) >= std::abs(move.y) ? 0 : 1;
    const auto& moves = context.transition.moves;
    if (std::any_of(moves.begin(), moves.end(), [&](const Move& m) {
            return m.kind == MoveKind::Slide && isOn(moves, m) &&
                   !m.channels[std::size_t(channel)].outgoing.keys.empty();
        }))
        f.fixes = {fixOf("Let the move go the other way", context.place,
                         [channel](const Project& p, int cut) -> Expected<Project> {
                             Project q = p;
                             const Stack stack = transitionAt(p, cut).moves;
                             for (std::size_t m = 0; m < stack.size(); ++m)
                                 for (const Side side : {Side::Outgoing, Side::Incoming})
                                     if (stack[m].kind == MoveKind::Slide) {
                                         const CurveAddress at{StackPlace(cut), int(m), channel, side};
                                         q = withCurve(q, at, flipped(curveAt(q, at), 0));
                                     }
                             return q;
                         })};
    flow.findings.push_back(std::move(f));
}

} // namespace virga
