#pragma once
// Inside core/encode only: the file of one chunk's packets, as they came from the encoder.
#include "core/encode/movie_writer.h"

namespace virga::av {

class ChunkFile {
public:
    static Expected<std::unique_ptr<ChunkFile>> create(const std::filesystem::path& path,
                                                       const EncoderSettings& settings, const VideoStage& stage);
    Expected<void> add(AVPacket& packet) { return m_writer->addPicture(packet, m_reorder); }
    Expected<void> finish() { return m_writer->finish(); }

private:
    std::unique_ptr<MovieWriter> m_writer;
    std::int64_t m_reorder = 0; // times in the file start so much later, so that none is negative
};

/// Its packets in their order, with pts in frames from the chunk's first. `like` is an encoder of the same settings.
/// Errors: Unreadable where packets are missing; BadInput where it was made with other settings.
Expected<void> readChunk(const std::filesystem::path& path, const AVCodecContext& like, std::int64_t frames,
                         const VideoStage::Sink& sink);

} // namespace virga::av
