#pragma once
// Finishing: treatments done to a canvas in linear light. Each declares beforehand how far it sees beyond the frame and
// what memory it needs. Results do not depend on the number of threads.
#include "core/effects/canvas.h"
#include "core/motion/treatment.h"

namespace virga {

struct FilterNeeds {
    Margin margin;            // how far it sees beyond the frame
    std::size_t canvases = 0; // further ones of the same size while it works
};
FilterNeeds needsOf(const Treatment& treatment, Size frame);

/// Does a treatment to a whole canvas; what it sees beyond the margin is mirrored. False for the exposures of a zoom or
/// a spin (ZoomBlur, SpinBlur), which whoever renders samples as it samples layers.
bool finish(const Treatment& treatment, Canvas& canvas);

} // namespace virga
