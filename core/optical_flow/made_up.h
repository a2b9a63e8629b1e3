#pragma once
// Pictures for moments between two that were filmed.
#include <vector>

#include "core/optical_flow/optical_flow_pair.h"
#include "core/raster/image.h"

namespace virga {

/// Both pictures, weighed by time, in linear light. `part` from 0, the first, to 1. REQUIRES: sizes equal.
Image<Linear16> mixed(const Image<Linear16>& first, const Image<Linear16>& second, double part);

/// What the two show at a moment between them: both carried to it along their flow and mixed by time and by trust.
/// Where the flows contradict each other the nearer picture counts; where they do so nearly everywhere (a cut, a flash)
/// it is `mixed`. The same bytes on any number of threads. REQUIRES: sizes equal, the pair's flow.
Image<Linear16> madeUp(const Image<Linear16>& first, const Image<Linear16>& second, const FlowPair& flow, double part);

/// The share of the made-up picture that is to be trusted, in each cell of the grid at a moment, 0 to 1.
std::vector<float> trustAt(const FlowPair& flow, double part);

/// Above this share of untrusted cells pictures are mixed; half of it before, it begins.
inline constexpr double mostUntrusted = 0.6;

/// What is seen at a moment between two pictures, smeared along the flow over `frames` of the way from the one to the
/// other, about that moment: what a shutter open that long would have seen. In linear light.
Image<Linear16> smeared(const Image<Linear16>& picture, const FlowPair& flow, double part, double frames);

} // namespace virga
