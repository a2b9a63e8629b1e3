#pragma once
// The one measure of speed: how fast the picture goes as it is seen. Seen speed at a time is the farthest that any of
// the picture points which then lie under the frame's corners, edge middles and centre travels from half a frame before
// to half a frame after, under everything that moves the layer but its fit, in % of the frame's width per frame; curves
// run on for that frame as they do for its exposure. Ladder, lanes, Flow and matching show this number. A momentary
// speed that no frame shows counts for nothing.
#include <array>
#include <optional>

#include "core/plan/plan.h"
#include "core/plan/shot_movement.h"

namespace virga {

/// Travel of the points under the nine probe points (see probePointsOf) over a frame, in frame widths; not a number
/// where a point is not on the screen all the while.
using Velocities = std::array<Point, 9>;

/// At a time on the reel, which need not be a whole frame. The nudges are added at the frame's begin and end.
Velocities velocitiesAt(const LayerPlan& layer, double time, Size frame, std::span<const Nudge> begin = {},
                        std::span<const Nudge> end = {});

/// What a shot's own pictures do around a moment, in pixels of its source after cropping: to half a frame before it and
/// after it.
struct OwnSteps {
    Matrix before, after;
    bool known = false;     // else both are no movement
    bool ofSubject = false; // it moves, and perhaps that is a subject and not the camera: not known, therefore
};
/// Of a clip of the project at a time counted from its first frame.
OwnSteps ownStepsAt(const Project& project, const Clip& clip, double time, const ShotMovements& shots);
/// How fast that is seen where nothing but its fit and place lays the clip on the frame, in % of the width per frame.
double ownSpeedOf(const Project& project, const Clip& clip, const OwnSteps& own);
/// The same with what the shot does by itself; it alone, with the moves held at that time.
Velocities velocitiesAt(const LayerPlan& layer, double time, Size frame, const OwnSteps& own);
Velocities ownVelocitiesAt(const LayerPlan& layer, double time, Size frame, const OwnSteps& own);

/// The mean of the velocities; points that are not there left out.
Point meanOf(const Velocities& velocities);

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
    /// With `shots`, what clips of the reel do by themselves counts too.
    SeenSpeeds(const Project& project, StackPlace place, const ShotMovements* shots = nullptr);
    /// At a time of a side, counted as its keys are. 0 where nothing is on screen.
    double at(Side side, double time) const;
    /// The same; not a number for points that are not there.
    Velocities velocities(Side side, double time) const;

private:
    const LayerPlan* layerFor(Side side, double reelTime) const;
    const Project& m_project;
    StackPlace m_place;
    const ShotMovements* m_shots;
    ReelIndex m_index;
    mutable std::optional<std::pair<std::int64_t, LayerPlan>> m_last;
    mutable Side m_lastSide = Side::Outgoing;
};

/// How fast a channel alone moves the picture over a frame of a side, counted from the cut: % of the frame width.
double screenSpeed(const Move& move, int channel, Side side, double frame, Size size);

} // namespace virga
