#include "core/audio/sound_decoder.h"

#include <algorithm>
#include <cmath>

#include "core/decode/packet_index.h"
#include "core/decode/reader_state.h"

namespace virga::av {
namespace {

constexpr std::int64_t longestSilence = 1 << 16; // samples of silence handed out at once

std::int64_t skippedAtStart(const AVPacket& packet) {
    std::size_t size = 0;
    const std::uint8_t* data = av_packet_get_side_data(&packet, AV_PKT_DATA_SKIP_SAMPLES, &size);
    return data && size >= 4 ? std::int64_t(data[0] | data[1] << 8 | data[2] << 16 | std::uint32_t(data[3]) << 24) : 0;
}

bool isCover(const AVStream* stream) {
    return stream->disposition & AV_DISPOSITION_ATTACHED_PIC;
}

} // namespace

Expected<std::unique_ptr<SoundDecoder>> SoundDecoder::open(const std::filesystem::path& path, const Cancel& cancel) {
    std::unique_ptr<SoundDecoder> sound(new SoundDecoder);
    sound->m_path = path;
    if (auto done = sound->openFile(cancel); !done) return tl::unexpected(done.error());
    auto origin = sound->originOf(cancel);
    if (!origin) return tl::unexpected(origin.error());
    sound->m_origin = *origin;
    // A clock whose ticks are longer than a sample cannot say where a packet begins.
    if (av_q2d(sound->m_tick) * sound->m_rate > 1.01) {
        sound->indexPackets(cancel);
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        if (auto done = sound->openFile(cancel); !done) return tl::unexpected(done.error());
    }
    return sound;
}

Expected<void> SoundDecoder::openFile(const Cancel& cancel) {
    auto opened = openInput(m_path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    m_format = std::move(*opened);
    m_stream = av_find_best_stream(m_format.get(), AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    if (m_stream < 0) return fail(ErrorCode::Unsupported, "there is no sound in it", m_path.string());
    AVStream* stream = m_format->streams[m_stream];
    auto decoder = openDecoder(stream, m_path.string());
    if (!decoder) return tl::unexpected(decoder.error());
    m_decoder = std::move(*decoder);
    m_tick = stream->time_base;
    m_rate = stream->codecpar->sample_rate;
    if (m_rate < lowestSoundRate || m_rate > highestSoundRate)
        return fail(ErrorCode::Unsupported, "its sound has no usable sample rate", m_path.string(),
                    "convert it to 48 kHz first");
    // AVI's stamps of sound are a count of what was read, and no news.
    m_dated = std::string_view(m_format->iformat->name) != "avi";
    for (unsigned i = 0; i < m_format->nb_streams; ++i)
        if (int(i) != m_stream) m_format->streams[i]->discard = AVDISCARD_ALL;
    m_placed = m_draining = false;
    m_waiting = {};
    return {};
}

// Time 0 is the first picture's start, so that picture and sound of one file keep together: the same first picture as
// in indexPackets().
Expected<Rational> SoundDecoder::originOf(const Cancel& cancel) const {
    const AVStream* own = m_format->streams[m_stream];
    const auto plain = own->start_time != AV_NOPTS_VALUE ? seconds(own->start_time, own->time_base) : Rational(0);
    const int video = av_find_best_stream(m_format.get(), AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    if (video < 0 || isCover(m_format->streams[video])) return plain;
    if (!m_dated) return Rational(0); // AVI: both are counted from the beginning
    auto format = openInput(m_path, cancel);
    if (!format) return tl::unexpected(format.error());
    const AVStream* stream = (*format)->streams[video];
    auto decoder = openDecoder((*format)->streams[video], m_path.string());
    if (!decoder) return plain; // pictures that nobody will see
    readOnly(format->get(), video);
    auto packet = makePacket();
    auto frame = makeFrame();
    std::int64_t undated = AV_NOPTS_VALUE;
    bool dated = true, more = true;
    for (int packets = 0; packets < 2000; ++packets) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", m_path.string());
        more = more && av_read_frame(format->get(), packet.get()) >= 0;
        if (more && packet->stream_index == video) {
            if (packet->pts == AV_NOPTS_VALUE) dated = false;
            if (undated == AV_NOPTS_VALUE) undated = packet->dts;
        }
        if (!more || packet->stream_index == video) avcodec_send_packet(decoder->get(), more ? packet.get() : nullptr);
        av_packet_unref(packet.get());
        const int got = avcodec_receive_frame(decoder->get(), frame.get());
        if (got == AVERROR_EOF) break;
        if (got < 0) continue;
        const auto stamp = dated ? stampOf(*frame) : undated;
        return stamp != AV_NOPTS_VALUE ? seconds(stamp, stream->time_base) : Rational(0);
    }
    return plain;
}

// A little more than a clock's tick, and than the jitter of cameras; less than the shortest packet in use (20 ms).
std::int64_t SoundDecoder::tolerance() const {
    return std::int64_t(std::ceil(m_rate * (0.010 + 1.5 * std::min(0.02, av_q2d(m_tick)))));
}

// Adds up how many samples each packet holds. Packets that do not say leave it to their stamps.
void SoundDecoder::indexPackets(const Cancel& cancel) {
    const AVStream* stream = m_format->streams[m_stream];
    AVCodecParserContext* parser = av_parser_init(stream->codecpar->codec_id);
    Owned<AVCodecContext> context(avcodec_alloc_context3(nullptr));
    avcodec_parameters_to_context(context.get(), stream->codecpar);
    if (parser) parser->flags |= PARSER_FLAG_COMPLETE_FRAMES;
    bool sure = true;
    std::int64_t place = 0;
    while (!cancel.requested() && av_read_frame(m_format.get(), m_packet.get()) >= 0) {
        const auto stamp = m_packet->pts != AV_NOPTS_VALUE ? m_packet->pts : m_packet->dts;
        if (m_packet->stream_index != m_stream || stamp == AV_NOPTS_VALUE) {
            av_packet_unref(m_packet.get());
            continue;
        }
        std::int64_t samples = av_get_audio_frame_duration2(stream->codecpar, m_packet->size);
        if (parser) {
            std::uint8_t* data = nullptr;
            int size = 0;
            av_parser_parse2(parser, context.get(), &data, &size, m_packet->data, m_packet->size, m_packet->pts,
                             m_packet->dts, m_packet->pos);
            if (parser->duration > 0) samples = av_rescale(parser->duration, m_rate, std::max(1, context->sample_rate));
        }
        auto skipped = m_known.empty() ? skippedAtStart(*m_packet) : 0;
        // Matroska tells it of the whole stream: what is dated before the beginning.
        if (m_known.empty() && skipped == 0 && stamp < 0) skipped = stream->codecpar->initial_padding;
        const auto stamped = placeOf(stamp + av_rescale_q(skipped, {1, m_rate}, m_tick)) - skipped;
        if (m_known.empty() || !sure || (m_dated && std::abs(stamped - place) > tolerance())) place = stamped;
        m_known.push_back({stamp, place});
        sure = samples > 0;
        place += std::max<std::int64_t>(samples, 0);
        av_packet_unref(m_packet.get());
    }
    if (parser) av_parser_close(parser);
    std::stable_sort(m_known.begin(), m_known.end(), [](const Known& a, const Known& b) { return a.stamp < b.stamp; });
}

std::int64_t SoundDecoder::placeOf(std::int64_t stamp) const {
    return roundToInteger((seconds(stamp, m_tick) - m_origin) * Rational(m_rate));
}

bool SoundDecoder::seekTo(std::int64_t stamp) {
    avcodec_flush_buffers(m_decoder.get());
    m_placed = m_draining = false;
    m_waiting = {};
    return av_seek_frame(m_format.get(), m_stream, stamp, AVSEEK_FLAG_BACKWARD) >= 0;
}

bool SoundDecoder::seek(std::int64_t place) {
    const auto second = std::max<std::int64_t>(1, av_rescale_q(1, {1, 1}, m_tick));
    const auto target = floorToInteger((Rational(place, m_rate) + m_origin) / toRational(m_tick));
    const auto runUp = second / 4; // bit reservoirs, overlapping windows
    for (const auto earlier : {runUp, 2 * second, 8 * second}) {
        if (place <= m_rate) break; // the file's beginning is as near
        if (!seekTo(target - earlier)) continue;
        Run first = next({});
        if (first.count() == 0 || first.place > place) continue;
        m_waiting = std::move(first);
        return true;
    }
    return bool(openFile({}));
}

// Whatever the decoder gives, as stereo floats: mono as loud on both sides, more channels by ITU-R BS.775.
bool SoundDecoder::prepareMix() {
    const AVFrame& frame = *m_frame;
    const auto mask = frame.ch_layout.order == AV_CHANNEL_ORDER_NATIVE ? frame.ch_layout.u.mask : 0;
    if (m_mix && frame.format == m_mixFormat && frame.sample_rate == m_mixRate &&
        frame.ch_layout.nb_channels == m_mixChannels && mask == m_mixMask)
        return true;
    m_mixFormat = frame.format, m_mixRate = frame.sample_rate, m_mixChannels = frame.ch_layout.nb_channels;
    m_mixMask = mask;
    AVChannelLayout stereo = AV_CHANNEL_LAYOUT_STEREO, layout{};
    if (frame.ch_layout.order == AV_CHANNEL_ORDER_UNSPEC)
        av_channel_layout_default(&layout, frame.ch_layout.nb_channels);
    else
        av_channel_layout_copy(&layout, &frame.ch_layout);
    SwrContext* raw = nullptr;
    swr_alloc_set_opts2(&raw, &stereo, AV_SAMPLE_FMT_FLT, m_rate, &layout, AVSampleFormat(frame.format),
                        frame.sample_rate, 0, nullptr);
    av_channel_layout_uninit(&layout);
    m_mix.reset(raw);
    if (!raw) return false;
    av_opt_set_sample_fmt(raw, "internal_sample_fmt", AV_SAMPLE_FMT_FLTP, 0);
    // BS.775's sums stay as they are: what is too loud is limited where everything is mixed.
    av_opt_set_double(raw, "rematrix_maxval", 1e6, 0);
    const double both[2] = {1, 1};
    if (m_mixChannels == 1) swr_set_matrix(raw, both, 1);
    return swr_init(raw) >= 0;
}

SoundDecoder::Run SoundDecoder::taken() {
    Run run;
    if (m_frame->sample_rate <= 0 || m_frame->nb_samples <= 0 || !prepareMix()) return run;
    const auto room = swr_get_out_samples(m_mix.get(), m_frame->nb_samples);
    if (room <= 0) return run;
    run.stereo.resize(std::size_t(room) * 2);
    auto* target = reinterpret_cast<std::uint8_t*>(run.stereo.data());
    const int got = swr_convert(m_mix.get(), &target, room, const_cast<const std::uint8_t**>(m_frame->extended_data),
                                m_frame->nb_samples);
    run.stereo.resize(std::size_t(std::max(got, 0)) * 2);
    for (float& v : run.stereo)
        if (!std::isfinite(v)) v = 0;
    const auto stamp = m_frame->pts != AV_NOPTS_VALUE ? m_frame->pts : m_frame->best_effort_timestamp;
    run.place = m_at;
    if (stamp != AV_NOPTS_VALUE && (m_dated || !m_placed)) {
        auto place = placeOf(stamp);
        const auto known = std::lower_bound(m_known.begin(), m_known.end(), stamp,
                                            [](const Known& k, std::int64_t s) { return k.stamp < s; });
        if (known != m_known.end() && known->stamp == stamp) place = known->place;
        if (!m_placed || std::abs(place - m_at) > tolerance()) run.place = place;
    }
    return run;
}

SoundDecoder::Run SoundDecoder::next(const Cancel& cancel) {
    Run run = std::move(m_waiting);
    m_waiting = {};
    while (run.count() == 0 && !cancel.requested()) {
        const int code = avcodec_receive_frame(m_decoder.get(), m_frame.get());
        if (code == 0) {
            run = taken();
            continue;
        }
        if (code == AVERROR_EOF || m_draining) return {};
        const bool more = av_read_frame(m_format.get(), m_packet.get()) >= 0;
        if (!more) m_draining = true;
        if (!more || m_packet->stream_index == m_stream)
            avcodec_send_packet(m_decoder.get(), more ? m_packet.get() : nullptr);
        if (more) av_packet_unref(m_packet.get());
    }
    if (run.count() == 0) return {};
    if (m_placed && run.place > m_at) { // a hole: silence first
        Run silence{m_at, std::vector<float>(std::size_t(2 * std::min(run.place - m_at, longestSilence)), 0.0f)};
        m_waiting = std::move(run);
        m_at += silence.count();
        return silence;
    }
    if (m_placed && run.place < m_at) { // too much: what was there already
        const auto over = std::min(m_at - run.place, run.count());
        run.stereo.erase(run.stereo.begin(), run.stereo.begin() + std::ptrdiff_t(2 * over));
        run.place += over;
        if (run.count() == 0) return next(cancel);
    }
    m_placed = true;
    m_at = run.place + run.count();
    return run;
}

} // namespace virga::av
