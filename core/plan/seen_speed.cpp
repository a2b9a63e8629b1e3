#include "core/plan/seen_speed.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/project/clip_time.h"

namespace virga {

Velocities velocitiesAt(const LayerPlan& layer, double time, Size frame, std::span<const Nudge> begin,
                        std::span<const Nudge> end) {
    Velocities velocities;
    velocities.fill(Point(std::numeric_limits<double>::quiet_NaN()));
    const ScreenMap middle = movementAt(layer, time, time, frame);
    const ScreenMap from = movementAt(layer, time - 0.5, time, frame, begin),
                    to = movementAt(layer, time + 0.5, time, frame, end);
    if (!middle.isVisible() || !from.isVisible() || !to.isVisible()) return velocities;
    const auto probes = probePointsOf(frame);
    for (std::size_t i = 0; i < probes.size(); ++i) {
        const Point source = middle.toSource(probes[i]);
        velocities[i] = (to.toScreen(source) - from.toScreen(source)) / frame.width;
    }
    return velocities;
}

OwnSteps ownStepsAt(const Project& project, const Clip& clip, double time, const ShotMovements& shots) {
    OwnSteps own;
    const auto found = shots.find(clip.mediaId);
    if (found == shots.end() || !found->second || found->second->isEmpty()) return own;
    const ShotMovement& shot = *found->second;
    const ClipTime clock(project, clip);
    if (!clock.runs()) return own;
    const double from = clock.secondsAt(time - 0.5), at = clock.secondsAt(time), to = clock.secondsAt(time + 0.5);
    // A subject does not show it on every picture: those around tell, too.
    constexpr double around = 0.25, some = 0.3; // seconds; of their steps
    own.ofSubject = shot.subjectShare(std::min(from, to) - around, std::max(from, to) + around) > some;
    own.known = shot.knownShare(from, to) > 0.5 && !own.ofSubject;
    if (own.ofSubject) return own;
    const double w = shot.size.width, h = shot.size.height;
    const Matrix widths =
        then(translation((clip.crop.left - 0.5) * w, (clip.crop.top - 0.5) * h), scaling(1 / w, 1 / w));
    const auto inPixels = [&](const Matrix& m) { return then(then(widths, m), *inverseOf(widths)); };
    own.before = inPixels(shot.between(at, from));
    own.after = inPixels(shot.between(at, to));
    return own;
}

namespace {

Velocities velocitiesBetween(const ScreenMap& from, const ScreenMap& middle, const ScreenMap& to, Size frame,
                             const OwnSteps& own) {
    Velocities velocities;
    velocities.fill(Point(std::numeric_limits<double>::quiet_NaN()));
    if (!middle.isVisible() || !from.isVisible() || !to.isVisible()) return velocities;
    const auto probes = probePointsOf(frame);
    for (std::size_t i = 0; i < probes.size(); ++i) {
        const Point source = middle.toSource(probes[i]);
        Point before, after;
        own.before.multVecMatrix(source, before);
        own.after.multVecMatrix(source, after);
        velocities[i] = (to.toScreen(after) - from.toScreen(before)) / frame.width;
    }
    return velocities;
}

} // namespace

double ownSpeedOf(const Project& project, const Clip& clip, const OwnSteps& own) {
    const Media* media = findMedia(project, clip.mediaId);
    if (!media || !media->hasPicture()) return 0;
    LayerPlan layer;
    layer.source = croppedSize(media->size, clip.crop);
    layer.pixelAspect = media->pixelAspect;
    layer.fit = clip.fit;
    layer.placement = clip.placement;
    return speedOf(ownVelocitiesAt(layer, 0, project.settings.size, own));
}

Velocities velocitiesAt(const LayerPlan& layer, double time, Size frame, const OwnSteps& own) {
    return velocitiesBetween(mapAt(layer, time - 0.5, time, frame), mapAt(layer, time, time, frame),
                             mapAt(layer, time + 0.5, time, frame), frame, own);
}

Velocities ownVelocitiesAt(const LayerPlan& layer, double time, Size frame, const OwnSteps& own) {
    const ScreenMap map = mapAt(layer, time, time, frame);
    return velocitiesBetween(map, map, map, frame, own);
}

Point meanOf(const Velocities& velocities) {
    Point sum(0, 0);
    int count = 0;
    for (const Point& v : velocities)
        if (std::isfinite(v.length())) sum += v, ++count;
    return count > 0 ? sum / count : sum;
}

double speedOf(const Velocities& velocities) {
    double most = 0;
    for (const Point& v : velocities)
        if (const double length = v.length(); std::isfinite(length)) most = std::max(most, length);
    return 100 * most;
}

double seenSpeed(const LayerPlan& layer, double time, Size frame) {
    return speedOf(velocitiesAt(layer, time, frame));
}

double differenceOf(const Velocities& a, const Velocities& b) {
    double most = 0;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (const double length = (a[i] - b[i]).length(); std::isfinite(length)) most = std::max(most, length);
    return 100 * most;
}

OwnMovement ownMovementOf(const LayerPlan& layer, Size frame) {
    const Point v = velocitiesAt(layer, double(layer.frame), frame).back();
    if (!std::isfinite(v.length())) return {{0, 0}, frame.aspect()};
    return {{v.x, v.y * frame.aspect()}, frame.aspect()};
}

SeenSpeeds::SeenSpeeds(const Project& project, StackPlace place, const ShotMovements* shots)
    : m_project(project), m_place(place), m_shots(shots), m_index(reelIndex(project)) {}

const LayerPlan* SeenSpeeds::layerFor(Side side, double reelTime) const {
    auto frame = std::int64_t(std::floor(reelTime + 0.5));
    if (!stackAt(m_project, m_place)) return nullptr;
    // A cut's sides belong to their own clips, whichever frame is asked for.
    const std::int64_t origin = originOf(m_project, m_place);
    if (m_place.kind == StackPlace::Cut)
        frame = side == Side::Outgoing ? std::min(frame, origin - 1) : std::max(frame, origin);
    if (m_last && m_last->first == frame && m_lastSide == side) return &m_last->second;
    const FramePlan plan = planFrame(m_project, m_index, frame);
    const LayerPlan* layer = nullptr;
    switch (m_place.kind) {
    case StackPlace::Cut:
        layer = layerOfClip(plan, m_place.index + (side == Side::Incoming));
        break;
    case StackPlace::Drift:
        layer = layerOfClip(plan, m_place.index);
        break;
    case StackPlace::Overlay:
        for (const LayerPlan& l : plan.layers)
            if (l.overlay == m_place.index) layer = &l;
        break;
    case StackPlace::Adjustment:
        for (const LayerPlan& l : plan.layers)
            if (l.clip >= 0) layer = &l;
        break;
    }
    if (!layer) return nullptr;
    m_last.emplace(frame, *layer);
    m_lastSide = side;
    return &m_last->second;
}

Velocities SeenSpeeds::velocities(Side side, double time) const {
    const double reelTime = time + double(originOf(m_project, m_place)) + sideOrigin(m_project, m_place, side);
    if (const LayerPlan* layer = layerFor(side, reelTime)) {
        if (!m_shots || layer->clip < 0) return velocitiesAt(*layer, reelTime, m_project.settings.size);
        const auto clip = std::size_t(layer->clip);
        const OwnSteps own =
            ownStepsAt(m_project, m_project.reel[clip], reelTime - double(m_index.starts[clip]), *m_shots);
        return velocitiesAt(*layer, reelTime, m_project.settings.size, own);
    }
    Velocities none;
    none.fill(Point(0, 0));
    return none;
}

double SeenSpeeds::at(Side side, double time) const {
    return speedOf(velocities(side, time));
}

double screenSpeed(const Move& move, int channel, Side side, double frame, Size size) {
    Move alone = move;
    for (int c = 0; c < int(alone.channels.size()); ++c)
        if (c != channel) alone.channels[std::size_t(c)] = {};
    alone.solo = false;
    LayerPlan layer;
    layer.stacks = {{{alone}, side, 0, {}, 25}};
    return seenSpeed(layer, frame, size);
}

} // namespace virga
