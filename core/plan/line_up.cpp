#include "core/plan/line_up.h"

#include <cmath>

#include <algorithm>

namespace virga {
namespace {

std::optional<LayerPlan> layerAt(const Project& project, int cut, Side side) {
    if (cut < 0 || cut >= cutCount(project)) return std::nullopt;
    const std::int64_t at = cutFrame(project, cut);
    const bool in = side == Side::Incoming;
    const FramePlan plan = planFrame(project, at - (in ? 0 : 1));
    const LayerPlan* layer = layerOfClip(plan, cut + in);
    if (!layer || layer->source.isEmpty()) return std::nullopt;
    return *layer;
}

// The points to the right of a subject and below it tell how large it is seen, turned or not.
double radiusOf(const ScreenMap& map, Point at, double size) {
    const Point middle = map.toScreen(at);
    return ((map.toScreen(at + Point(size / 2, 0)) - middle).length() +
            (map.toScreen(at + Point(0, size / 2)) - middle).length()) /
           2;
}

std::optional<Subject>& subjectOf(Clip& clip, Side side) {
    return side == Side::Outgoing ? clip.subjectOut : clip.subjectIn;
}

std::optional<SubjectSeen> seenBy(const LayerPlan& layer, const Subject& subject, Size frame) {
    const ScreenMap map = mapAt(layer, double(layer.frame), frame);
    if (!map.isVisible()) return std::nullopt;
    const Point at(subject.at.x * layer.source.width, subject.at.y * layer.source.height);
    SubjectSeen seen{map.toScreen(at), radiusOf(map, at, subject.size * layer.source.width)};
    if (!std::isfinite(seen.at.length()) || !std::isfinite(seen.radius)) return std::nullopt;
    return seen;
}

} // namespace

std::optional<SubjectSeen> subjectAt(const Project& project, int cut, Side side) {
    const auto layer = layerAt(project, cut, side);
    if (!layer) return std::nullopt;
    const Clip& clip = project.reel[std::size_t(layer->clip)];
    const auto& subject = side == Side::Outgoing ? clip.subjectOut : clip.subjectIn;
    return subject ? seenBy(*layer, *subject, project.settings.size) : std::nullopt;
}

Project withSubject(const Project& project, int cut, Side side, SubjectSeen seen) {
    const auto layer = layerAt(project, cut, side);
    if (!layer) return project;
    const ScreenMap map = mapAt(*layer, double(layer->frame), project.settings.size);
    if (!map.isVisible()) return project;
    const Point at = map.toSource(seen.at);
    const double one = radiusOf(map, at, 2); // of a pixel of the source
    if (!std::isfinite(at.length()) || !(one > 0)) return project;
    Project out = project;
    Subject subject;
    subject.at = {at.x / layer->source.width, at.y / layer->source.height};
    subject.size = std::clamp(2 * seen.radius / one / layer->source.width, 0.001, 100.0);
    subjectOf(out.reel[std::size_t(layer->clip)], side) = subject;
    return out;
}

Expected<Project> withSubjectsLinedUp(const Project& project, int cut) {
    const auto out = subjectAt(project, cut, Side::Outgoing), in = subjectAt(project, cut, Side::Incoming);
    if (!out || !in)
        return fail(ErrorCode::BadInput, !out ? "the outgoing shot has no subject" : "the incoming shot has no subject",
                    {}, "put its mark on what the eye should stay on");
    Project done = project;
    Clip& clip = done.reel[std::size_t(cut) + 1];
    const Size frame = project.settings.size;
    // Both sides turn about what the eye stays on: where it lies without the moves, so that they leave it there.
    Project rest = project;
    rest.reel[std::size_t(cut) + 1].transition.moves.clear();
    if (const auto still = subjectAt(rest, cut, Side::Outgoing))
        for (Move& move : clip.transition.moves)
            if (moveInfo(move.kind).role == MoveRole::Movement && !moveInfo(move.kind).anchor.empty())
                move.anchor = {still->at.x / frame.width, still->at.y / frame.height};
    const auto target = subjectAt(done, cut, Side::Outgoing);
    if (!target)
        return fail(ErrorCode::BadInput, "the outgoing subject is not seen on the last frame", {}, "set it elsewhere");
    // Scale and place by turns: under matrices the first rounds are exact.
    for (int round = 0; round < 20; ++round) {
        const auto now = subjectAt(done, cut, Side::Incoming);
        if (!now || now->radius <= 0) break;
        clip.placement.scale = std::clamp(clip.placement.scale * target->radius / now->radius, 0.001, 1000.0);
        const auto scaled = subjectAt(done, cut, Side::Incoming);
        if (!scaled) break;
        // How the place moves it there, by differences.
        constexpr double step = 1e-4;
        const Point position = clip.placement.position;
        const auto with = [&](double x, double y) {
            clip.placement.position = position + Point(x, y);
            const auto seen = subjectAt(done, cut, Side::Incoming);
            clip.placement.position = position;
            return seen ? seen->at : scaled->at;
        };
        const Point off = target->at - scaled->at, dx = (with(step, 0) - scaled->at) / step,
                    dy = (with(0, step) - scaled->at) / step;
        const double det = dx.x * dy.y - dx.y * dy.x;
        if (!(std::abs(det) > 1e-9)) break;
        clip.placement.position =
            position + Point((off.x * dy.y - off.y * dy.x) / det, (dx.x * off.y - dx.y * off.x) / det);
        const auto there = subjectAt(done, cut, Side::Incoming);
        if (there && (there->at - target->at).length() < 1e-3 && std::abs(there->radius / target->radius - 1) < 1e-6)
            return done;
    }
    return fail(ErrorCode::BadInput, "the incoming shot cannot be laid on the outgoing one", {},
                "take the moves at the cut off for a moment, or set the marks elsewhere");
}

} // namespace virga
