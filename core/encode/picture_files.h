#pragma once
// Inside core/encode only: results that are a file a picture, with the sound in a WAV beside them.
#include "core/encode/encoder.h"

namespace virga::av {

/// REQUIRES: settled settings of a sequence.
Expected<std::unique_ptr<Encoder>> openPictureFiles(const std::filesystem::path& target,
                                                    const EncoderSettings& settings);

/// What stands for a chunk of a sequence: how many pictures it has.
Expected<void> writePictureList(const std::filesystem::path& chunk, std::int64_t count);
Expected<std::int64_t> readPictureList(const std::filesystem::path& chunk);

/// A picture of linear light as OpenEXR: half floats, premultiplied, ZIP, with BT.709's chromaticities. Errors:
/// WriteFailed.
Expected<void> writeExr(const std::filesystem::path& path, ImageView<const LinearF> light, bool alpha, FrameRate rate);

} // namespace virga::av
