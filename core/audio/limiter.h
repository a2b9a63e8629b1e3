#pragma once
// Keeps sound within full scale without flat tops: the gain goes down ahead of a peak and comes up after it, softly.
// Any piece of a sound comes out the same, given enough of what lies around it.
#include <cstdint>
#include <vector>

namespace virga {

/// The loudest that a sample may be: -0.3 dB below full scale, so that codecs have a little room.
inline constexpr float limiterCeiling = 0.966f;

/// How many stereo samples before and after a piece decide about it.
inline constexpr std::int64_t limiterReach = 2 * 480;

/// Limits the middle of interleaved stereo: the result lacks limiterReach samples at both ends. `deepest` becomes the
/// least gain used in it, 1 where nothing was too loud. REQUIRES: at least 2 * limiterReach samples.
std::vector<float> limited(const std::vector<float>& stereo, float* deepest = nullptr);

} // namespace virga
