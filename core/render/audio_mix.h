#pragma once
// The sound of a span of the reel: the clips' own sound and the music, mixed.
#include <vector>

#include "core/base/cancel.h"
#include "core/project/project.h"
#include "core/render/sound_pool.h"

namespace virga {

/// True where any clip or music would be heard.
bool hasSound(const Project& project);

/// The first sample, at audioRate, of a reel frame; exact for every rate, so that spans join without gap or overlap.
std::int64_t sampleOfFrame(std::int64_t frame, FrameRate rate);

struct Mix {
    std::vector<float> stereo; // interleaved
    float gain = 1;            // the least that the limiter used: 1 where nothing was beyond full scale
};

/// Sound for reel frames [from, to), limited to full scale. What cannot be read is silent, and its error added to
/// `problems`. Pieces that follow each other join without a seam.
Mix mixSound(const Project& project, std::int64_t from, std::int64_t to, SoundPool& pool,
             std::vector<Error>* problems = nullptr, const Cancel& cancel = {});

/// What to tell of a limiter that was needed, such as "the sound was too loud together by 3.5 dB at most, and was
/// turned down there"; empty for a gain of 1.
std::string limiterNote(float gain);

} // namespace virga
