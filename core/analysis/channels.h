#pragma once
// Inside core/trace only: the movement of a side as channels of moves.
#include "core/analysis/trace.h"

namespace virga {

/// The point about which both sides zoom and turn, in widths from the centre: the one that explains most of their
/// slides; the centre where none does clearly.
Point turningPoint(const Trace& trace);

/// Fills the channels that a side needs, without curves.
void findChannels(Trace& trace, TracedSide& side);

/// The zoom, turn, slide and tilt of a map about an anchor (in fractions of the frame), as moves of a stack in this
/// order: tilt, zoom, spin, slide. Tilts only where it is a perspective.
struct MapParts {
    double zoom = 1, spin = 0, slideX = 0, slideY = 0, tilt = 0, swivel = 0;
};
MapParts mapParts(const Matrix& map, Point anchor, Size size, bool perspective, const MapParts& near);

/// The map, in widths from the centre, of a stack at a moment.
Matrix widthsMap(const Stack& stack, Side side, double time, double frame, FrameRate rate, Size size);

} // namespace virga
