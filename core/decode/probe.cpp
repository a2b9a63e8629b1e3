#include "core/decode/probe.h"

#include <fmt/format.h>

#include "core/base/sequence_path.h"
#include "core/base/timecode.h"
#include "core/decode/reader_state.h"

namespace virga::av {

void readOnly(AVFormatContext* format, int stream) {
    for (unsigned i = 0; i < format->nb_streams; ++i)
        if (int(i) != stream) format->streams[i]->discard = AVDISCARD_ALL;
    // Program streams date some packets only. Where pictures are reordered by one place at most FFmpeg can tell the
    // others; H.264 and H.265 go by their own order, and so does AVI, which dates none.
    const auto codec = format->streams[stream]->codecpar->codec_id;
    const bool avi = std::string_view(format->iformat->name) == "avi";
    if (codec != AV_CODEC_ID_H264 && codec != AV_CODEC_ID_HEVC && !avi) format->flags |= AVFMT_FLAG_GENPTS;
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
        const auto tooLarge = [&](int width, int height) -> tl::unexpected<Error> {
            return fail(ErrorCode::Unsupported, fmt::format("its pictures are too large ({} x {})", width, height),
                        name, fmt::format("make them smaller than {} a side", largestPicture));
        };
        const AVCodecParameters& coded = *stream->codecpar;
        if (coded.width > largestPicture || coded.height > largestPicture) return tooLarge(coded.width, coded.height);
        auto decoder = openDecoder(stream, name);
        if (!decoder) return tl::unexpected(decoder.error());
        readOnly(f, o.video);
        auto first = makeFrame();
        // The demuxer of numbered pictures goes on as long as there are numbers; a sequence ends where it says.
        const auto sequence = sequenceOf(path);
        const auto most = sequence ? std::size_t(sequence->count()) : SIZE_MAX;
        auto index = indexPackets(f, o.video, decoder->get(), first.get(), name, most, cancel);
        if (!index) return tl::unexpected(index.error());
        o.index = std::move(*index);
        if (first->width > largestPicture || first->height > largestPicture)
            return tooLarge(first->width, first->height);
        o.decoded = {first->width, first->height};
        o.info.video = describeVideo(f, stream, o.index, *first, path);
        const VideoInfo& v = *o.info.video;
        o.info.brokenOff = o.index.brokenOff;
        if (o.index.brokenOff)
            o.info.warnings.push_back(
                fmt::format("breaks off early: {} frames ({:.2f} s) could be read; copy it again to have the rest",
                            o.index.stamps.size(), v.duration.toDouble()));
        for (auto& note : notesOn(v)) o.info.warnings.push_back(std::move(note));
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
        // Matroska's length is counted from time 0, however late its sound begins.
        const bool fromZero = std::string_view(f->iformat->name).starts_with("matroska");
        if (o.video < 0 && fromZero && f->start_time != AV_NOPTS_VALUE && f->start_time > 0)
            a.duration = std::max(Rational(0), a.duration - Rational(f->start_time, AV_TIME_BASE));
        if (a.channels > 0 && a.sampleRate >= lowestSoundRate && a.sampleRate <= highestSoundRate)
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

Expected<Opened> openPictures(const std::filesystem::path& path, const Cancel& cancel) {
    auto opened = openAndDescribe(path, cancel);
    if (opened && !opened->info.video)
        return fail(ErrorCode::Unsupported, "there is only sound in it", path.string(), "use it as music");
    return opened;
}

} // namespace virga::av

namespace virga {

Expected<MediaInfo> probe(const std::filesystem::path& path, const Cancel& cancel) {
    auto opened = av::openAndDescribe(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    return opened->info;
}

} // namespace virga
