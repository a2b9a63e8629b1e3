#pragma once
// Writing sound as a WAV file (RIFF, 16-bit PCM, 48 kHz stereo).
#include <filesystem>
#include <span>

#include "core/base/error.h"

namespace virga {

/// Interleaved stereo in [-1, 1]; more is clipped. Errors: WriteFailed.
Expected<void> writeWav(const std::filesystem::path& path, std::span<const float> stereo);

} // namespace virga
