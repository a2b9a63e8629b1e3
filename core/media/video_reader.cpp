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
        if (canGoForwardTo(wanted) && decodeTo(wanted) && !m_keyLied) return convert();
        while (true) {
            const auto key = keyBefore(wanted);
            if (!seekTo(key)) return unreadable(index);
            const bool found = decodeTo(wanted);
            // Some files mark key frames that cannot be decoded from: what follows them comes out torn. Such a mark is
            // forgotten, and an earlier one tried, down to the very first picture.
            auto& keys = m_opened.index.keys;
            const auto marked = std::find(keys.begin(), keys.end(), key);
            if (m_keyLied && marked != keys.end() && key != times.front()) {
                keys.erase(marked);
                continue;
            }
            if (found) return convert();
            if (key == times.front() || marked == keys.end()) return unreadable(index);
            keys.erase(marked);
        }
    }

private:
    const VideoInfo& video() const { return *m_opened.info.video; }
    AVStream* stream() const { return m_opened.format->streams[m_opened.video]; }
    Rational fromStart(std::int64_t stamp) const {
        return seconds(stamp - m_opened.index.times.front(), stream()->time_base);
    }
    std::string name() const { return m_opened.info.path.string(); }

    tl::unexpected<Error> unreadable(std::int64_t index) {
        forgetPosition();
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

    bool seekTo(std::int64_t key) {
        if (video().still) return restart();
        avcodec_flush_buffers(m_decoder.get());
        forgetPosition();
        const auto& times = m_opened.index.times;
        m_next = std::lower_bound(times.begin(), times.end(), key) - times.begin();
        if (av_seek_frame(m_opened.format.get(), m_opened.video, key, AVSEEK_FLAG_BACKWARD) >= 0) return true;
        return restart();
    }

    void forgetPosition() {
        m_position = noPosition;
        m_next = 0;
        m_sinceSeek = 0;
        m_keyLied = m_ended = m_draining = false;
    }

    // Still pictures and formats that cannot seek are opened anew.
    bool restart() {
        forgetPosition();
        avcodec_flush_buffers(m_decoder.get());
        if (!video().still && av_seek_frame(m_opened.format.get(), m_opened.video, m_opened.index.times.front(),
                                            AVSEEK_FLAG_BACKWARD) >= 0)
            return true;
        auto format = openInput(m_opened.info.path, {});
        if (!format) return false;
        m_opened.format = std::move(*format);
        return true;
    }

    // Notes which picture is in m_frame: by its own stamp, so that open groups and reordered frames come out right, or
    // by counting where the file has no stamps (AVI).
    void noteFrame() {
        const auto& times = m_opened.index.times;
        if (m_opened.index.stamped)
            m_position =
                m_frame->best_effort_timestamp != AV_NOPTS_VALUE ? m_frame->best_effort_timestamp : m_frame->pts;
        else
            m_position = times[std::size_t(std::min<std::int64_t>(m_next, std::int64_t(times.size()) - 1))];
        ++m_next;
        constexpr int blame = 8; // torn pictures right after a seek are the key frame's fault, later ones the file's
        if (m_sinceSeek++ < blame && (m_frame->decode_error_flags != 0 || (m_frame->flags & AV_FRAME_FLAG_CORRUPT)))
            m_keyLied = true;
    }

    // Decodes forward until the picture with that stamp is in m_frame. Where the decoder leaves it out, the next one
    // stands in for it, and at the end of the file the last one.
    bool decodeTo(std::int64_t wanted) {
        if (m_position != noPosition && m_position >= wanted) return true;
        int failures = 0;
        while (true) {
            const int code = avcodec_receive_frame(m_decoder.get(), m_spare.get());
            if (code == 0) {
                std::swap(m_frame, m_spare);
                noteFrame();
                if (video().still || m_position >= wanted) return true;
                continue;
            }
            if (code == AVERROR_EOF || m_ended) return m_position != noPosition && nearEnd(wanted);
            if (code != AVERROR(EAGAIN) && ++failures > 64) return false;
            if (av_read_frame(m_opened.format.get(), m_packet.get()) < 0) {
                if (m_draining) m_ended = true;
                m_draining = true;
                avcodec_send_packet(m_decoder.get(), nullptr);
                continue;
            }
            if (m_packet->stream_index == m_opened.video) avcodec_send_packet(m_decoder.get(), m_packet.get());
            av_packet_unref(m_packet.get());
        }
    }

    // True where only the last few pictures, which a damaged or cut file may lack, lie after the one that is there.
    bool nearEnd(std::int64_t wanted) const {
        const auto& times = m_opened.index.times;
        return std::upper_bound(times.begin(), times.end(), m_position) + 4 >=
               std::lower_bound(times.begin(), times.end(), wanted);
    }

    static constexpr std::int64_t noPosition = INT64_MIN;
    Opened m_opened;
    Owned<AVCodecContext> m_decoder;
    Owned<AVPacket> m_packet;
    Owned<AVFrame> m_frame;
    ToLinear m_converter;
    Owned<AVFrame> m_spare = makeFrame();
    std::int64_t m_position = noPosition; // the stamp of the picture in m_frame
    std::int64_t m_next = 0;              // the index of the picture that comes out next, where they are counted
    int m_sinceSeek = 0;
    bool m_ended = false, m_draining = false, m_keyLied = false;
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
