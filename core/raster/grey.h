#pragma once
// A source's picture as measuring sees it: grey, in 8-bit code values, reduced. Plain data; threads may share const
// ones.
#include <cstdint>
#include <vector>

#include "core/raster/image.h"

namespace virga {

struct Grey {
    Size size;                        // of this picture
    Size source;                      // of the one that it was made from
    std::vector<std::uint8_t> pixels; // row by row
    bool isEmpty() const { return pixels.empty(); }
};

/// At most `longest` pixels on its longer side: the mip level that comes nearest below, so that no detail aliases.
Grey greyOf(const Image<Linear16>& picture, int longest = 960);
/// The same of luma in code values, where `black` and `white` are those of the range.
Grey greyOf(ImageView<const std::uint8_t> luma, int black, int white, int longest = 960);

} // namespace virga
