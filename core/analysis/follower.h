#pragma once
// Follows a subject from picture to picture: its place, size and turn. One thread at a time.
#include <memory>
#include <optional>

#include "core/project/project.h"
#include "core/raster/grey.h"

namespace virga {

class Follower {
public:
    /// From where it is in a picture. REQUIRES: all pictures of one size.
    Follower(Grey picture, const SubjectSpot& start);
    ~Follower();

    /// Where it is in the next picture (its time is left at 0). Empty where it was lost; the ones after that are, too.
    /// Corners of the subject by their optical flow, there and back (Shi and Tomasi, "Good features to track", CVPR
    /// 1994; Bouguet, "Pyramidal implementation of the Lucas Kanade feature tracker", 2000; Kalal et al.,
    /// "Forward-backward error", ICPR 2010), and the similarity most of them agree on; then its first look is laid on
    /// it anew, so that small errors do not add up (Evangelidis and Psarakis, "Parametric image alignment using
    /// enhanced correlation coefficient maximization", PAMI 30, 2008).
    std::optional<SubjectSpot> next(Grey picture);

private:
    struct State;
    std::unique_ptr<State> m;
};

} // namespace virga
