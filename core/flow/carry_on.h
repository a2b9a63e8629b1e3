#pragma once
// Fixes: edits that make the movement at a cut carry on.
#include "core/base/error.h"
#include "core/edit/move_edits.h"

namespace virga {

/// The incoming side of one channel turned round about its rest.
Project withIncomingTurned(const Project& project, int cut, int move, int channel);

/// The incoming side of one channel given the outgoing side's rate as it is seen (changeOver). With `keepValues` its
/// first handle is solved, otherwise its first value; a side without movement gets one of `usualFrames`. Errors:
/// BadInput where it cannot be met.
Expected<Project> withSpeedMatched(const Project& project, int cut, int move, int channel, bool keepValues);

/// The incoming side's speeds solved together, so that speed and direction of every point of the screen carry on
/// through the cut (matchingRates); by handles where `keepValues` and they suffice, else by first values. Errors:
/// BadInput with what is missing or which channel cannot.
Expected<Project> withAllMatched(const Project& project, int cut, bool keepValues);

/// Whether black bars that were found burnt into a clip's shot are left in by its crop.
bool leavesBarsIn(const Project& project, const Clip& clip);
/// Every clip of the medium, on the reel and above it, cropped at least by the bars found in it.
Project withBarsCropped(const Project& project, const std::string& mediaId);

/// Both clips at the cut given an edge fill of their own.
Project withEdgesAt(const Project& project, int cut, EdgeFill edges);

/// The last outgoing key of each channel that ends before the last frame (or, where its move holds at its ends, on it)
/// put on frame 0, past the last one shown.
Project withLastKeysPastCut(const Project& project, int cut);

/// The least zoom, about the middle and over everything else, with which no frame of the cut's moves is left uncovered;
/// empty where none up to 64 does.
std::optional<double> zoomThatCovers(const Project& project, int cut);
/// A constant zoom of that factor put on top of the stack, on both sides.
Project withCoveringZoom(const Project& project, int cut, double factor);

} // namespace virga
