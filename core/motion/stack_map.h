#pragma once
// The matrix of a move and of a stack at a time, and how fast that is on screen. Times are frames from the cut; each
// side keeps to its own curves. Frame sizes in pixels; results in pixels of that frame.
#include <vector>

#include "core/motion/move.h"

namespace virga {

/// T(slide) . T(a) . R(angle) . S(zoom) . T(-a) for the part the move has; a disabled or unknown move is the identity.
/// Whether another is soloed is not asked.
Matrix moveMatrix(const Move& move, Side side, double time, Size frame);

/// All moves of a stack that are on, the first entry innermost.
Matrix stackMatrix(const Stack& stack, Side side, double time, Size frame);

/// The product of the stack's fades, 0 to 1.
double stackOpacity(const Stack& stack, Side side, double time);

/// On-screen speed at frame n: of the picture points that lie under the frame's corners, edge middles and centre at
/// time n, the farthest that one travels from n - 1/2 to n + 1/2, in % of the frame width per frame. Taking the points
/// where they are on screen makes two even zooms of one rate equally fast, whatever their size.
double frameSpeed(const Stack& stack, Side side, double frame, Size size);

/// The same at an instant, by a one-sided difference that stays on its side of the cut: before time t for the outgoing
/// side, after it for the incoming one. The limit of frameSpeed for short frames.
double instantSpeed(const Stack& stack, Side side, double time, Size size);

} // namespace virga
