#pragma once
// Frames that are a source's own picture, and need not be rendered.
#include "core/decode/coded_picture.h"
#include "core/export/export_plan.h"
#include "core/plan/plan.h"
#include "core/render/source_pool.h"

namespace virga {

/// Whether results of these settings hold what ordinary sources hold: 8-bit Y'CbCr 4:2:0.
bool takesUntouched(const EncoderSettings& settings);

/// The picture that a frame shows alone, at rest and pixel for pixel, as the file has it; nothing where it must be
/// rendered. It differs from the rendered one by a code value at most.
CodedPicture untouchedPicture(const ExportPlan& plan, const FramePlan& frame, SourcePool& pool);

} // namespace virga
