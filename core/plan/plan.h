#pragma once
// What is on screen at a frame: the hinge between the project and everything that draws or measures it. A pure function
// of the project and the frame; nothing here reads a file. Times are reel frames unless said otherwise.
#include <cstdint>
#include <span>
#include <vector>

#include "core/motion/treatment.h"
#include "core/project/stack_place.h"

namespace virga {

/// A stack in force, with the reel time that its key times are counted from.
struct TimedStack {
    Stack stack;
    Side side = Side::Incoming;
    double origin = 0;
    StackPlace place; // where it stands in the project
    double framesPerSecond = 25;
    bool operator==(const TimedStack&) const = default;
};

/// One clip on screen.
struct LayerPlan {
    std::int64_t frame = 0; // of the reel; sourceTime is its own time
    int clip = -1;          // in the reel; -1 for an overlay
    int overlay = -1;       // among the overlays; -1 for a clip of the reel
    std::string mediaId;
    Rational sourceTime; // seconds into the media
    Rational
        sourcePerFrame; // seconds of the media that a whole frame is exposed to; negative: backwards; 0: one moment
    InBetween inBetween = InBetween::Nearest; // where a picture for a moment between two comes from
    double shotBlur = 0;                      // exposed to what moves in the shot itself, in frames of the source
    bool deinterlace = true;                  // as the clip says; true where there is nothing to do
    Size source;                              // the media's pixels, upright, after cropping
    Rational pixelAspect = 1;
    Fit fit = Fit::Fill;
    Crop crop;
    Placement placement;
    Edges edges;
    double opacity = 1;
    OpenInterval shutter;
    int samples = 0;                   // per frame; 0 is as many as the movement needs
    std::vector<TimedStack> stacks;    // drift, then the incoming cut's moves, the outgoing cut's, the adjustments'
    std::vector<Treatment> treatments; // its own finishing, in order, before its opacity
    bool operator==(const LayerPlan&) const = default;
};

/// What an adjustment does to all that lies beneath it: the treated picture in place of the other, by its opacity.
struct TreatPlan {
    std::vector<Treatment> treatments;
    double opacity = 1;
    bool operator==(const TreatPlan&) const = default;
};

/// One step of making a frame, over pixels of linear light: a layer is sampled, finished and laid over what is there,
/// or all that is there is treated. Encoding for a screen or a file is no part of it.
struct Step {
    enum Kind { Lay, Treat } kind = Lay;
    std::size_t index = 0; // in layers or treats
    bool operator==(const Step&) const = default;
};

struct FramePlan {
    std::int64_t frame = 0;
    std::vector<LayerPlan> layers; // lowest first; empty in gaps and outside the reel
    std::vector<TreatPlan> treats;
    Colour background;
    std::vector<Step> steps; // in their order: the reel's layers, the adjustments, the overlays
    bool operator==(const FramePlan&) const = default;
};

FramePlan planFrame(const Project& project, std::int64_t frame);
/// The same, without looking through the whole reel. REQUIRES: the project's own index.
FramePlan planFrame(const Project& project, const ReelIndex& index, std::int64_t frame);

/// The layer of a clip of the reel in a plan, or null.
const LayerPlan* layerOfClip(const FramePlan& plan, int clip);

/// A source's size after cropping, at least one pixel a side.
Size croppedSize(Size source, const Crop& crop);

/// The source's pixels to the output's at a time: fit first, then the stacks in their order.
ScreenMap mapAt(const LayerPlan& layer, double time, Size output);
/// The same while the frame whose own time is `frame` is exposed.
ScreenMap mapAt(const LayerPlan& layer, double time, double frame, Size output);

/// The stacks alone, without the fit, in output pixels: how the frame as a whole moves.
ScreenMap movementAt(const LayerPlan& layer, double time, Size output);
/// The same while the frame whose own time is `frame` is exposed; with `nudges` added to channels of its stacks.
struct Nudge {
    std::size_t stack = 0, move = 0, channel = 0;
    double amount = 0; // in the channel's space
};
ScreenMap movementAt(const LayerPlan& layer, double time, double frame, Size output,
                     std::span<const Nudge> nudges = {});

/// The matrix of a fit: source pixels (with their aspect) into the output, centred.
Matrix fitMatrix(Fit fit, Size source, Rational pixelAspect, Size output);

/// A number that differs wherever two plans would look different; for caches.
std::uint64_t hashOf(const FramePlan& plan);

} // namespace virga
