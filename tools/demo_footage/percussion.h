#pragma once
// The demo's track: drums at exactly 120 beats per minute, four beats a bar, stereo at 48 kHz.
#include <vector>

namespace virga::demo {

/// Interleaved stereo; the first beat is at sample 0 and every further one 24000 samples later.
std::vector<float> percussion(int bars);

} // namespace virga::demo
