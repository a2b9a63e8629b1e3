#pragma once
// What one frame around a cut measures: how fast it moves, and how much of it the source's own frame leaves uncovered.
#include "core/plan/plan.h"

namespace virga {

struct FrameFacts {
    std::int64_t frame = 0; // from the cut
    Side side = Side::Outgoing;
    double speed = 0;     // on screen, % of the frame width per frame
    double blur = 0;      // longest path while the shutter is open, % of the frame width
    double uncovered = 0; // the largest share, 0 to 1, over the shutter interval
    double bare = 0;      // the same of what not even a copy fills
    EdgeFill edges = EdgeFill::Mirror;
};

/// The facts of a reel frame, with its number counted from `cutAt`.
FrameFacts factsOf(const Project& project, std::int64_t reelFrame, std::int64_t cutAt);
/// The same, for who asks for many frames. REQUIRES: the project's own index.
FrameFacts factsOf(const Project& project, const ReelIndex& index, std::int64_t reelFrame, std::int64_t cutAt);

/// The span of frames that a cut's moves cover, from the cut: [first, last], clipped to the two clips; at least -1 to
/// 0.
struct FrameSpan {
    std::int64_t first = -1, last = 0;
};
FrameSpan movingSpan(const Project& project, int cut);

} // namespace virga
