#include "core/audio/wav.h"

#include <algorithm>
#include <cmath>
#include <string>

#include "core/audio/audio_reader.h"
#include "core/base/file.h"

namespace virga {

Expected<void> writeWav(const std::filesystem::path& path, std::span<const float> stereo) {
    std::string bytes;
    const auto put = [&bytes](std::uint32_t v, int size) {
        for (int i = 0; i < size; ++i) bytes += char(v >> (8 * i) & 0xff);
    };
    const auto dataSize = std::uint32_t(stereo.size() * 2);
    bytes += "RIFF";
    put(36 + dataSize, 4);
    bytes += "WAVEfmt ";
    put(16, 4), put(1, 2), put(audioChannels, 2), put(audioRate, 4), put(audioRate * audioChannels * 2, 4),
        put(audioChannels * 2, 2), put(16, 2);
    bytes += "data";
    put(dataSize, 4);
    for (const float v : stereo) put(std::uint32_t(std::lround(std::clamp(v, -1.0f, 1.0f) * 32767)) & 0xffff, 2);
    return writeFileAtomically(path, bytes);
}

} // namespace virga
