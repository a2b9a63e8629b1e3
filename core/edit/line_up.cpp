#include "core/edit/line_up.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace virga {
namespace {

std::optional<LayerPlan> layerAt(const Project& project, int clip, std::int64_t frame) {
    if (!hasClip(project, clip)) return std::nullopt;
    const FramePlan plan = planFrame(project, frame);
    const LayerPlan* layer = layerOfClip(plan, clip);
    if (!layer || layer->source.isEmpty()) return std::nullopt;
    return *layer;
}

// The clip beside a cut, and its frame there.
std::optional<std::pair<int, std::int64_t>> faceAt(const Project& project, int cut, Side side) {
    if (!hasCut(project, cut)) return std::nullopt;
    const bool in = side == Side::Incoming;
    return std::pair(cut + in, cutFrame(project, cut) - (in ? 0 : 1));
}

// The points to the right of a subject and below it tell how large it is seen, turned or not.
double radiusOf(const ScreenMap& map, Point at, double size) {
    const Point middle = map.toScreen(at);
    return ((map.toScreen(at + Point(size / 2, 0)) - middle).length() +
            (map.toScreen(at + Point(0, size / 2)) - middle).length()) /
           2;
}

double degrees(Point way) {
    return std::atan2(way.y, way.x) * 180 / std::numbers::pi;
}
Point wayOf(double angle) {
    return {std::cos(angle * std::numbers::pi / 180), std::sin(angle * std::numbers::pi / 180)};
}

std::optional<Subject>& subjectOf(Clip& clip, Side side) {
    return side == Side::Outgoing ? clip.subjectOut : clip.subjectIn;
}

std::optional<SubjectSeen> seenBy(const LayerPlan& layer, const Subject& subject, Size frame) {
    const ScreenMap map = mapAt(layer, double(layer.frame), frame);
    if (!map.isVisible()) return std::nullopt;
    const SubjectSpot spot = spotAt(subject, layer.sourceTime);
    const Point at(spot.at.x * layer.source.width, spot.at.y * layer.source.height);
    SubjectSeen seen{map.toScreen(at), radiusOf(map, at, spot.size * layer.source.width), 0};
    seen.angle = degrees(map.toScreen(at + wayOf(spot.angle)) - seen.at);
    if (!std::isfinite(seen.at.length()) || !std::isfinite(seen.radius) || !std::isfinite(seen.angle))
        return std::nullopt;
    return seen;
}

} // namespace

std::optional<SubjectSeen> subjectAt(const Project& project, int clip, Side side, std::int64_t frame) {
    const auto layer = layerAt(project, clip, frame);
    if (!layer) return std::nullopt;
    const Clip& c = project.reel[std::size_t(clip)];
    const auto& subject = side == Side::Outgoing ? c.subjectOut : c.subjectIn;
    return subject ? seenBy(*layer, *subject, project.settings.size) : std::nullopt;
}

std::optional<SubjectSeen> subjectAt(const Project& project, int cut, Side side) {
    const auto face = faceAt(project, cut, side);
    return face ? subjectAt(project, face->first, side, face->second) : std::nullopt;
}

Project withSubject(const Project& project, int clip, Side side, std::int64_t frame, const SubjectSeen& seen) {
    const auto layer = layerAt(project, clip, frame);
    if (!layer) return project;
    const ScreenMap map = mapAt(*layer, double(layer->frame), project.settings.size);
    if (!map.isVisible()) return project;
    const Point at = map.toSource(seen.at);
    const double one = radiusOf(map, at, 2); // of a pixel of the source
    const double angle = degrees(map.toSource(seen.at + wayOf(seen.angle)) - at);
    if (!std::isfinite(at.length()) || !(one > 0) || !std::isfinite(angle)) return project;
    SubjectSpot spot{layer->sourceTime, {at.x / layer->source.width, at.y / layer->source.height}};
    spot.size = std::clamp(2 * seen.radius / one / layer->source.width, 0.001, 100.0);
    spot.angle = angle;
    spot.byHand = true;
    Project out = project;
    auto& subject = subjectOf(out.reel[std::size_t(clip)], side);
    if (!subject || subject->path.empty()) {
        subject = Subject{spot.at, spot.size, spot.angle, {}};
        return out;
    }
    auto& path = subject->path;
    const auto place = std::lower_bound(path.begin(), path.end(), spot.time,
                                        [](const SubjectSpot& s, Rational t) { return s.time < t; });
    if (place != path.end() && place->time == spot.time)
        *place = spot;
    else
        path.insert(place, spot);
    return out;
}

Project withSubject(const Project& project, int cut, Side side, const SubjectSeen& seen) {
    const auto face = faceAt(project, cut, side);
    return face ? withSubject(project, face->first, side, face->second, seen) : project;
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
    // Scale, angle and place by turns: under matrices the first rounds are exact.
    for (int round = 0; round < 20; ++round) {
        const auto now = subjectAt(done, cut, Side::Incoming);
        if (!now || now->radius <= 0) break;
        clip.placement.scale = std::clamp(clip.placement.scale * target->radius / now->radius, 0.001, 1000.0);
        clip.placement.angle = std::remainder(clip.placement.angle + target->angle - now->angle, 360);
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
        if (there && (there->at - target->at).length() < 1e-3 && std::abs(there->radius / target->radius - 1) < 1e-6 &&
            std::abs(std::remainder(there->angle - target->angle, 360)) < 1e-6)
            return done;
    }
    return fail(ErrorCode::BadInput, "the incoming shot cannot be laid on the outgoing one", {},
                "take the moves at the cut off for a moment, or set the marks elsewhere");
}

} // namespace virga
