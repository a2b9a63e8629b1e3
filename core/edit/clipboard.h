#pragma once
// What is copied: clips, overlays, adjustments or a cut's transition as JSON text, with the media they need, so that it
// can be pasted into another project or another running Virga.
#include <string>

#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

/// Chosen clips of the reel, in their order.
std::string copiedClips(const Project& project, const std::vector<int>& clips);
std::string copiedOverlay(const Project& project, int overlay);
std::string copiedAdjustment(const Project& project, int adjustment);
/// A cut's moves, overlap and shutter.
std::string copiedTransition(const Project& project, int cut);

struct Pasted {
    Project project;
    int first = -1, count = 0; // where clips came to lie in the reel, or the overlay or adjustment
    enum Kind { Clips, Overlay, Adjustment, Transition } kind = Clips;
};

/// Puts copied text into a project: clips in front of reel index `at`, overlays and adjustments at a frame, a
/// transition at a cut. Errors: BadInput where the text is none of these, or a transition has no cut to go to.
Expected<Pasted> pasted(const Project& project, const std::string& text, int at, std::int64_t frame, int cut);

} // namespace virga
