#pragma once
// A finished result opened again and compared with what was asked.
#include "core/export/export_plan.h"

namespace virga {

/// Frames, size, rate, length, colour and sound. Empty where this FFmpeg cannot read the format back (animated WebP).
/// Errors: Unreadable, saying what is not as asked.
Expected<void> checkResult(const ExportPlan& plan);

} // namespace virga
