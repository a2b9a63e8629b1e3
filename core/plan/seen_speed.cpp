#include "core/plan/seen_speed.h"

#include <algorithm>
#include <cmath>
#include <limits>

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

SeenSpeeds::SeenSpeeds(const Project& project, StackPlace place)
    : m_project(project), m_place(place), m_index(reelIndex(project)) {}

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
    if (const LayerPlan* layer = layerFor(side, reelTime))
        return velocitiesAt(*layer, reelTime, m_project.settings.size);
    Velocities none;
    none.fill(Point(0, 0));
    return none;
}

double SeenSpeeds::at(Side side, double time) const {
    return speedOf(velocities(side, time));
}

} // namespace virga
