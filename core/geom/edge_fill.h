#pragma once
// What lies outside the source's frame.

namespace virga {

enum class EdgeFill {
    Empty,  // transparent black, anti-aliased at the border
    Hold,   // the border pixel goes on
    Repeat, // the frame again, period n
    Mirror, // the frame turned over, half-sample symmetric, period 2n
};

} // namespace virga
