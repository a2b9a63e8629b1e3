#pragma once
// The movement from one picture to the next, read from the pictures alone: what most of the picture does; what moves on
// its own in it is left out. One thread at a time.
#include <memory>
#include <vector>

#include "core/plan/shot_movement.h"
#include "core/raster/grey.h"

namespace virga {

/// A feature in one picture and in the next, in widths from the centre.
struct FeaturePair {
    Point from, to;
};

struct FoundStep {
    PictureStep step;
    std::vector<FeaturePair> pairs; // that agree with it, or would where a lens bends it
    bool twofold = false; // some of the picture does something else together, as where two shots are seen at once
    bool covered = false; // something that stands still lies over what moves: a title, a held shot that fades in
    bool second = false;  // most of it does; this goes on as the steps before did
};

class StepFinder {
public:
    /// `thorough` tries harder where pictures are blurred and far apart, as in a transition: several times slower.
    explicit StepFinder(bool thorough = false);
    ~StepFinder();

    /// From the picture before to this one; of the first one nothing is known. Pictures of one size.
    ///
    /// Corners (Shi and Tomasi, "Good features to track", CVPR 1994) are followed by their optical flow, there and back
    /// (Bouguet, "Pyramidal implementation of the Lucas Kanade feature tracker", 2000; Kalal et al., "Forward-backward
    /// error", ICPR 2010), from where the step before would take them. Where that fails, SIFT features find the step
    /// first (Lowe, IJCV 60, 2004), and the corners are followed from the picture that it moves there. The similarity
    /// that most agree on counts (RANSAC: Fischler and Bolles, CACM 24, 1981), fitted to all of those by least squares;
    /// a homography where it explains features that it was not fitted to clearly better. Too few features that agree,
    /// or all in one corner: not known.
    FoundStep next(Grey picture);

private:
    struct State;
    std::unique_ptr<State> m;
};

/// The similarity that takes places nearest to others, by least squares with what lies off counting less (Huber's
/// weights, "Robust estimation of a location parameter", 1964; `scale` is where they begin, in widths). REQUIRES: two
/// different places at least.
Matrix fittedSimilarity(const std::vector<FeaturePair>& pairs, double scale);

} // namespace virga
