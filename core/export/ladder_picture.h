#pragma once
// The frames around a cut side by side in one picture.
#include "core/export/export_reel.h"

namespace virga {

struct LadderSettings {
    int cut = 0;
    int before = 6, after = 6; // frames on each side of it, as far as the reel goes
    int height = 90;           // pixels of a frame
    int gap = 2;               // between them; twice as wide at the cut
};

/// Errors: BadInput for a cut that there is not; as renderFrame.
Expected<Image<Rgba8>> ladderPicture(const Project& project, const LadderSettings& settings, SourcePool& pool,
                                     const Cancel& cancel = {});

/// As a PNG. Errors: as mayWrite and Encoder.
Expected<void> writeLadder(const Project& project, const LadderSettings& settings, const std::filesystem::path& path,
                           SourcePool& pool, const Cancel& cancel = {});

} // namespace virga
