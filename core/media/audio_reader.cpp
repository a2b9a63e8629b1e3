#include "core/media/audio_reader.h"

#include <algorithm>
#include <cmath>

#include "core/media/av_support.h"

namespace virga {

Expected<std::vector<float>> readAudio(const std::filesystem::path& path, Rational from, std::int64_t count,
                                       const Cancel& cancel, Rational speed) {
    using namespace av;
    std::vector<float> out(std::size_t(std::max<std::int64_t>(count, 0)) * audioChannels, 0.0f);
    auto opened = openInput(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    AVFormatContext* format = opened->get();
    const int index = av_find_best_stream(format, AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    if (index < 0) return fail(ErrorCode::Unsupported, "there is no sound in it", path.string());
    AVStream* stream = format->streams[index];
    auto decoder = openDecoder(stream, path.string());
    if (!decoder) return tl::unexpected(decoder.error());

    // Time 0 is the first picture's start, so that picture and sound of one file keep together.
    const int video = av_find_best_stream(format, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    const AVStream* clock = video >= 0 && !(format->streams[video]->disposition & AV_DISPOSITION_ATTACHED_PIC)
                                ? format->streams[video]
                                : stream;
    const Rational origin =
        clock->start_time != AV_NOPTS_VALUE ? seconds(clock->start_time, clock->time_base) : Rational(0);
    for (unsigned i = 0; i < format->nb_streams; ++i)
        if (int(i) != index) format->streams[i]->discard = AVDISCARD_ALL;

    const Rational early = origin + from - Rational(1, 5); // codecs need a run-up after a seek
    if (early > origin) {
        const auto stamp = floorToInteger(early / toRational(stream->time_base));
        av_seek_frame(format, index, stamp, AVSEEK_FLAG_BACKWARD);
    }
    AVChannelLayout stereo = AV_CHANNEL_LAYOUT_STEREO;
    Owned<SwrContext> resampler;
    auto packet = makePacket();
    auto frame = makeFrame();
    std::vector<float> block;
    std::int64_t at = INT64_MIN; // the output sample that the next converted sample is
    const auto place = [&](int samples) {
        for (int i = 0; i < samples; ++i, ++at)
            if (at >= 0 && at < count) std::copy_n(&block[std::size_t(i) * 2], 2, &out[std::size_t(at) * 2]);
    };
    const auto take = [&] {
        if (!resampler) {
            SwrContext* raw = nullptr;
            AVChannelLayout layout = frame->ch_layout;
            if (layout.order == AV_CHANNEL_ORDER_UNSPEC)
                av_channel_layout_default(&layout, frame->ch_layout.nb_channels);
            swr_alloc_set_opts2(&raw, &stereo, AV_SAMPLE_FMT_FLT, audioRate, &layout, AVSampleFormat(frame->format),
                                int(roundToInteger(Rational(frame->sample_rate) * speed)), 0, nullptr);
            resampler.reset(raw);
            if (!raw || swr_init(raw) < 0) return false;
            const auto stamp = frame->best_effort_timestamp != AV_NOPTS_VALUE ? frame->best_effort_timestamp : 0;
            at = roundToInteger((seconds(stamp, stream->time_base) - origin - from) / speed * Rational(audioRate));
        }
        block.resize(std::size_t(swr_get_out_samples(resampler.get(), frame->nb_samples)) * 2 + 64);
        auto* target = reinterpret_cast<std::uint8_t*>(block.data());
        const int got = swr_convert(resampler.get(), &target, int(block.size() / 2),
                                    const_cast<const std::uint8_t**>(frame->extended_data), frame->nb_samples);
        if (got > 0) place(got);
        return true;
    };
    bool more = true;
    while (more && at < count) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        more = av_read_frame(format, packet.get()) >= 0;
        if (more && packet->stream_index != index) {
            av_packet_unref(packet.get());
            continue;
        }
        avcodec_send_packet(decoder->get(), more ? packet.get() : nullptr);
        if (more) av_packet_unref(packet.get());
        while (at < count && avcodec_receive_frame(decoder->get(), frame.get()) == 0)
            if (!take())
                return fail(ErrorCode::Unsupported, "its sound cannot be converted", path.string(),
                            "convert it to 48 kHz stereo first");
    }
    if (resampler && at < count) { // what the resampler still holds
        block.resize(std::size_t(swr_get_out_samples(resampler.get(), 0)) * 2 + 64);
        auto* target = reinterpret_cast<std::uint8_t*>(block.data());
        const int got = swr_convert(resampler.get(), &target, int(block.size() / 2), nullptr, 0);
        if (got > 0) place(got);
    }
    return out;
}

} // namespace virga
