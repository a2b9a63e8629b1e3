#pragma once
// Mending: fixes that keep what the editor made (EditChange::keepsMoves), applied as long as they do what they promise:
// of several the one that changes least of what is seen. A fix is kept only where its finding is gone afterwards and no
// graver one has come.
#include <optional>
#include <string>
#include <vector>

#include "core/check/flow.h"

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

/// What is to be applied of a finding's fixes, wherever it is found, or at one cut and its two clips.
struct NamedFix {
    std::string finding;    // its name, "speed-step", or its whole one: "turns-back:Zoom"
    std::string label;      // of the fix; empty: the first that can be applied
    std::optional<int> cut; // counted from 0
};
/// Errors: BadInput where nothing is found by that name, no fix has that label, or it could be applied nowhere; the
/// message tells what there is. `left` names where it could not be, and why.
Expected<Mended> withFixApplied(const Project& project, const NamedFix& fix,
                                const std::shared_ptr<const ShotMovements>& shots = nullptr);

/// "cut 2" or "the clip \"Lighthouse\"", for a list.
std::string placeText(const Project& project, const FlowPlace& place);

} // namespace virga
