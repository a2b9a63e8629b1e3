#include "core/edit/steer.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

#include "core/edit/key_edits.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

const LayerPlan* layerFor(const FramePlan& plan, StackPlace place, Side side) {
    if (place.kind == StackPlace::Cut) return layerOfClip(plan, place.index + (side == Side::Incoming));
    if (place.kind == StackPlace::Drift) return layerOfClip(plan, place.index);
    const LayerPlan* found = nullptr;
    for (const LayerPlan& layer : plan.layers)
        if (place.kind == StackPlace::Overlay ? layer.overlay == place.index : layer.clip >= 0) found = &layer;
    return found;
}

// A clip's own place, scale or angle.
void place(Placement& p, const SteerTarget& target, std::array<double, 2> values) {
    if (target.channels[0] == 2)
        p.scale = std::clamp(values[0], 0.001, 1000.0);
    else if (target.channels[0] == 3)
        p.angle = values[0];
    else
        p.position = {values[0], values[1]};
}

// Where f, which rises or falls around `start`, is 0: the secant method, held to steps that do not run away.
std::optional<double> zeroNear(const std::function<double(double)>& f, double start, double step, double far) {
    double a = start, fa = f(a), b = start + step, fb = f(b);
    for (int i = 0; i < 60; ++i) {
        if (!std::isfinite(fa) || !std::isfinite(fb)) return std::nullopt;
        if (std::abs(fb) < 1e-7) return b;
        if (fb == fa) return std::nullopt;
        const double next = b - std::clamp(fb * (b - a) / (fb - fa), -far, far);
        a = b, fa = fb, b = next, fb = f(b);
    }
    return std::abs(fb) < 1e-3 ? std::optional(b) : std::nullopt;
}

} // namespace

Steering::Steering(const Project& project, StackPlace place, Side side, std::int64_t frame, int preferred)
    : m_project(project), m_place(place), m_side(side) {
    const Stack* stack = stackAt(project, place);
    if (!stack) return;
    m_time = double(frame - originOf(project, place)) - sideOrigin(project, place, side);
    const FramePlan plan = planFrame(project, frame);
    const LayerPlan* layer = layerFor(plan, place, side);
    if (!layer) return;
    m_layer = *layer;
    m_clip = layer->clip >= 0 ? layer->clip : layer->overlay;
    m_map = mapAt(*m_layer, double(frame), project.settings.size);
    const auto see = [&](int m) {
        const Move& move = (*stack)[std::size_t(m)];
        const MoveInfo& info = moveInfo(move.kind);
        if (!isOn(*stack, move) || info.pattern) return;
        if (!info.anchor.empty()) m_anchored = m;
        if (info.role != MoveRole::Movement) return;
        const auto& channels = info.channels;
        if (channels.front().quantity == Quantity::ShareOfWidth) m_slide = SteerTarget{m, {0, 1}};
        if (channels.front().quantity == Quantity::Factor || channels.front().space == Space::Depth)
            m_zoom = SteerTarget{m, {0, -1}};
        if (channels.front().quantity == Quantity::Angle)
            (channels.size() == 1 ? m_spin : m_tilt) = SteerTarget{m, {0, channels.size() == 1 ? -1 : 1}};
    };
    for (int m = 0; m < int(stack->size()); ++m) see(m);
    if (preferred >= 0 && preferred < int(stack->size())) see(preferred);
    if (place.kind != StackPlace::Adjustment) {
        if (!m_slide) m_slide = SteerTarget{-1, {0, 1}};
        if (!m_zoom) m_zoom = SteerTarget{-1, {2, -1}};
        if (!m_spin) m_spin = SteerTarget{-1, {3, -1}};
    }
}

const Move* Steering::moveAt(int move) const {
    const Stack* stack = stackAt(m_project, m_place);
    return stack && move >= 0 && move < int(stack->size()) ? &(*stack)[std::size_t(move)] : nullptr;
}

TimedStack* Steering::stackIn(LayerPlan& layer) const {
    for (TimedStack& timed : layer.stacks)
        if (timed.place == m_place && timed.side == m_side) return &timed;
    return nullptr;
}

