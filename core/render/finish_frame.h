#pragma once
// A frame whose layers or whole are finished: its steps done one by one on canvases of linear light, with a margin
// around the frame that holds what really lies there.
#include <memory>
#include <optional>
#include <vector>

#include "core/effects/canvas.h"
#include "core/plan/plan.h"
#include "core/render/exposure.h"

namespace virga {

/// The margin that a frame's filters ask for all together, as far as it is rendered.
/// The light beneath everything; empty for black, which nothing is already.
std::optional<LinearF> backgroundOf(const FramePlan& plan);

Margin marginOf(const FramePlan& plan, Size output);

/// How many canvases of the frame and its margin are held at once while it is made; 0 where none is needed.
std::size_t canvasesFor(const FramePlan& plan, Size output);

/// Whether all that a frame does to its pixels is done to each by itself, so that no canvas is needed.
bool isAllPointwise(const FramePlan& plan);

/// Layers as the plan has them, sampled on the canvas's whole size. Light; the frame lies within the margin.
Canvas finishedFrame(const FramePlan& plan, const std::vector<std::unique_ptr<Exposure>>& layers, Size output,
                     Margin margin, const Quality& quality, const Cancel& cancel);

} // namespace virga
