#pragma once
// The sound of a span of the reel: the clips' own sound, the music and the movement heard, mixed.
#include <filesystem>
#include <functional>
#include <vector>

#include "core/audio/sound_pool.h"
#include "core/base/cancel.h"
#include "core/project/project.h"

namespace virga {

/// The parts of a mix that are handed on apart.
enum class Stem { Clips, Music, Movement };

/// True where any clip, music or the movement would be heard.
bool hasSound(const Project& project);
bool hasSound(const Project& project, Stem stem);

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

/// One part of it alone, limited by itself.
Mix mixStem(const Project& project, Stem stem, std::int64_t from, std::int64_t to, SoundPool& pool,
            std::vector<Error>* problems = nullptr, const Cancel& cancel = {});

/// Every part that would be heard as a WAV file of the whole reel, beside a file: piece-clips.wav, piece-music.wav,
/// piece-movement.wav. How many there are; `report` gets 0 to 1. Errors: what cannot be read; WriteFailed; Cancelled.
Expected<int> writeStems(const Project& project, const std::filesystem::path& beside, SoundPool& pool,
                         const std::function<void(double)>& report = {}, const Cancel& cancel = {});
std::filesystem::path stemPath(const std::filesystem::path& beside, Stem stem);

/// What to tell of a limiter that was needed, such as "the sound was too loud together by 3.5 dB at most, and was
/// turned down there"; empty for a gain of 1.
std::string limiterNote(float gain);

} // namespace virga