std::array<Point, 4> Steering::corners() const {
    std::array<Point, 4> seen = cornersOf(m_layer->source);
    for (Point& p : seen) p = m_map.toScreen(p);
    return seen;
}

std::array<double, 2> Steering::valuesOf(const SteerTarget& target) const {
    if (target.move < 0) {
        const Placement& p = m_layer->placement;
        return target.channels[0] == 2   ? std::array{p.scale, 0.0}
               : target.channels[0] == 3 ? std::array{p.angle, 0.0}
                                         : std::array{p.position.x, p.position.y};
    }
    std::array<double, 2> values{};
    const Move* move = moveAt(target.move);
    for (std::size_t i = 0; i < 2 && move; ++i)
        if (const int c = target.channels[i]; c >= 0)
            values[i] = evaluate(move->channels[std::size_t(c)].side(m_side), m_time,
                                 moveInfo(move->kind).channels[std::size_t(c)].neutral);
    return values;
}

ScreenMap Steering::mapWith(const SteerTarget& target, std::array<double, 2> values) const {
    LayerPlan layer = *m_layer;
    if (target.move < 0) {
        place(layer.placement, target, values);
    } else if (TimedStack* timed = stackIn(layer)) {
        Move& move = timed->stack[std::size_t(target.move)];
        for (std::size_t i = 0; i < 2; ++i)
            if (const int c = target.channels[i]; c >= 0)
                move.channels[std::size_t(c)].side(m_side).keys = {Key{0, values[i]}};
    }
    return mapAt(layer, double(layer.frame), m_project.settings.size);
}

ScreenMap Steering::outside(int move) const {
    LayerPlan outer = *m_layer;
    bool found = move < 0;
    for (TimedStack& timed : outer.stacks) {
        if (found) break;
        found = timed.place == m_place && timed.side == m_side;
        const auto last = found ? timed.stack.begin() + move + 1 : timed.stack.end();
        timed.stack.erase(timed.stack.begin(), last);
    }
    return movementAt(outer, double(outer.frame), m_project.settings.size);
}

Point Steering::anchorOf(int move) const {
    const Size size = m_project.settings.size;
    const Move* m = moveAt(move);
    const Point own = m ? m->anchor : m_layer->placement.anchor;
    return outside(move).toScreen({own.x * size.width, own.y * size.height});
}

Point Steering::anchorAt(int move, Point screen) const {
    const Size size = m_project.settings.size;
    const ScreenMap map = outside(move);
    const Point at = map.isVisible() ? map.toSource(screen) : screen;
    return {at.x / size.width, at.y / size.height};
}

std::optional<std::array<double, 2>> Steering::slideTo(Point source, Point screen) const {
    if (!m_slide) return std::nullopt;
    // Newton's method for two unknowns, with differences for derivatives: exact at once under matrices.
    std::array<double, 2> v = valuesOf(*m_slide);
    constexpr double step = 1e-4;
    for (int round = 0; round < 12; ++round) {
        const Point at = mapWith(*m_slide, v).toScreen(source), off = screen - at;
        if (!std::isfinite(at.length())) return std::nullopt;
        if (off.length() < 1e-6) return v;
        const Point dx = (mapWith(*m_slide, {v[0] + step, v[1]}).toScreen(source) - at) / step,
                    dy = (mapWith(*m_slide, {v[0], v[1] + step}).toScreen(source) - at) / step;
        const double det = dx.x * dy.y - dx.y * dy.x;
        if (!std::isfinite(det) || std::abs(det) < 1e-9) return std::nullopt;
        v[0] += (off.x * dy.y - off.y * dy.x) / det;
        v[1] += (dx.x * off.y - dx.y * off.x) / det;
    }
    return v;
}

std::optional<double> Steering::zoomTo(Point source, Point screen) const {
    if (!m_zoom) return std::nullopt;
    const Point anchor = anchorOf(m_zoom->move);
    const double wanted = (screen - anchor).length();
    const Space space = m_zoom->move < 0 ? Space::Log2 : moveInfo(moveAt(m_zoom->move)->kind).channels.front().space;
    const auto distance = [&](double v) {
        return (mapWith(*m_zoom, {fromSpace(v, space), 0}).toScreen(source) - anchor).length() / wanted - 1;
    };
    if (wanted < 1) return std::nullopt;
    const auto v = zeroNear(distance, toSpace(valuesOf(*m_zoom)[0], space), 1e-3, 0.5);
    return v ? std::optional(fromSpace(*v, space)) : std::nullopt;
}

