#pragma once
// Flow kept on disk: one file for a pair of pictures, so that a shot's flow is found once.
#include <filesystem>

#include "core/base/error.h"
#include "core/optical_flow/optical_flow_pair.h"

namespace virga {

/// Written beside and renamed. Errors: as writeFileAtomically.
Expected<void> writeFlow(const std::filesystem::path& path, const FlowPair& flow);
/// Errors: NotFound; Unreadable where the file is none, of another version or damaged.
Expected<FlowPair> readFlow(const std::filesystem::path& path);

} // namespace virga
