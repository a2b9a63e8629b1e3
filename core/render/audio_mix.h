#pragma once
// The sound of a span of the reel: the clips' own sound and the music, mixed.
#include <vector>

#include "core/base/cancel.h"
#include "core/project/project.h"

namespace virga {

/// True where any clip or music would be heard.
bool hasSound(const Project& project);

/// The first sample, at audioRate, of a reel frame; exact for every rate, so that spans join without gap or overlap.
std::int64_t sampleOfFrame(std::int64_t frame, FrameRate rate);

/// Interleaved stereo for reel frames [from, to). What cannot be read is silent, and its error added to `problems`.
std::vector<float> mixSound(const Project& project, std::int64_t from, std::int64_t to,
                            std::vector<Error>* problems = nullptr, const Cancel& cancel = {});

} // namespace virga
