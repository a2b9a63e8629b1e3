#include "core/media/encoder.h"

#include <algorithm>
#include <fmt/format.h>
#include <optional>
#include <vector>

#include "core/base/file.h"
#include "core/base/output.h"
#include "core/media/audio_reader.h"
#include "core/media/av_support.h"
#include "core/media/plane_graph.h"

namespace virga {
namespace {

using namespace av;

struct FreeOutput {
    void operator()(AVFormatContext* p) const {
        if (p->pb) avio_closep(&p->pb);
        avformat_free_context(p);
    }
};

class Mp4Encoder : public Encoder {
public:
    Mp4Encoder(std::filesystem::path path, const EncoderSettings& settings)
        : m_path(std::move(path)), m_part(m_path), m_temporary(m_part.path()), m_settings(settings) {}

    ~Mp4Encoder() override { m_format.reset(); } // before its file is removed

    Expected<void> start() {
        quiet();
        const Size s = m_settings.size;
        if (s.width < 16 || s.height < 16 || s.width % 2 || s.height % 2 || s.width > 8192 || s.height > 8192)
            return fail(ErrorCode::BadInput, fmt::format("H.264 cannot have pictures of {} x {}", s.width, s.height),
                        m_path.string(),
                        fmt::format("use an even size between 16 and 8192, such as {} x {}",
                                    std::clamp((s.width + 1) / 2 * 2, 16, 8192),
                                    std::clamp((s.height + 1) / 2 * 2, 16, 8192)));
        if (m_settings.depth != 8 && m_settings.depth != 10)
            return fail(ErrorCode::BadInput, fmt::format("H.264 cannot have {} bits here", m_settings.depth),
                        m_path.string(), "use 8 or 10");
        if (!isUsableRate(m_settings.rate))
            return fail(ErrorCode::BadInput, "the frame rate is not between 1 and 1000", m_path.string());
        AVFormatContext* raw = nullptr;
        if (avformat_alloc_output_context2(&raw, nullptr, "mp4", ("file:" + m_temporary.string()).c_str()) < 0)
            return fail(ErrorCode::Unsupported, "this FFmpeg cannot write MP4", m_path.string());
        m_format.reset(raw);
        raw->flags |= AVFMT_FLAG_BITEXACT; // no dates and versions inside: equal input gives equal bytes
        if (auto done = addVideo(); !done) return done;
        if (!m_settings.timecode.empty())
            av_dict_set(&m_videoStream->metadata, "timecode", m_settings.timecode.c_str(), 0);
        if (m_settings.sound) {
            if (auto done = addAudio(); !done) return done;
            // AAC comes in whole blocks, and nothing in MP4 cuts the last one short for every reader. So silence is put
            // in front, which the edit list leaves out with the encoder's own delay, and the last block ends on time.
            const auto block = std::int64_t(m_audio->frame_size);
            const auto ahead = m_settings.soundLength > 0 ? (block - m_settings.soundLength % block) % block : 0;
            m_sound.assign(std::size_t(ahead) * audioChannels, 0.0f);
            m_samples = -ahead;
        }
        if (const int code = avio_open(&raw->pb, ("file:" + m_temporary.string()).c_str(), AVIO_FLAG_WRITE); code < 0)
            return fail(ErrorCode::WriteFailed, fmt::format("cannot write here ({})", errorText(code)), m_path.string(),
                        "choose another folder");
        AVDictionary* options = nullptr;
        av_dict_set(&options, "movflags", "+faststart", 0);
        const int code = avformat_write_header(raw, &options);
        av_dict_free(&options);
        return check(code, "the file could not be begun");
    }

    Expected<void> addFrame(ImageView<const Rgba8> picture) override {
        return addPixels(picture, [](int v) { return deepBlack + (v * (deepWhite - deepBlack) + 127) / 255; });
    }
    Expected<void> addFrame(ImageView<const Deep16> picture) override {
        return addPixels(picture, [](int v) { return v; });
    }

    Expected<void> addSound(std::span<const float> stereo) override {
        assert(m_settings.sound);
        m_sound.insert(m_sound.end(), stereo.begin(), stereo.end());
        const auto block = std::size_t(m_audio->frame_size) * audioChannels;
        std::size_t used = 0;
        for (; m_sound.size() - used >= block; used += block)
            if (auto done = sendSound(&m_sound[used], m_audio->frame_size); !done) return done;
        m_sound.erase(m_sound.begin(), m_sound.begin() + std::ptrdiff_t(used));
        return {};
    }

