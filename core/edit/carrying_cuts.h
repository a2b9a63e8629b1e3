#pragma once
// Where two shots would carry on from each other: the pairs of frames at which what they do by themselves, and place
// and size of their subjects, agree best.
#include "core/base/error.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga {

struct CarryingCut {
    std::int64_t out = 0;  // frames by which the cut goes, so that the outgoing shot ends there
    std::int64_t in = 0;   // frames by which the incoming shot's first picture goes in its own source
    double movement = 0;   // difference of the shots' own movement, % of the width per frame
    double place = 0;      // of their subjects, in widths; 0 where not both have one
    double size = 0;       // of those, in doublings
    bool subjects = false; // both have one
    double score = 0;      // less is better
};

/// At most `most`, the best first, each some frames away from the others and better than the cut as it is; the reel's
/// length stays. None where the shots' movement is not known.
std::vector<CarryingCut> carryingCuts(const Project& project, int cut, const ShotMovements& shots, int most = 8);

/// The cut put there. Errors: BadInput where the shots do not reach so far any more.
Expected<Project> withCarryingCut(const Project& project, int cut, const CarryingCut& choice);

} // namespace virga
