#pragma once
// A shot's sound where its speed is not one constant forward one: following the speed like a tape, or keeping its
// pitch. The same samples come however a span is divided.
#include "core/audio/sound_pool.h"
#include "core/project/clip_time.h"

namespace virga {

/// A clip's course through its source, by the reel's samples.
class SoundCourse {
public:
    SoundCourse(const Clip& clip, std::int64_t firstFrame, FrameRate rate);
    double secondsAt(double sample) const;
    /// Source seconds per second.
    double speedAt(double sample) const;
    std::uint64_t hash() const { return m_hash; }

private:
    CurveIntegral m_area; // % times frames of the clip
    double m_sourceIn, m_firstFrame, m_framesPerSample, m_rate;
    std::uint64_t m_hash;
};

/// How loud a shot is at a speed that it does not run at by choice: full from 50 to 200 % either way, silent below 40
/// and beyond 250.
float loudnessAt(double speed);

/// Samples `first` to `last` of the reel, higher where it runs faster: a windowed sinc whose cutoff falls with the
/// speed (Smith, "Digital Audio Resampling", CCRMA; Kaiser window). Errors: as AudioReader.
Expected<std::vector<float>> followedSound(const SoundCourse& course, const std::filesystem::path& path,
                                           std::int64_t first, std::int64_t last, SoundPool& pool,
                                           const Cancel& cancel = {});

/// The same at the pitch it was recorded at (librubberband). Where the shot stands still it is silent. Errors: as
/// AudioReader.
Expected<std::vector<float>> soundAtItsPitch(const SoundCourse& course, const std::filesystem::path& path,
                                             std::int64_t first, std::int64_t last, SoundPool& pool,
                                             const Cancel& cancel = {});

} // namespace virga
