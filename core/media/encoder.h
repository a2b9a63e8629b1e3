#pragma once
// Writing H.264 in MP4 with AAC sound. The file is written beside its final name and renamed at the end; an encoder
// that is destroyed before finish() leaves nothing behind. One thread at a time.
#include <filesystem>
#include <memory>
#include <span>

#include "core/base/error.h"
#include "core/raster/image.h"
#include "core/time/rational.h"

namespace virga {

struct EncoderSettings {
    Size size; // even, at least 16 x 16
    FrameRate rate = 25;
    int quality = 16;              // x264's constant rate factor: 0 lossless, 16 very good, 23 good
    std::string preset = "medium"; // x264's preset
    int depth = 8;                 // bits, 8 or 10
    int keyInterval = 0;           // frames between key frames at most; 0 leaves it to the encoder
    bool sound = false;
    std::int64_t soundLength = 0; // samples that will come; where it is right, decoded sound ends with the picture
    std::string timecode;         // of the first frame, by SMPTE ST 12-1; empty: none
};

class Encoder {
public:
    /// Errors: BadInput for a size, depth or rate that H.264 has not; WriteFailed; Unsupported without an encoder.
    static Expected<std::unique_ptr<Encoder>> open(const std::filesystem::path& path, const EncoderSettings& settings);
    virtual ~Encoder() = default;

    /// The next frame, alpha ignored. REQUIRES: the size of the settings. Errors: WriteFailed.
    virtual Expected<void> addFrame(ImageView<const Rgba8> picture) = 0;
    virtual Expected<void> addFrame(ImageView<const Deep16> picture) = 0;
    /// The next sound, interleaved stereo at audioRate. REQUIRES: settings.sound.
    virtual Expected<void> addSound(std::span<const float> stereo) = 0;
    /// Writes what is left and puts the file in place.
    virtual Expected<void> finish() = 0;
};

} // namespace virga
