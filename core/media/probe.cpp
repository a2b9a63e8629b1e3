#include "core/media/probe.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <vector>

#include "core/base/sequence_path.h"
#include "core/media/reader_state.h"
#include "core/media/to_rgba.h"
#include "core/time/timecode.h"

namespace virga::av {
namespace {

// Degrees clockwise, a multiple of 90, from a display matrix (which av_display_rotation_get reads counter-clockwise).
int clockwise(const void* matrix) {
    const double turn = -av_display_rotation_get(static_cast<const std::int32_t*>(matrix));
    if (!std::isfinite(turn)) return 0;
    return ((int(std::lround(turn / 90)) % 4 + 4) % 4) * 90;
}

int rotationOf(const AVStream* stream, const AVFrame& first) {
    if (const auto* side = av_stream_get_side_data(stream, AV_PKT_DATA_DISPLAYMATRIX, nullptr)) return clockwise(side);
    if (const auto* side = av_frame_get_side_data(&first, AV_FRAME_DATA_DISPLAYMATRIX)) return clockwise(side->data);
    return 0;
}

bool isStill(const AVFormatContext* format, const PacketIndex& index, bool sequence) {
    const std::string name = format->iformat->name;
    if (sequence) return false;
    return index.times.size() == 1 &&
           (name.find("_pipe") != std::string::npos || name == "image2" || name == "gif" || name == "apng");
}

// Containers with a coarse clock jitter by one tick; only more than that is a variable rate.
bool isVariable(const AVStream* stream, const PacketIndex& index) {
    const auto jitter = index.longest - index.shortest;
    return index.times.size() > 2 && jitter > 1 && double(jitter) * av_q2d(stream->time_base) > 0.0015;
}

// The rate a person would name: the average where gaps are even. Where they are not (a phone that drops frames), the
// rate of the short gaps, which are those between frames that were not dropped.
FrameRate nominalRate(const AVStream* stream, const PacketIndex& index) {
    const auto count = std::int64_t(index.times.size());
    const Rational base = toRational(stream->time_base);
    Rational measured = count > 1 ? Rational(count - 1) / (Rational(index.times.back() - index.times.front()) * base)
                                  : toRational(stream->avg_frame_rate);
    if (isVariable(stream, index)) {
        std::vector<std::int64_t> gaps;
        for (std::size_t i = 1; i < index.times.size(); ++i) gaps.push_back(index.times[i] - index.times[i - 1]);
        std::nth_element(gaps.begin(), gaps.begin() + std::ptrdiff_t(gaps.size() / 4), gaps.end());
        measured = Rational(1) / (Rational(gaps[gaps.size() / 4]) * base);
        for (const Rational usual : {Rational(10), Rational(12), Rational(15), Rational(20), Rational(24), Rational(25),
                                     Rational(30), Rational(50), Rational(60), Rational(120)})
            if (std::abs(usual.toDouble() / measured.toDouble() - 1) < 0.04) return usual;
    }
    if (!isUsableRate(measured)) measured = toRational(stream->r_frame_rate);
    if (!isUsableRate(measured)) return 25;
    for (const Rational usual : {Rational(24000, 1001), Rational(24), Rational(25), Rational(30000, 1001), Rational(30),
                                 Rational(50), Rational(60000, 1001), Rational(60), Rational(120)})
        if (std::abs(usual.toDouble() / measured.toDouble() - 1) < 0.0005) return usual;
    return Rational(roundToInteger(measured * 1000), 1000);
}

VideoInfo describeVideo(const AVFormatContext* format, const AVStream* stream, const PacketIndex& index,
                        const AVFrame& first, bool sequence) {
    VideoInfo v;
    v.coded = {first.width, first.height};
    v.rotation = rotationOf(stream, first);
    const bool swap = v.rotation == 90 || v.rotation == 270;
    v.size = swap ? Size{first.height, first.width} : v.coded;
    Rational aspect =
        toRational(first.sample_aspect_ratio.num > 0 ? first.sample_aspect_ratio : stream->sample_aspect_ratio);
    if (aspect <= Rational(1, 16) || aspect >= Rational(16)) aspect = 1;
    v.pixelAspect = swap ? Rational(1) / aspect : aspect;
    v.still = isStill(format, index, sequence);
    v.frames = v.still ? 0 : std::int64_t(index.times.size());
    v.rate = v.still ? FrameRate(25) : nominalRate(stream, index);
    v.variableRate = !v.still && isVariable(stream, index);
    v.duration = v.still ? Rational(0) : seconds(index.end - index.times.front(), stream->time_base);
    v.codec = avcodec_get_name(stream->codecpar->codec_id);
    if (const char* name = av_get_pix_fmt_name(AVPixelFormat(first.format))) v.pixelFormat = name;
    v.bitDepth = bitDepthOf(first.format);
    const bool rgb =
        av_pix_fmt_desc_get(AVPixelFormat(first.format))->flags & (AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL);
    const int matrix = matrixOf(first);
    v.matrix = rgb ? "RGB" : matrix == SWS_CS_ITU709 ? "BT.709" : matrix == SWS_CS_BT2020 ? "BT.2020" : "BT.601";
    v.range = rgb || isFullRange(first) ? "full" : "limited";
    if (const char* name = av_color_transfer_name(first.color_trc)) v.transfer = name;
    v.interlaced = first.interlaced_frame || (stream->codecpar->field_order != AV_FIELD_UNKNOWN &&
                                              stream->codecpar->field_order != AV_FIELD_PROGRESSIVE);
    return v;
}

} // namespace

Expected<Owned<AVFrame>> firstPicture(AVFormatContext* format, AVCodecContext* decoder, int stream,
                                      const std::string& path) {
    auto packet = makePacket();
    auto frame = makeFrame();
    bool ended = false;
    for (int tries = 0; tries < 2000; ++tries) {
        const int got = avcodec_receive_frame(decoder, frame.get());
        if (got == 0) return frame;
        if (got == AVERROR_EOF || ended) break;
        const int code = av_read_frame(format, packet.get());
        if (code < 0) {
            avcodec_send_packet(decoder, nullptr);
            ended = avcodec_receive_frame(decoder, frame.get()) < 0;
            if (!ended) return frame;
        } else {
            if (packet->stream_index == stream) avcodec_send_packet(decoder, packet.get());
            av_packet_unref(packet.get());
        }
    }
    return fail(ErrorCode::Unreadable, "not one picture in it can be decoded", path,
                "copy it again, or export it again");
}

Expected<Opened> openAndDescribe(const std::filesystem::path& path, const Cancel& cancel) {
    auto format = openInput(path, cancel);
    if (!format) return tl::unexpected(format.error());
    Opened o;
    o.format = std::move(*format);
    AVFormatContext* f = o.format.get();
    o.info.path = path;
    o.info.container = f->iformat->name;
    const std::string name = path.string();
    o.video = av_find_best_stream(f, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    o.audio = av_find_best_stream(f, AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    if (o.video >= 0 && (f->streams[o.video]->disposition & AV_DISPOSITION_ATTACHED_PIC) && o.audio >= 0)
        o.video = -1; // a cover picture of a song
    if (o.video < 0 && o.audio < 0)
        return fail(ErrorCode::Unsupported, "there is neither picture nor sound in it", name,
                    "add video, picture or sound files");
    if (o.video >= 0) {
        AVStream* stream = f->streams[o.video];
        auto decoder = openDecoder(stream, name);
        if (!decoder) return tl::unexpected(decoder.error());
        auto first = firstPicture(f, decoder->get(), o.video, name);
        if (!first) return tl::unexpected(first.error());
        if ((*first)->width > 16384 || (*first)->height > 16384)
            return fail(ErrorCode::Unsupported,
                        fmt::format("its pictures are too large ({} x {})", (*first)->width, (*first)->height), name,
                        "make them smaller than 16384 a side");
        const std::string kind = f->iformat->name;
        const auto sequence = sequenceOf(path);
        const bool pipe =
            kind.find("_pipe") != std::string::npos || kind == "image2"; // still pictures: their demuxers cannot seek
        if (pipe ||
            av_seek_frame(f, -1, f->start_time == AV_NOPTS_VALUE ? 0 : f->start_time, AVSEEK_FLAG_BACKWARD) < 0) {
            auto again = openInput(path, cancel);
            if (!again) return tl::unexpected(again.error());
            o.format = std::move(*again);
            f = o.format.get();
            stream = f->streams[o.video];
        }
        auto index = indexPackets(f, o.video, name, cancel);
        if (!index) return tl::unexpected(index.error());
        o.index = std::move(*index);
        if (sequence && o.index.times.size() > std::size_t(sequence->count())) {
            o.index.times.resize(std::size_t(sequence->count()));
            std::erase_if(o.index.keys, [&](std::int64_t k) { return k > o.index.times.back(); });
            o.index.end = o.index.times.back() + 1;
        }
        o.info.video = describeVideo(f, stream, o.index, **first, sequence.has_value());
        const VideoInfo& v = *o.info.video;
        if (o.index.brokenOff)
            o.info.warnings.push_back(
                fmt::format("breaks off early: {} frames ({:.2f} s) could be read; copy it again to have the rest",
                            o.index.times.size(), v.duration.toDouble()));
        if (v.interlaced)
            o.info.warnings.push_back("interlaced: lines of two moments in one picture will show when it moves");
        if (v.transfer == "smpte2084" || v.transfer == "arib-std-b67")
            o.info.warnings.push_back("HDR: shown by the sRGB curve, so colours look flat");
    }
    if (o.audio >= 0) {
        const AVStream* stream = f->streams[o.audio];
        AudioInfo a;
        a.channels = stream->codecpar->ch_layout.nb_channels;
        a.sampleRate = stream->codecpar->sample_rate;
        a.codec = avcodec_get_name(stream->codecpar->codec_id);
        if (stream->duration != AV_NOPTS_VALUE)
            a.duration = seconds(stream->duration, stream->time_base);
        else if (f->duration != AV_NOPTS_VALUE)
            a.duration = Rational(f->duration, AV_TIME_BASE);
        if (a.channels > 0 && a.sampleRate > 0)
            o.info.audio = a;
        else
            o.audio = -1;
    }
    // The timecode that a camera wrote, in the container or on a stream of its own.
    const AVDictionaryEntry* timecode = av_dict_get(f->metadata, "timecode", nullptr, 0);
    for (unsigned i = 0; !timecode && i < f->nb_streams; ++i)
        timecode = av_dict_get(f->streams[i]->metadata, "timecode", nullptr, 0);
    if (timecode && o.info.video)
        if (const auto frame = frameOfTimecode(timecode->value, o.info.video->rate,
                                               std::string_view(timecode->value).find(';') != std::string::npos))
            o.info.timecode = secondsOfFrame(*frame, o.info.video->rate);
    if (!o.info.video && !o.info.audio)
        return fail(ErrorCode::Unreadable, "its sound cannot be read", name, "copy or export it again");
    return o;
}

} // namespace virga::av

namespace virga {

Expected<MediaInfo> probe(const std::filesystem::path& path, const Cancel& cancel) {
    auto opened = av::openAndDescribe(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    return opened->info;
}

} // namespace virga