    Expected<void> finish() override {
        if (m_settings.sound) {
            if (!m_sound.empty())
                if (auto done = sendSound(m_sound.data(), int(m_sound.size() / audioChannels)); !done) return done;
            if (auto done = send(m_audio.get(), m_audioStream, nullptr); !done) return done;
        }
        if (auto done = send(m_video.get(), m_videoStream, nullptr); !done) return done;
        if (auto done = check(av_write_trailer(m_format.get()), "the end could not be written"); !done) return done;
        const int closed = avio_closep(&m_format->pb);
        m_format.reset();
        if (auto done = check(closed, "the file could not be closed"); !done) return done;
        return putInPlace(m_temporary, m_path);
    }

private:
    // Once from R'G'B' to Y'CbCr, by BT.709 in limited range, chroma on the left, dithered where there are 8 bits.
    template <typename Pixel, typename Level>
    Expected<void> addPixels(ImageView<const Pixel> picture, const Level& level) {
        assert(picture.size() == m_settings.size);
        for (int y = 0; y < picture.height; ++y) {
            const Pixel* from = picture.row(y);
            const auto row = [&](int plane) {
                return reinterpret_cast<std::uint16_t*>(m_planes->data[plane] + y * m_planes->linesize[plane]);
            };
            std::uint16_t *g = row(0), *b = row(1), *r = row(2);
            for (int x = 0; x < picture.width; ++x) {
                r[x] = std::uint16_t(level(from[x].r));
                g[x] = std::uint16_t(level(from[x].g));
                b[x] = std::uint16_t(level(from[x].b));
            }
        }
        auto frame = makePlanes(m_video->pix_fmt, m_settings.size);
        if (!frame) return fail(ErrorCode::WriteFailed, "out of memory", m_path.string());
        if (auto done = m_graph->run(*m_planes, *frame, m_path.string()); !done) return done;
        frame->pts = m_frames++;
        return send(m_video.get(), m_videoStream, frame.get());
    }

    Expected<void> check(int code, const char* what) {
        if (code >= 0) return {};
        return fail(ErrorCode::WriteFailed, fmt::format("{} ({})", what, errorText(code)), m_path.string(),
                    "free some space, or choose another folder");
    }

    Expected<void> addVideo() {
        const AVCodec* codec = avcodec_find_encoder_by_name("libx264");
        if (!codec)
            return fail(ErrorCode::Unsupported, "this FFmpeg has no H.264 encoder", m_path.string(),
                        "install Debian's libavcodec with x264");
        m_video.reset(avcodec_alloc_context3(codec));
        m_video->width = m_settings.size.width;
        m_video->height = m_settings.size.height;
        m_video->pix_fmt = m_settings.depth == 10 ? AV_PIX_FMT_YUV420P10LE : AV_PIX_FMT_YUV420P;
        m_video->time_base = {int(m_settings.rate.den), int(m_settings.rate.num)};
        m_video->framerate = {int(m_settings.rate.num), int(m_settings.rate.den)};
        m_video->colorspace = AVCOL_SPC_BT709;
        m_video->color_primaries = AVCOL_PRI_BT709;
        m_video->color_trc = AVCOL_TRC_BT709;
        m_video->color_range = AVCOL_RANGE_MPEG;
        m_video->chroma_sample_location = AVCHROMA_LOC_LEFT;
        m_video->sample_aspect_ratio = {1, 1};
        if (m_settings.keyInterval > 0) m_video->gop_size = m_settings.keyInterval;
        m_video->flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
        m_video->thread_count = 2;
        AVDictionary* options = nullptr;
        av_dict_set(&options, "preset", m_settings.preset.c_str(), 0);
        av_dict_set(&options, "crf", std::to_string(m_settings.quality).c_str(), 0);
        const int code = avcodec_open2(m_video.get(), codec, &options);
        av_dict_free(&options);
        if (code < 0)
            return fail(ErrorCode::Unsupported, fmt::format("the H.264 encoder does not start ({})", errorText(code)),
                        m_path.string());
        m_videoStream = avformat_new_stream(m_format.get(), nullptr);
        m_videoStream->time_base = m_video->time_base;
        m_videoStream->avg_frame_rate = m_video->framerate;
        avcodec_parameters_from_context(m_videoStream->codecpar, m_video.get());
        m_planes = makePlanes(AV_PIX_FMT_GBRP16LE, m_settings.size);
        if (!m_planes) return fail(ErrorCode::WriteFailed, "out of memory", m_path.string());
        auto graph = PlaneGraph::make({AV_PIX_FMT_GBRP16LE, m_settings.size, 0, false},
                                      {m_video->pix_fmt, m_settings.size, AVCOL_SPC_BT709}, m_path.string());
        if (!graph) return tl::unexpected(graph.error());
        m_graph = std::move(*graph);
        return {};
    }

