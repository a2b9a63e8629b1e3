#include "core/encode/movie_writer.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/audio/audio_reader.h"
#include "core/base/file.h"

namespace virga::av {

namespace {

struct SoundEncoder {
    const char* name;
    AVSampleFormat format;
    int bits; // of whole numbers
};
SoundEncoder encoderOf(SoundCodec codec) {
    switch (codec) {
    case SoundCodec::Opus:
        return {"libopus", AV_SAMPLE_FMT_FLT, 0};
    case SoundCodec::Pcm16:
        return {"pcm_s16le", AV_SAMPLE_FMT_S16, 16};
    case SoundCodec::Pcm24:
        return {"pcm_s24le", AV_SAMPLE_FMT_S32, 24};
    case SoundCodec::Flac:
        return {"flac", AV_SAMPLE_FMT_S32, 24};
    case SoundCodec::Aac:
        break;
    }
    return {"aac", AV_SAMPLE_FMT_FLTP, 0};
}

// Samples that are handed to encoders without blocks of their own.
constexpr int freeBlock = 4800;

} // namespace

const char* muxerOf(DeliveryFormat format) {
    switch (format) {
    case DeliveryFormat::H264:
    case DeliveryFormat::H265:
        return "mp4";
    case DeliveryFormat::Vp9:
    case DeliveryFormat::Av1:
        return "webm";
    case DeliveryFormat::ProRes:
    case DeliveryFormat::Dnxhr:
        return "mov";
    case DeliveryFormat::Ffv1:
        return "matroska";
    case DeliveryFormat::Gif:
        return "gif";
    case DeliveryFormat::Webp:
        return "webp";
    case DeliveryFormat::Wav:
        return "wav";
    default:
        return "image2pipe";
    }
}

Expected<void> MovieWriter::check(int code, const char* what) const {
    if (code >= 0) return {};
    return fail(ErrorCode::WriteFailed, fmt::format("{} ({})", what, errorText(code)), m_path.string(),
                "free some space, or choose another folder");
}

Expected<std::unique_ptr<MovieWriter>> MovieWriter::open(const std::filesystem::path& path, const char* muxer,
                                                         const EncoderSettings& settings, const VideoStage* video,
                                                         const std::string& label) {
    quiet();
    auto writer = std::unique_ptr<MovieWriter>(new MovieWriter(path, settings));
    AVFormatContext* raw = nullptr;
    const std::string file = "file:" + writer->m_part.path().string();
    if (avformat_alloc_output_context2(&raw, nullptr, muxer, file.c_str()) < 0)
        return fail(ErrorCode::Unsupported, fmt::format("this FFmpeg cannot write {}", muxer), path.string());
    writer->m_format.reset(raw);
    raw->flags |= AVFMT_FLAG_BITEXACT; // no dates and versions inside: equal input gives equal bytes
    if (std::string_view(muxer) == "webm") raw->avoid_negative_ts = AVFMT_AVOID_NEG_TS_DISABLED; // see drainSound
    raw->max_interleave_delta = 0; // packets are in order of their times however late they come
    if (!label.empty()) av_dict_set(&raw->metadata, "comment", label.c_str(), 0);
    if (video) {
        const AVCodecContext& codec = video->context();
        AVStream* stream = writer->m_videoStream = avformat_new_stream(raw, nullptr);
        stream->time_base = writer->m_videoBase = codec.time_base;
        stream->avg_frame_rate = stream->r_frame_rate = codec.framerate;
        stream->sample_aspect_ratio = {1, 1};
        writer->m_reorder = video->reorder();
        avcodec_parameters_from_context(stream->codecpar, &codec);
        if (std::string_view(muxer) == "nut" && codec.codec_id == AV_CODEC_ID_HEVC)
            stream->codecpar->codec_tag = 0; // MP4's is not known there
        if (!settings.timecode.empty()) av_dict_set(&stream->metadata, "timecode", settings.timecode.c_str(), 0);
        if (settings.alpha && settings.format == DeliveryFormat::Vp9)
            av_dict_set(&stream->metadata, "alpha_mode", "1", 0); // WebM's mark of alpha
    }
    if (settings.sound)
        if (auto done = writer->startSound(); !done) return tl::unexpected(done.error());
    if (const int code = avio_open(&raw->pb, file.c_str(), AVIO_FLAG_WRITE); code < 0)
        return fail(ErrorCode::WriteFailed, fmt::format("cannot write here ({})", errorText(code)), path.string(),
                    "choose another folder");
    AVDictionary* options = nullptr;
    const std::string_view kind = muxer;
    if (kind == "mp4" || kind == "mov") av_dict_set(&options, "movflags", "+faststart+write_colr", 0);
    if (kind == "gif" || kind == "webp") av_dict_set(&options, "loop", "0", 0);
    const int code = avformat_write_header(raw, &options);
    av_dict_free(&options);
    if (auto done = writer->check(code, "the file could not be begun"); !done) return tl::unexpected(done.error());
    return writer;
}

Expected<void> MovieWriter::startSound() {
    const SoundEncoder kind = encoderOf(m_settings.soundCodec);
    const AVCodec* codec = avcodec_find_encoder_by_name(kind.name);
    if (!codec)
        return fail(ErrorCode::Unsupported,
                    fmt::format("this FFmpeg has no encoder for {} ({})", nameOf(m_settings.soundCodec), kind.name),
                    m_path.string());
    m_audio.reset(avcodec_alloc_context3(codec));
    m_audio->sample_fmt = kind.format;
    m_audio->sample_rate = audioRate;
    m_audio->bit_rate = m_settings.soundCodec == SoundCodec::Opus ? 192000 : 256000;
    m_audio->bits_per_raw_sample = kind.bits;
    m_audio->ch_layout = AV_CHANNEL_LAYOUT_STEREO;
    m_audio->time_base = {1, audioRate};
    m_audio->flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
    if (const int code = avcodec_open2(m_audio.get(), codec, nullptr); code < 0)
        return fail(
            ErrorCode::Unsupported,
            fmt::format("the encoder for {} does not start ({})", nameOf(m_settings.soundCodec), errorText(code)),
            m_path.string());
    m_audioStream = avformat_new_stream(m_format.get(), nullptr);
    m_audioStream->time_base = m_audio->time_base;
    avcodec_parameters_from_context(m_audioStream->codecpar, m_audio.get());
    m_block = m_audio->frame_size > 0 ? m_audio->frame_size : freeBlock;
    // AAC comes in whole blocks, and nothing in MP4 cuts the last one short for every reader. So silence is put in
    // front, which the edit list leaves out with the encoder's own delay, and the last block ends on time.
    if (m_settings.soundCodec == SoundCodec::Aac && m_settings.soundLength > 0) {
        const auto ahead = (m_block - m_settings.soundLength % m_block) % m_block;
        m_waiting.assign(std::size_t(ahead) * audioChannels, 0.0f);
        m_samples = -ahead;
    }
    return {};
}

Expected<void> MovieWriter::addPicture(AVPacket& packet, std::int64_t from) {
    packet.pts += from;
    packet.dts = m_pictures++ - m_reorder;
    if (packet.dts > packet.pts)
        return fail(ErrorCode::WriteFailed, "the encoder put its pictures into too wild an order", m_path.string(),
                    "choose another format");
    packet.duration = 1;
    packet.flags &= ~AV_PKT_FLAG_DISPOSABLE; // chunks do not keep it, and joined films are the same to the byte
    return write(packet, m_videoBase, *m_videoStream);
}

Expected<void> MovieWriter::write(AVPacket& packet, AVRational base, AVStream& stream) {
    packet.stream_index = stream.index;
    packet.pos = -1;
    packet.time_base = base;
    av_packet_rescale_ts(&packet, base, stream.time_base);
    return check(av_interleaved_write_frame(m_format.get(), &packet), "the file could not be written");
}

Expected<void> MovieWriter::addSound(std::span<const float> stereo) {
    assert(m_settings.sound);
    m_waiting.insert(m_waiting.end(), stereo.begin(), stereo.end());
    const auto block = std::size_t(m_block) * audioChannels;
    std::size_t used = 0;
    for (; m_waiting.size() - used >= block; used += block)
        if (auto done = sendSound(&m_waiting[used], m_block); !done) return done;
    m_waiting.erase(m_waiting.begin(), m_waiting.begin() + std::ptrdiff_t(used));
    return {};
}

Expected<void> MovieWriter::sendSound(const float* stereo, int count) {
    auto frame = makeFrame();
    frame->format = m_audio->sample_fmt;
    frame->nb_samples = count;
    frame->sample_rate = audioRate;
    frame->ch_layout = AV_CHANNEL_LAYOUT_STEREO;
    if (av_frame_get_buffer(frame.get(), 0) < 0) return fail(ErrorCode::WriteFailed, "out of memory", m_path.string());
    const int all = count * audioChannels;
    const auto whole = [](float v, double most) { return std::llround(double(std::clamp(v, -1.0f, 1.0f)) * most); };
    switch (m_audio->sample_fmt) {
    case AV_SAMPLE_FMT_FLTP: {
        auto *left = reinterpret_cast<float*>(frame->data[0]), *right = reinterpret_cast<float*>(frame->data[1]);
        for (int i = 0; i < count; ++i) left[i] = stereo[2 * i], right[i] = stereo[2 * i + 1];
        break;
    }
    case AV_SAMPLE_FMT_S16: {
        auto* to = reinterpret_cast<std::int16_t*>(frame->data[0]);
        for (int i = 0; i < all; ++i) to[i] = std::int16_t(whole(stereo[i], 32767));
        break;
    }
    case AV_SAMPLE_FMT_S32: { // 24 bits in the upper ones
        auto* to = reinterpret_cast<std::int32_t*>(frame->data[0]);
        for (int i = 0; i < all; ++i) to[i] = std::int32_t(whole(stereo[i], 8388607) * 256);
        break;
    }
    default:
        std::copy_n(stereo, all, reinterpret_cast<float*>(frame->data[0]));
    }
    frame->pts = m_samples;
    m_samples += count;
    return drainSound(frame.get());
}

Expected<void> MovieWriter::drainSound(AVFrame* frame) {
    if (auto done = check(avcodec_send_frame(m_audio.get(), frame), "the sound could not be encoded"); !done)
        return done;
    // WebM dates sound later by what its decoder puts in front, and says so in CodecDelay ("Matroska Media Container
    // Format Specifications", IETF RFC 9559).
    const int delay = m_settings.soundCodec == SoundCodec::Opus ? m_audio->initial_padding : 0;
    auto packet = makePacket();
    while (avcodec_receive_packet(m_audio.get(), packet.get()) == 0) {
        packet->pts += delay, packet->dts += delay;
        if (auto done = write(*packet, m_audio->time_base, *m_audioStream); !done) return done;
    }
    return {};
}

Expected<void> MovieWriter::finish() {
    if (m_audio) {
        if (!m_waiting.empty())
            if (auto done = sendSound(m_waiting.data(), int(m_waiting.size() / audioChannels)); !done) return done;
        if (auto done = drainSound(nullptr); !done) return done;
    }
    if (auto done = check(av_write_trailer(m_format.get()), "the end could not be written"); !done) return done;
    const int closed = avio_closep(&m_format->pb);
    m_format.reset();
    if (auto done = check(closed, "the file could not be closed"); !done) return done;
    return putInPlace(m_part.path(), m_path);
}

} // namespace virga::av
