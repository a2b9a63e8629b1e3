#pragma once
// How much of a frame is plainly seen to be there twice: once as it was shot, once as a copy that fills the edges.
#include "core/plan/plan.h"

namespace virga {

/// The share of the output, 0 to 1, on which something is seen whose copy across a visible edge of the source's frame
/// is on screen as well. It counts the less the longer its motion blur is, by exp(-blur / fading), both in % of the
/// output's width, and the less opaque the shot is. Of an edge that is held, what is drawn out of it counts by itself.
/// 0 where nothing is copied. What makes mirror images stand out is a visible axis with likeness on both sides (Loy and
/// Eklundh, "Detecting Symmetry and Symmetric Clusters of Features", ECCV 2006); a frame that shows a copy alone has
/// none.
double shareSeenTwice(const LayerPlan& layer, double fading, Size output);

} // namespace virga