    Expected<void> addAudio() {
        const AVCodec* codec = avcodec_find_encoder(AV_CODEC_ID_AAC);
        if (!codec) return fail(ErrorCode::Unsupported, "this FFmpeg has no AAC encoder", m_path.string());
        m_audio.reset(avcodec_alloc_context3(codec));
        m_audio->sample_fmt = AV_SAMPLE_FMT_FLTP;
        m_audio->sample_rate = audioRate;
        m_audio->bit_rate = 256000;
        m_audio->ch_layout = AV_CHANNEL_LAYOUT_STEREO;
        m_audio->time_base = {1, audioRate};
        m_audio->flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
        if (const int code = avcodec_open2(m_audio.get(), codec, nullptr); code < 0)
            return fail(ErrorCode::Unsupported, fmt::format("the AAC encoder does not start ({})", errorText(code)),
                        m_path.string());
        m_audioStream = avformat_new_stream(m_format.get(), nullptr);
        m_audioStream->time_base = m_audio->time_base;
        avcodec_parameters_from_context(m_audioStream->codecpar, m_audio.get());
        return {};
    }

    Expected<void> sendSound(const float* stereo, int count) {
        auto frame = makeFrame();
        frame->format = AV_SAMPLE_FMT_FLTP;
        frame->nb_samples = count;
        frame->sample_rate = audioRate;
        frame->ch_layout = AV_CHANNEL_LAYOUT_STEREO;
        if (av_frame_get_buffer(frame.get(), 0) < 0)
            return fail(ErrorCode::WriteFailed, "out of memory", m_path.string());
        auto *left = reinterpret_cast<float*>(frame->data[0]), *right = reinterpret_cast<float*>(frame->data[1]);
        for (int i = 0; i < count; ++i) left[i] = stereo[2 * i], right[i] = stereo[2 * i + 1];
        frame->pts = m_samples;
        m_samples += count;
        return send(m_audio.get(), m_audioStream, frame.get());
    }

    Expected<void> send(AVCodecContext* encoder, AVStream* stream, AVFrame* frame) {
        if (auto done = check(avcodec_send_frame(encoder, frame), "a frame could not be encoded"); !done) return done;
        auto packet = makePacket();
        while (avcodec_receive_packet(encoder, packet.get()) == 0) {
            packet->stream_index = stream->index;
            if (stream == m_videoStream && packet->duration == 0) packet->duration = 1;
            av_packet_rescale_ts(packet.get(), encoder->time_base, stream->time_base);
            if (auto done =
                    check(av_interleaved_write_frame(m_format.get(), packet.get()), "the file could not be written");
                !done)
                return done;
        }
        return {};
    }

    std::filesystem::path m_path;
    PartFile m_part;
    std::filesystem::path m_temporary;
    EncoderSettings m_settings;
    std::unique_ptr<AVFormatContext, FreeOutput> m_format;
    Owned<AVCodecContext> m_video, m_audio;
    std::optional<PlaneGraph> m_graph;
    Owned<AVFrame> m_planes;
    AVStream *m_videoStream = nullptr, *m_audioStream = nullptr;
    std::vector<float> m_sound;
    std::int64_t m_frames = 0, m_samples = 0;
};

} // namespace

Expected<std::unique_ptr<Encoder>> Encoder::open(const std::filesystem::path& path, const EncoderSettings& settings) {
    auto encoder = std::make_unique<Mp4Encoder>(path, settings);
    if (auto done = encoder->start(); !done) return tl::unexpected(done.error());
    return std::unique_ptr<Encoder>(std::move(encoder));
}

} // namespace virga
