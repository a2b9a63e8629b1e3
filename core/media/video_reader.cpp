#include "core/media/video_reader.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/media/reader_state.h"
#include "core/media/to_rgba.h"

namespace virga {
namespace {

using namespace av;

class FileReader : public VideoReader {
public:
    FileReader(Opened opened, Owned<AVCodecContext> decoder)
        : m_opened(std::move(opened)), m_decoder(std::move(decoder)), m_packet(makePacket()), m_frame(makeFrame()) {}

    const MediaInfo& info() const override { return m_opened.info; }

    std::int64_t indexAt(Rational seconds) const override {
        if (video().still) return 0;
        const auto& times = m_opened.index.times;
        // The last picture that starts at or before the time. Compared as exact rationals: no rounding picks a
        // neighbour.
        const auto after = std::upper_bound(times.begin(), times.end(), seconds,
                                            [this](const Rational& s, std::int64_t t) { return s < fromStart(t); });
        return std::max<std::int64_t>(0, after - times.begin() - 1);
    }

    Rational timeOf(std::int64_t index) const override {
        return fromStart(m_opened.index.times.at(std::size_t(index)));
    }

    Expected<Image<Linear16>> read(std::int64_t index) override {
        const auto& times = m_opened.index.times;
        index = std::clamp<std::int64_t>(index, 0, std::int64_t(times.size()) - 1);
        const auto wanted = times[std::size_t(index)];
        if (!canGoForwardTo(wanted) && !seekBefore(wanted)) return unreadable(index);
        if (decodeTo(wanted)) return convert();
        // Some files lie about their key frames: go back to the very start once before giving up.
        if (restart() && decodeTo(wanted)) return convert();
        return unreadable(index);
    }

private:
    const VideoInfo& video() const { return *m_opened.info.video; }
    AVStream* stream() const { return m_opened.format->streams[m_opened.video]; }
    Rational fromStart(std::int64_t stamp) const {
        return seconds(stamp - m_opened.index.times.front(), stream()->time_base);
    }
    std::string name() const { return m_opened.info.path.string(); }

    tl::unexpected<Error> unreadable(std::int64_t index) {
        m_position = noPosition;
        return fail(ErrorCode::Unreadable,
                    fmt::format("the picture at {:.3f} s cannot be decoded", timeOf(index).toDouble()), name(),
                    "copy the file again, or trim the clip before this place");
    }

    Expected<Image<Linear16>> convert() { return m_converter.convert(*m_frame, video().rotation, name()); }

    std::int64_t keyBefore(std::int64_t stamp) const {
        const auto& keys = m_opened.index.keys;
        const auto after = std::upper_bound(keys.begin(), keys.end(), stamp);
        return after == keys.begin() ? m_opened.index.times.front() : *(after - 1);
    }

    bool canGoForwardTo(std::int64_t stamp) const {
        if (m_position == noPosition || m_position > stamp) return false;
        return m_position == stamp || keyBefore(stamp) <= m_position;
    }

    bool seekBefore(std::int64_t stamp) {
        if (video().still) return restart();
        avcodec_flush_buffers(m_decoder.get());
        m_ended = false;
        m_position = noPosition;
        if (av_seek_frame(m_opened.format.get(), m_opened.video, keyBefore(stamp), AVSEEK_FLAG_BACKWARD) >= 0)
            return true;
        return restart();
    }

    // Still pictures and formats that cannot seek are opened anew.
    bool restart() {
        m_position = noPosition;
        m_ended = false;
        avcodec_flush_buffers(m_decoder.get());
        if (!video().still && av_seek_frame(m_opened.format.get(), m_opened.video, m_opened.index.times.front(),
                                            AVSEEK_FLAG_BACKWARD) >= 0)
            return true;
        auto format = openInput(m_opened.info.path, {});
        if (!format) return false;
        m_opened.format = std::move(*format);
        return true;
    }

    // Decodes forward until the picture with that stamp is in m_frame. Pictures are told by their own stamps, so open
    // groups and reordered frames come out right.
    bool decodeTo(std::int64_t wanted) {
        if (m_position == wanted) return true;
        int failures = 0;
        while (true) {
            const int code = avcodec_receive_frame(m_decoder.get(), m_frame.get());
            if (code == 0) {
                m_position =
                    m_frame->best_effort_timestamp != AV_NOPTS_VALUE ? m_frame->best_effort_timestamp : m_frame->pts;
                if (video().still) m_position = wanted;
                if (m_position == wanted) return true;
                if (m_position > wanted) return false;
                continue;
            }
            if (code == AVERROR_EOF || m_ended) return false;
            if (code != AVERROR(EAGAIN) && ++failures > 64) return false;
            const int read = av_read_frame(m_opened.format.get(), m_packet.get());
            if (read < 0) {
                avcodec_send_packet(m_decoder.get(), nullptr);
                m_ended = avcodec_receive_frame(m_decoder.get(), m_frame.get()) < 0;
                if (m_ended) return false;
                m_position = video().still ? wanted : m_frame->best_effort_timestamp;
                if (m_position == wanted) return true;
                continue;
            }
            if (m_packet->stream_index == m_opened.video) avcodec_send_packet(m_decoder.get(), m_packet.get());
            av_packet_unref(m_packet.get());
        }
    }

    static constexpr std::int64_t noPosition = INT64_MIN;
    Opened m_opened;
    Owned<AVCodecContext> m_decoder;
    Owned<AVPacket> m_packet;
    Owned<AVFrame> m_frame;
    ToLinear m_converter;
    std::int64_t m_position = noPosition; // the stamp of the picture in m_frame
    bool m_ended = false;
};

} // namespace

Expected<std::unique_ptr<VideoReader>> VideoReader::open(const std::filesystem::path& path, const Cancel& cancel) {
    auto opened = av::openAndDescribe(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    if (!opened->info.video)
        return fail(ErrorCode::Unsupported, "there is only sound in it", path.string(), "use it as music");
    auto decoder = av::openDecoder(opened->format->streams[opened->video], path.string());
    if (!decoder) return tl::unexpected(decoder.error());
    for (unsigned i = 0; i < opened->format->nb_streams; ++i)
        if (int(i) != opened->video) opened->format->streams[i]->discard = AVDISCARD_ALL;
    return std::unique_ptr<VideoReader>(new FileReader(std::move(*opened), std::move(*decoder)));
}

} // namespace virga
