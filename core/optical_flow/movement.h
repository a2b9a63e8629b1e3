#pragma once
// How much a shot moves by itself.
#include <filesystem>

#include "core/base/cancel.h"
#include "core/base/error.h"

namespace virga {

struct OwnShotMovement {
    double perFrame = 0;  // mean length of what its picture moves from one picture to the next, % of its width
    double untrusted = 0; // share of it that the flow is not sure of
    int pairs = 0;        // of pictures that were looked at; 0 for a still
};

/// By optical flow between up to `most` pairs of neighbouring pictures, spread evenly over the file. Errors: as
/// VideoReader.
Expected<OwnShotMovement> ownMovementOf(const std::filesystem::path& path, int most = 12, const Cancel& cancel = {});

} // namespace virga
