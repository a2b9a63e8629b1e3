#pragma once
// How much an edit of a cut or a clip changes: of what is seen, and of the moves themselves.
#include "core/project/project.h"

namespace virga {

struct EditChange {
    double seen = 0; // how far the picture's points lie elsewhere, the mean over all frames that differ, % of the width
    int frames = 0;  // on which they do
    double travel = 1; // of every curve that moves the picture the least share of its way that is left, 0 to 1
    double length = 1; // likewise of the time between its first and its last key

    /// Whether what the editor made is still there: at least four fifths of every way and every length.
    bool keepsMoves() const { return travel >= 0.8 && length >= 0.8; }
};

/// Between two versions of a piece that differ at moves, drifts and places of clips. Frames are compared by the maps of
/// their plans, at nine points (probePointsOf), as long as both versions show the same clip; a point that lies farther
/// away than a width counts as a width. At most 2,000 frames around what differs are looked at.
EditChange changeBetween(const Project& before, const Project& after);

} // namespace virga
