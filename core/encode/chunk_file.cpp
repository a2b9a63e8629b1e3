#include "core/encode/chunk_file.h"

#include <cstring>
#include <fmt/format.h>

namespace virga::av {

Expected<std::unique_ptr<ChunkFile>> ChunkFile::create(const std::filesystem::path& path,
                                                       const EncoderSettings& settings, const VideoStage& stage) {
    auto file = std::make_unique<ChunkFile>();
    file->m_reorder = stage.reorder();
    EncoderSettings pictures = settings;
    pictures.timecode.clear(); // the whole has one
    // NUT keeps what stands beside a packet's bytes not; Matroska keeps alpha there.
    const bool beside = settings.alpha && settings.format == DeliveryFormat::Vp9;
    auto writer = MovieWriter::open(path, beside ? "matroska" : "nut", pictures, &stage);
    if (!writer) return tl::unexpected(writer.error());
    file->m_writer = std::move(*writer);
    return file;
}

Expected<void> readChunk(const std::filesystem::path& path, const AVCodecContext& like, std::int64_t frames,
                         const VideoStage::Sink& sink) {
    const std::string place = path.string();
    auto input = openInput(path, {});
    if (!input) return tl::unexpected(input.error());
    AVFormatContext& file = **input;
    const auto other = [&] {
        return fail(ErrorCode::BadInput, "this chunk was made with other settings, or by another version", place,
                    "remove it, and render it again");
    };
    if (file.nb_streams != 1) return other();
    const AVCodecParameters& p = *file.streams[0]->codecpar;
    if (p.codec_id != like.codec_id || p.width != like.width || p.height != like.height) return other();
    if (like.extradata_size > 0 && (p.extradata_size != like.extradata_size ||
                                    std::memcmp(p.extradata, like.extradata, std::size_t(p.extradata_size)) != 0))
        return other();
    const AVRational base = file.streams[0]->time_base, frame = like.time_base;
    auto packet = makePacket();
    std::int64_t count = 0, shift = 0;
    while (av_read_frame(&file, packet.get()) >= 0) {
        // The first packet is the first picture's: encoding began with it.
        const auto pts = av_rescale_q_rnd(packet->pts, base, frame, AV_ROUND_NEAR_INF);
        if (count++ == 0) shift = pts;
        packet->pts = pts - shift;
        if (packet->pts < 0 || packet->pts >= frames) return other();
        if (auto done = sink(*packet); !done) return done;
        av_packet_unref(packet.get());
    }
    if (count != frames)
        return fail(ErrorCode::Unreadable, fmt::format("{} of the chunk's {} pictures are there", count, frames), place,
                    "remove it, and render it again");
    return {};
}

} // namespace virga::av
