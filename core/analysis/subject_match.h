#pragma once
// Two pictures' common subject: what both show, and how the second shows it.
#include <optional>

#include "core/project/project.h"
#include "core/raster/grey.h"

namespace virga {

struct SubjectPair {
    SubjectSpot first, second;  // the same thing; its angle in the first picture is 0
    int agreeing = 0, seen = 0; // features that agree, of those that were found in both
};

/// SIFT features (Lowe, "Distinctive image features from scale-invariant keypoints", IJCV 60, 2004) matched by his
/// ratio test both ways, and the similarity that most of them agree on (RANSAC: Fischler and Bolles, CACM 24, 1981).
/// Empty where too few agree: then the pictures have nothing in common, or it cannot be told.
std::optional<SubjectPair> matchSubjects(const Grey& first, const Grey& second);

} // namespace virga
