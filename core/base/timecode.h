#pragma once
// Timecode by SMPTE ST 12-1: hours, minutes, seconds, frames; drop-frame counting for 30000/1001 and 60000/1001.
#include <cstdint>
#include <string>
#include <string_view>

#include "core/base/rational.h"

namespace virga {

/// True for the rates that SMPTE ST 12-1 counts with dropped numbers.
bool usesDropFrame(FrameRate rate);

/// "00:00:09:18", with ";" before the frames where drop-frame counting is used. Negative frames get a leading "-".
std::string timecodeOfFrame(std::int64_t frame, FrameRate rate);

/// The frame of a timecode. Errors: BadInput for a wrong form, a frame number the rate has not, or a dropped number.
Expected<std::int64_t> frameOfTimecode(std::string_view text, FrameRate rate);

/// The same with drop-frame counting chosen by hand, as edit lists do. REQUIRES for drop: a rate near 30 or 60.
std::string timecodeOfFrame(std::int64_t frame, FrameRate rate, bool drop);
Expected<std::int64_t> frameOfTimecode(std::string_view text, FrameRate rate, bool drop);

} // namespace virga
