#pragma once
// What the flow check takes for a mistake: its one table of limits, which a project may set. fields.h says how far each
// may be set, and tells it in words. All but `still` and the step are common practice, with no published source.
namespace virga {

/// Speeds are seen speeds, in % of the frame's width per frame.
struct FlowLimits {
    double still = 0.02;       // slower is standing still
    int stillFrames = 3;       // and so many frames of it are a stretch
    double step = 1.15;        // a larger ratio of the speeds beside the cut is a finding
    double graveStep = 1.6;    // a larger one breaks the illusion
    double turn = 0.35;        // of the faster: a larger difference between the points' velocities changes direction
    double fast = 4;           // from here on a frame can fall away or jump in, and a slower one can be a hitch
    double fall = 0.4;         // of the neighbour's: a slower frame beside a fast one trips
    double copies = 0.1;       // a smaller share of copies is not counted
    double copyBlur = 9;       // motion blur of this length, in % of the width, nearly hides them
    double copiesSeen = 0.85;  // frames' worth of them that may be seen
    double magnified = 1.6;    // screen pixels for one of the source: more is mush
    double magnifiedSpeed = 4; // where it goes faster nobody sees it
    int magnifiedFrames = 3;   // nor for so few frames
    double strobe = 5;         // faster, and open for less than `strobeOpen` of its travel, a frame strobes
    double strobeOpen = 0.3;   // of the frame: 108 degrees
    double tilt = 1.5;         // degrees between two neighbours at rest
    double scale = 1.25;       // ratio of their zooms
    double overshoot = 0.05;   // of its way: what no named shape asks for
    double reached = 0.6;      // of its way: a move whose last key lies past the cut shows at least so much of it
    int beat = 3;              // frames: a cut so near a beat was meant for it
    double little = 0.5;       // a shot that never goes faster has little movement
    double much = 12;          // beside shots that do
    double guessed = 0.25;     // of a made-up picture: a larger share that is not to be trusted shows
    double ramp = 1.5;         // a larger ratio of two shots' own speeds at a cut where one is ramped is a finding
    double racing = 2;         // times the speed it was shot at: only faster shots can strobe by themselves
    double pan = 0.4;          // a shot that moves slower by itself has no direction of its own
    double panShare = 0.25;    // nor has one that moves slower than so much of the moves at its cut
    int foreignFrames = 12;    // of another shot at a clip's end were left there; more are meant
    bool operator==(const FlowLimits&) const = default;
};

} // namespace virga
