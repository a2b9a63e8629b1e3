#pragma once
// From what probing found to what the project keeps.
#include "core/decode/media_info.h"
#include "core/project/project.h"

namespace virga {

/// A Media without an id, its path absolute.
Media mediaFrom(const MediaInfo& info);

} // namespace virga
