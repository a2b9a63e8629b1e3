#pragma once
// What a stack of moves does at a moment: its map, its opacity and its treatments. Times are frames from the stack's
// own origin (the cut, say); each side keeps to its own curves. Frame sizes in pixels; results in pixels of that frame.
#include <vector>

#include "core/motion/move.h"

namespace virga {

/// A time at which a frame is exposed.
struct Moment {
    double time = 0;             // frames from the origin
    double frame = 0;            // the frame's own time: curves run on beyond their keys for its exposure alone
    double framesPerSecond = 25; // shakes go by seconds
    Moment(double at) : time(at), frame(at) {} // NOLINT: a frame's own time is a moment
    Moment(double at, double ofFrame, double rate) : time(at), frame(ofFrame), framesPerSecond(rate) {}
};

/// Every channel of every move; for tests and for matching, which changes some.
using StackValues = std::vector<std::array<double, mostChannels>>;
StackValues valuesAt(const Stack& stack, Side side, const Moment& moment);

/// A map with all moves of a stack that are on over it, the first entry innermost. Unknown moves do nothing.
ScreenMap stackMap(const ScreenMap& beneath, const Stack& stack, Side side, const Moment& moment, Size frame);
/// The same for values of its channels. REQUIRES: as many as the stack has moves.
ScreenMap stackMap(const ScreenMap& beneath, const Stack& stack, const StackValues& values, const Moment& moment,
                   Size frame);

/// The product of the stack's fades, 0 to 1.
double stackOpacity(const Stack& stack, Side side, double time);

/// What the stack's finishing moves that are on do at a frame's own time, in their order; those at rest are left out.
std::vector<Treatment> treatmentsOf(const Stack& stack, Side side, const Moment& moment, const OwnMovement& own = {});

} // namespace virga
