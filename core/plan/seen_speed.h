#pragma once
// The one measure of speed: how fast the picture goes as it is seen. Seen speed at a time is the farthest that any of
// the picture points which then lie under the frame's corners, edge middles and centre travels from half a frame before
// to half a frame after, under everything that moves the layer but its fit, in % of the frame's width per frame; curves
// run on for that frame as they do for its exposure. Ladder, lanes, Flow and matching show this number. A momentary
// speed that no frame shows counts for nothing.
#include <array>
#include <optional>

#include "core/plan/plan.h"

namespace virga {

/// Travel of the points under the nine probe points (see probePointsOf) over a frame, in frame widths; not a number
/// where a point is not on the screen all the while.
using Velocities = std::array<Point, 9>;

/// At a time on the reel, which need not be a whole frame. The nudges are added at the frame's begin and end.
Velocities velocitiesAt(const LayerPlan& layer, double time, Size frame, std::span<const Nudge> begin = {},
                        std::span<const Nudge> end = {});

/// The largest of the velocities, in % of the frame's width per frame; points that are not there left out.
double speedOf(const Velocities& velocities);
double seenSpeed(const LayerPlan& layer, double time, Size frame);

/// The largest difference between two of the same points, in % of the frame's width per frame.
double differenceOf(const Velocities& a, const Velocities& b);

/// What the layer does at the frame's centre at its own time.
OwnMovement ownMovementOf(const LayerPlan& layer, Size frame);

/// The seen speeds of what a stack of a project moves: of the clip before a cut and the one after it, of a drift's
/// clip, of an overlay, of the topmost clip under an adjustment. Cheap to ask along a whole lane.
class SeenSpeeds {
public:
    SeenSpeeds(const Project& project, StackPlace place);
    /// At a time of a side, counted as its keys are. 0 where nothing is on screen.
    double at(Side side, double time) const;
    /// The same; not a number for points that are not there.
    Velocities velocities(Side side, double time) const;

private:
    const LayerPlan* layerFor(Side side, double reelTime) const;
    const Project& m_project;
    StackPlace m_place;
    ReelIndex m_index;
    mutable std::optional<std::pair<std::int64_t, LayerPlan>> m_last;
    mutable Side m_lastSide = Side::Outgoing;
};

} // namespace virga
