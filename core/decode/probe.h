#pragma once
// Finding out what a file is. Reads every packet's time stamp but decodes only the first picture; may run on any
// thread.
#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/decode/media_info.h"

namespace virga {

/// Errors: NotFound; Unreadable for an empty, truncated or foreign file; Unsupported where no decoder is there, or
/// where it has neither picture nor sound; Cancelled.
Expected<MediaInfo> probe(const std::filesystem::path& path, const Cancel& cancel = {});

} // namespace virga
