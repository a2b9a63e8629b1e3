#pragma once
// What lies outside the source's frame.

namespace virga {

enum class EdgeFill {
    Empty,  // transparent black, anti-aliased at the border
    Hold,   // the border pixel goes on
    Repeat, // the frame again, period n
    Mirror, // the frame turned over, half-sample symmetric, period 2n
};

/// Repeated or mirrored frames may be limited to so many on each side; beyond them nothing is. 0 is without a limit.
struct Edges {
    EdgeFill fill = EdgeFill::Mirror;
    int copies = 0;
    Edges() = default;
    Edges(EdgeFill edgeFill, int copiesAtMost = 0) : fill(edgeFill), copies(copiesAtMost) {} // NOLINT: meant to convert
    bool isPeriodic() const { return fill == EdgeFill::Repeat || fill == EdgeFill::Mirror; }
    bool operator==(const Edges&) const = default;
};

} // namespace virga
