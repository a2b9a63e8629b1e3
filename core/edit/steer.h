#pragma once
// Steering a movement by the picture: which values put what lies under the pointer where it is dragged to. Solved by
// the whole map, so that it holds beneath any other moves, perspective and lenses. Points are in pixels of the frame.
#include <array>
#include <optional>

#include "core/plan/plan.h"

namespace virga {

/// What a hold on the picture changes: two channels of a move, or one (the second is -1); or, where the move is -1, the
/// clip's own place (channels 0 and 1), its scale (2) or its angle (3).
struct SteerTarget {
    int move = -1;
    std::array<int, 2> channels{-1, -1};
    bool operator==(const SteerTarget&) const = default;
};

class Steering {
public:
    /// What a stack of a project moves, at a reel frame, on one of its sides. Of several moves that would do,
    /// `preferred` is taken, else the outermost.
    Steering(const Project& project, StackPlace place, Side side, std::int64_t frame, int preferred = -1);

    /// False where nothing is on screen.
    bool isThere() const { return m_layer.has_value() && m_map.isVisible() && !m_layer->source.isEmpty(); }
    Side side() const { return m_side; }
    /// The side's own time of the frame.
    double time() const { return m_time; }
    /// The corners of the source's own picture, clockwise from the top left; not numbers where they are not seen.
    std::array<Point, 4> corners() const;
    /// The point of the source that lies under one of the frame.
    Point sourceAt(Point screen) const { return m_map.toSource(screen); }
    Point screenAt(Point source) const { return m_map.toScreen(source); }

    /// What a drag of the picture, of its corners, of its ring, and of its edges changes. A clip without a slide, a
    /// zoom or a spin is placed, scaled and turned itself; without a tilt there is nothing to hold.
    std::optional<SteerTarget> slide() const { return m_slide; }
    std::optional<SteerTarget> zoom() const { return m_zoom; }
    std::optional<SteerTarget> spin() const { return m_spin; }
    std::optional<SteerTarget> tilt() const { return m_tilt; }
    /// The outermost move with an anchor or a centre, -1 where there is none.
    int anchored() const { return m_anchored; }

    /// The values that a target has now, in its channels' own units; a place's position, its scale or angle.
    std::array<double, 2> valuesOf(const SteerTarget& target) const;
    /// Where a move's anchor, or the anchor of the clip's own place, lies in the frame.
    Point anchorOf(int move) const;
    /// The anchor in fractions of the frame that would lie there.
    Point anchorAt(int move, Point screen) const;

    /// Values that put a point of the source to a point of the frame: both of a slide; of a zoom the factor at which it
    /// is as far from the anchor; of a spin the angle at which it lies in that direction, turned on from the present
    /// one; of a tilt's edge the angle at which it lies that far along its own way. Empty where none does.
    std::optional<std::array<double, 2>> slideTo(Point source, Point screen) const;
    std::optional<double> zoomTo(Point source, Point screen) const;
    std::optional<double> spinTo(Point source, Point screen) const;
    std::optional<double> tiltTo(int axis, Point source, Point screen) const;

    /// The project with a target's values there: keys set at the frame, or the clip's own place. A channel that is -1
    /// is left alone.
    Project with(const SteerTarget& target, std::array<double, 2> values) const;

    /// Where the frame's centre travels, a point for each of the frames on which the stack moves it.
    struct PathPoint {
        std::int64_t frame = 0; // of the reel
        Side side = Side::Outgoing;
        Point at{0, 0};
    };
    static std::vector<PathPoint> pathOf(const Project& project, StackPlace place);

private:
    ScreenMap mapWith(const SteerTarget& target, std::array<double, 2> values) const;
    const Move* moveAt(int move) const;
    /// What carries a move's anchor along: all that lies outside it; everything for -1.
    ScreenMap outside(int move) const;
    TimedStack* stackIn(LayerPlan& layer) const;

    const Project& m_project;
    StackPlace m_place;
    Side m_side;
    double m_time = 0;
    std::optional<LayerPlan> m_layer;
    ScreenMap m_map;
    int m_clip = -1; // of the reel, or the overlay
    std::optional<SteerTarget> m_slide, m_zoom, m_spin, m_tilt;
    int m_anchored = -1;
};

} // namespace virga
