#pragma once
// Writing results: films with their sound, picture sequences, sound alone, in every format of delivery_format.h. What
// is written stands beside its final name and is renamed at the end; an encoder that is destroyed before finish()
// leaves nothing behind. One thread at a time.
#include <filesystem>
#include <memory>
#include <optional>
#include <span>

#include "core/base/error.h"
#include "core/base/rational.h"
#include "core/decode/coded_picture.h"
#include "core/encode/delivery_format.h"
#include "core/raster/image.h"

namespace virga {

struct EncoderSettings : DeliverySettings {
    Size size; // as the format has them
    FrameRate rate = 25;
    std::string preset = "medium"; // x264's preset; other encoders get what is like it
    int keyInterval = 0;           // frames between key frames at most; 0 leaves it to the encoder
    std::int64_t chunk = 0; // frames after which encoding begins anew, so that parts made apart are the same; 0: never
    bool sound = false;
    std::int64_t soundLength = 0; // samples that will come; where it is right, decoded sound ends with the picture
    std::string timecode;         // of the first frame, by SMPTE ST 12-1; empty: none
    long firstNumber = 0;         // of a sequence's first picture
};

/// Key frames lie so many frames apart at most in what is handed on: two seconds.
std::int64_t keyDistance(FrameRate rate);
/// Frames of a chunk: two key distances. It depends on nothing but the rate, so that results do not on who made them.
std::int64_t chunkLength(FrameRate rate);

class Encoder {
public:
    /// A sequence's path is that of its pictures without their number: "heat.png" gives "heat_0000.png".
    /// Errors: BadInput for a size, depth or rate that the format has not; WriteFailed; Unsupported without an encoder.
    static Expected<std::unique_ptr<Encoder>> open(const std::filesystem::path& path, const EncoderSettings& settings);
    virtual ~Encoder() = default;

    /// The next frame: code values over black, or straight with alpha where the settings have it. REQUIRES: the size
    /// of the settings. Errors: WriteFailed.
    virtual Expected<void> addFrame(ImageView<const Rgba8> picture) = 0;
    virtual Expected<void> addFrame(ImageView<const Deep16> picture) = 0;
    /// The next frame as light, premultiplied, 1 is white.
    virtual Expected<void> addFrame(ImageView<const LinearF> light) = 0;
    /// The next frame as it stands in a file. REQUIRES: a format of 8-bit Y'CbCr 4:2:0.
    virtual Expected<void> addFrame(const CodedPicture& picture) = 0;
    /// The next sound, interleaved stereo at audioRate. REQUIRES: settings.sound.
    virtual Expected<void> addSound(std::span<const float> stereo) = 0;
    /// The next `frames` frames, encoded before by a ChunkEncoder of the same settings. REQUIRES: as many as
    /// settings.chunk, but for the last. Errors: Unreadable; BadInput for another job's chunk.
    virtual Expected<void> addChunk(const std::filesystem::path& chunk, std::int64_t frames) = 0;
    /// Writes what is left and puts the file in place.
    virtual Expected<void> finish() = 0;
};

/// One chunk encoded alone, as a NUT file of its pictures (Matroska where there is alpha beside them), which
/// Encoder::addChunk takes. Of a sequence the pictures themselves, under their final names, and a list of them.
class ChunkEncoder {
public:
    /// `target` is the name of the whole result, for a sequence's pictures. Errors: as Encoder.
    static Expected<std::unique_ptr<ChunkEncoder>>
    open(const std::filesystem::path& chunk, const std::filesystem::path& target, const EncoderSettings& settings);
    virtual ~ChunkEncoder() = default;
    virtual Expected<void> addFrame(ImageView<const Rgba8> picture) = 0;
    virtual Expected<void> addFrame(ImageView<const Deep16> picture) = 0;
    virtual Expected<void> addFrame(ImageView<const LinearF> light) = 0;
    virtual Expected<void> addFrame(const CodedPicture& picture) = 0;
    virtual Expected<void> finish() = 0;
};

/// The path of a sequence's picture: "heat_0042.png" of "heat.png"; and of all of them, as sequence_path.h writes it.
std::filesystem::path picturePath(const std::filesystem::path& target, long number);
std::filesystem::path sequencePath(const std::filesystem::path& target, long first, long last);
/// The number of the picture that has a file's name, whatever its folder; empty where none has.
std::optional<long> pictureNumber(const std::filesystem::path& target, const std::filesystem::path& file);
/// The sound beside them.
std::filesystem::path soundBeside(const std::filesystem::path& target);

} // namespace virga
