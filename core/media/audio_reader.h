#pragma once
// Sound as interleaved stereo floats at 48 kHz. May run on any thread.
#include <filesystem>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/time/rational.h"

namespace virga {

inline constexpr int audioRate = 48000;
inline constexpr int audioChannels = 2;

/// `count` stereo samples of a file from `from` seconds on, counted from its first picture (or, without one, its first
/// sound); what lies outside is silence. Mono is put on both sides, more channels are mixed down. The result always has
/// 2 * count values. At a speed other than 1 it is faster or slower and, like a tape, higher or lower. Errors: as
/// probe(); a place that cannot be decoded is silence.
Expected<std::vector<float>> readAudio(const std::filesystem::path& path, Rational from, std::int64_t count,
                                       const Cancel& cancel = {}, Rational speed = 1);

} // namespace virga
