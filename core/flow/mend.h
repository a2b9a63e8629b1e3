#pragma once
// Mending: fixes that keep what the editor made, applied as long as they do what they promise. A fix is kept only where
// its finding is gone afterwards and no graver one has come.
#include <string>
#include <vector>

#include "core/flow/flow.h"

namespace virga {

struct Mended {
    Project project;
    std::vector<std::string> done; // in words, for a list: "cut 2: Zoom turns back at the cut — turned it round"
    std::vector<std::string> left; // titles of findings for which no safe fix did
};

/// All findings of one cut and its two clips that have a safe fix.
Mended mendedCut(const Project& project, int cut);
/// Those of the whole reel.
Mended mendedReel(const Project& project, const Cancel& cancel = {});

/// "cut 2" or "the clip \"Lighthouse\"", for a list.
std::string placeText(const Project& project, const FlowPlace& place);

} // namespace virga