std::optional<double> Steering::spinTo(Point source, Point screen) const {
    if (!m_spin) return std::nullopt;
    const Point anchor = anchorOf(m_spin->move), to = screen - anchor;
    const double now = valuesOf(*m_spin)[0];
    if (to.length() < 1) return std::nullopt;
    const auto off = [&](double degrees) {
        const Point at = mapWith(*m_spin, {degrees, 0}).toScreen(source) - anchor;
        return std::atan2(at.x * to.y - at.y * to.x, at.dot(to)) * 180 / std::numbers::pi;
    };
    // The way that is shorter from here.
    return zeroNear(off, now + off(now) * 0.9, 1e-2, 30);
}

std::optional<double> Steering::tiltTo(int axis, Point source, Point screen) const {
    if (!m_tilt) return std::nullopt;
    const std::array<double, 2> now = valuesOf(*m_tilt);
    const Point middle = anchorOf(m_tilt->move);
    const Point way = m_map.toScreen(source) - middle;
    if (way.length() < 1) return std::nullopt;
    const double wanted = (screen - middle).dot(way) / way.length();
    const auto off = [&](double degrees) {
        std::array<double, 2> v = now;
        v[std::size_t(axis)] = degrees;
        return (mapWith(*m_tilt, v).toScreen(source) - middle).dot(way) / way.length() - wanted;
    };
    // From a start that is not flat: there the distance has no slope.
    const double at = now[std::size_t(axis)], from = std::abs(at) < 3 ? (at < 0 ? -6.0 : 6.0) : at;
    const auto found = zeroNear(off, from, 0.05, 10);
    return found && std::abs(*found) <= 89 ? found : std::nullopt;
}

Project Steering::with(const SteerTarget& target, std::array<double, 2> values) const {
    if (target.move < 0) {
        Project out = m_project;
        const bool overlay = m_place.kind == StackPlace::Overlay;
        Placement& p =
            overlay ? out.overlays[std::size_t(m_clip)].clip.placement : out.reel[std::size_t(m_clip)].placement;
        place(p, target, values);
        return out;
    }
    Project out = m_project;
    for (std::size_t i = 0; i < 2; ++i)
        if (target.channels[i] >= 0)
            out = withValueAt(out, {m_place, target.move, target.channels[i], m_side}, m_time, values[i]);
    return out;
}

std::vector<Steering::PathPoint> Steering::pathOf(const Project& project, StackPlace place) {
    std::vector<PathPoint> path;
    const Stack* stack = stackAt(project, place);
    if (!stack) return path;
    const Size size = project.settings.size;
    const ReelIndex index = reelIndex(project);
    const std::int64_t origin = originOf(project, place);
    constexpr std::int64_t most = 400;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        if (!hasSide(place, side)) continue;
        double first = 1e9, last = -1e9;
        for (const Move& move : *stack) {
            if (moveInfo(move.kind).role != MoveRole::Movement || !isOn(*stack, move)) continue;
            for (const Channel& channel : move.channels)
                if (const auto& keys = channel.side(side).keys; keys.size() > 1)
                    first = std::min(first, keys.front().time), last = std::max(last, keys.back().time);
        }
        if (first > last) continue;
        const SideSpan span = sideSpan(project, place, side);
        const double own = sideOrigin(project, place, side);
        const auto from = std::int64_t(std::ceil(std::max(first, span.from))),
                   to = std::min(std::int64_t(std::floor(last)), std::int64_t(std::ceil(span.to)) - 1);
        for (std::int64_t n = from; n <= to && n - from < most; ++n) {
            const std::int64_t frame = origin + std::int64_t(own) + n;
            const FramePlan plan = planFrame(project, index, frame);
            const LayerPlan* layer = layerFor(plan, place, side);
            if (!layer) continue;
            const Point at = movementAt(*layer, double(frame), size).toScreen({size.width / 2.0, size.height / 2.0});
            if (std::isfinite(at.length())) path.push_back({frame, side, at});
        }
    }
    return path;
}

} // namespace virga
