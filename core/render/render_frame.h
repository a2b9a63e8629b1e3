#pragma once
// Executes a plan: one picture of the reel. The same project, frame, size and quality give the same bytes on any number
// of threads.
#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/plan/plan.h"
#include "core/raster/image.h"
#include "core/render/source_pool.h"

namespace virga {

struct Quality {
    double pixelsPerSample = 1.5; // a shutter sample for every so many pixels of path
    int mostSamples = 256;
    bool operator==(const Quality&) const = default;
};
inline constexpr Quality exactQuality{};      // what is exported, and what the Picture shows at rest
inline constexpr Quality quickQuality{6, 24}; // while something is being dragged or played

/// A frame of the reel at a size, RGBA, colour over black; transparent black where nothing is. A frame outside the reel
/// is all transparent. Errors: as SourcePool, with the clip's name; Cancelled.
Expected<Image<Rgba8>> renderFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                   SourcePool& pool, const Cancel& cancel = {});

/// Brings what a frame shows into the pool, so that rendering it does not wait. What cannot be read is left for
/// renderFrame to report.
void fetchSources(const Project& project, std::int64_t frame, SourcePool& pool, const Cancel& cancel = {});

} // namespace virga
