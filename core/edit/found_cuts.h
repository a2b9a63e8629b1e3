#pragma once
// A flat video parted at the cuts that were found in it.
#include <vector>

#include "core/project/project.h"

namespace virga {

/// Where one shot of a video gives way to the next, in seconds of the video: the clips are parted at `at`; from `begin`
/// to `end` both shots are seen, and the clips overlap.
struct CutTimes {
    Rational begin, at, end;
};

struct Parted {
    Project project;
    int first = 0, count = 0; // the clips that it became
};
/// Where the video lies in the reel whole, it is parted there; otherwise its parts go to the reel's end, whose size and
/// rate they set where it is empty. REQUIRES: cuts in their order. None: the project as it is.
Parted partedAtCuts(const Project& project, const Media& media, const std::vector<CutTimes>& cuts);

} // namespace virga
