#pragma once
// What is on screen at a frame: the hinge between the project and everything that draws or measures it. A pure function
// of the project and the frame; nothing here reads a file. Times are reel frames unless said otherwise.
#include <cstdint>
#include <vector>

#include "core/project/project.h"

namespace virga {

/// A stack in force, with the reel time that its key times are counted from.
struct TimedStack {
    Stack stack;
    Side side = Side::Incoming;
    double origin = 0;
    bool operator==(const TimedStack&) const = default;
};

/// One clip on screen.
struct LayerPlan {
    int clip = -1;
    std::string mediaId;
    Rational sourceTime; // seconds into the media
    Size source;         // the media's pixels, upright
    Rational pixelAspect = 1;
    Fit fit = Fit::Fill;
    EdgeFill edges = EdgeFill::Mirror;
    double opacity = 1;
    OpenInterval shutter;
    int samples = 0;                // per frame; 0 is as many as the movement needs
    std::vector<TimedStack> stacks; // drift, then the incoming cut's moves, then the outgoing cut's
    bool operator==(const LayerPlan&) const = default;
};

struct FramePlan {
    std::int64_t frame = 0;
    std::vector<LayerPlan> layers; // lowest first; empty outside the reel
    bool operator==(const FramePlan&) const = default;
};

FramePlan planFrame(const Project& project, std::int64_t frame);

/// The source's pixels to the output's at a time: fit first, then the stacks in their order.
ScreenMap mapAt(const LayerPlan& layer, double time, Size output);

/// The stacks alone, without the fit, in output pixels: how the frame as a whole moves.
Matrix movementAt(const LayerPlan& layer, double time, Size output);

/// The matrix of a fit: source pixels (with their aspect) into the output, centred.
Matrix fitMatrix(Fit fit, Size source, Rational pixelAspect, Size output);

/// A number that differs wherever two plans would look different; for caches.
std::uint64_t hashOf(const FramePlan& plan);

} // namespace virga
