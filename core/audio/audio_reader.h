#pragma once
// Sound as interleaved stereo floats at 48 kHz. A reader goes on from where it was without a seam, and gives the same
// samples for a place however it came there. One reader is for one thread at a time.
#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/base/rational.h"

namespace virga {

inline constexpr int audioRate = 48000;
inline constexpr int audioChannels = 2;

class AudioReader {
public:
    /// At a speed other than 1 it is faster or slower and, like a tape, higher or lower. Errors: as probe();
    /// Unsupported where there is no sound.
    static Expected<std::unique_ptr<AudioReader>> open(const std::filesystem::path& path, Rational speed = 1,
                                                       const Cancel& cancel = {});
    virtual ~AudioReader() = default;

    /// `count` stereo samples from `from` seconds of the file's own time on, counted from its first picture (or,
    /// without one, its first sound); what lies outside, and what cannot be decoded, is silence. Mono is as loud on
    /// both sides, more channels are folded by ITU-R BS.775 without regard to full scale. The result has 2 * count
    /// values. Errors: Cancelled; Unsupported for sound that cannot be converted.
    virtual Expected<std::vector<float>> read(Rational from, std::int64_t count, const Cancel& cancel = {}) = 0;

    /// True where read() would go on from what it has, without seeking.
    virtual bool isAt(Rational from) const = 0;
};

} // namespace virga
