#pragma once
// Executes a plan: one picture of the reel. The same project, frame, size and quality give the same bytes on any number
// of threads.
#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/plan/plan.h"
#include "core/raster/image.h"
#include "core/render/exposure.h"
#include "core/render/quality.h"
#include "core/render/source_pool.h"

namespace virga {

/// A frame of the reel at a size, RGBA, colour over black; transparent black where nothing is. A frame outside the reel
/// is all transparent. Dithered where it was sampled. Errors: as SourcePool, with the clip's name; Cancelled.
Expected<Image<Rgba8>> renderFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                   SourcePool& pool, const Cancel& cancel = {});

/// The same of a plan that was made already, so that a frame is planned once; in 16 bits, not dithered, for export.
/// REQUIRES: the project's own plan.
Expected<Image<Rgba8>> renderPlan(const Project& project, const FramePlan& plan, Size output, const Quality& quality,
                                  SourcePool& pool, const Cancel& cancel = {});
Expected<Image<Deep16>> renderDeepPlan(const Project& project, const FramePlan& plan, Size output,
                                       const Quality& quality, SourcePool& pool, const Cancel& cancel = {});

/// The same as light, premultiplied, 1 is white; what lies beyond black and white stays.
Expected<Image<LinearF>> renderLightPlan(const Project& project, const FramePlan& plan, Size output,
                                         const Quality& quality, SourcePool& pool, const Cancel& cancel = {});

/// One layer alone, as renderFrame shows it, and in 16 bits.
Image<Rgba8> renderLayer(std::unique_ptr<Exposure> layer, Size output);
Image<Deep16> renderDeepLayer(std::unique_ptr<Exposure> layer, Size output);

/// Brings what a frame shows into the pool, so that rendering it does not wait. What cannot be read is left for
/// renderFrame to report.
void fetchSources(const Project& project, const FramePlan& plan, Size output, const Quality& quality, SourcePool& pool,
                  const Cancel& cancel = {});

} // namespace virga
