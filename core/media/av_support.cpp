#include "core/media/av_support.h"

#include <cstdlib>
#include <cstring>

#include <fmt/format.h>

#include "core/base/file.h"
#include "core/base/sequence_path.h"

namespace virga::av {
namespace {

// Streams hold numbers without a meaning. In a field of an enumeration they may not even be looked at as one.
template <class Enum> void keepWhatIsKnown(Enum& field, Enum past, Enum unspecified) {
    int number = 0;
    static_assert(sizeof number == sizeof field);
    std::memcpy(&number, &field, sizeof number);
    if (number < 0 || number >= past) field = unspecified;
}

} // namespace

namespace fs = std::filesystem;

void quiet() {
    [[maybe_unused]] static const bool once = [] {
        av_log_set_level(AV_LOG_QUIET);
        ::setenv("SVT_LOG", "1", 0); // SVT-AV1 tells only its errors
        return true;
    }();
}

int receivePicture(AVCodecContext* decoder, AVFrame* picture) {
    const int code = avcodec_receive_frame(decoder, picture);
    keepWhatIsKnown(picture->colorspace, AVCOL_SPC_NB, AVCOL_SPC_UNSPECIFIED);
    keepWhatIsKnown(picture->color_primaries, AVCOL_PRI_NB, AVCOL_PRI_UNSPECIFIED);
    keepWhatIsKnown(picture->color_trc, AVCOL_TRC_NB, AVCOL_TRC_UNSPECIFIED);
    keepWhatIsKnown(picture->color_range, AVCOL_RANGE_NB, AVCOL_RANGE_UNSPECIFIED);
    keepWhatIsKnown(picture->chroma_location, AVCHROMA_LOC_NB, AVCHROMA_LOC_UNSPECIFIED);
    return code;
}

std::string errorText(int code) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(code, text, sizeof text);
    return text;
}

namespace {

// Numbered pictures through FFmpeg's image2 demuxer, 25 a second.
Expected<Owned<AVFormatContext>> openSequence(const SequencePath& sequence, const Cancel& cancel) {
    const std::string name = sequence.path().string();
    std::error_code ec;
    for (long n = sequence.first; n <= sequence.last; ++n) {
        if (fs::exists(sequence.picture(n), ec)) continue;
        return fail(ErrorCode::NotFound, fmt::format("picture {} of the sequence is not there", n), name,
                    "look for " + sequence.picture(n).filename().string());
    }
    AVFormatContext* raw = avformat_alloc_context();
    raw->opaque = new Cancel(cancel);
    raw->interrupt_callback = {[](void* flag) { return int(static_cast<const Cancel*>(flag)->requested()); },
                               raw->opaque};
    auto* const flag = static_cast<Cancel*>(raw->opaque);
    AVDictionary* options = nullptr;
    av_dict_set_int(&options, "start_number", sequence.first, 0);
    av_dict_set(&options, "framerate", "25", 0);
    av_dict_set(&options, "pattern_type", "sequence", 0);
    // A "%" in the names would be taken for a pattern: doubled, it stands for itself.
    std::string pattern;
    for (const char c : (sequence.folder / sequence.before).string()) pattern += c == '%' ? "%%" : std::string(1, c);
    pattern += fmt::format("%0{}d{}", sequence.digits, sequence.after);
    const int code = avformat_open_input(&raw, pattern.c_str(), av_find_input_format("image2"), &options);
    av_dict_free(&options);
    if (code < 0) {
        delete flag;
        return fail(ErrorCode::Unreadable, fmt::format("the pictures cannot be opened ({})", errorText(code)), name,
                    "check the files and their permissions");
    }
    Owned<AVFormatContext> format(raw);
    if (avformat_find_stream_info(raw, nullptr) < 0)
        return fail(ErrorCode::Unreadable, "its pictures cannot be read", name, "copy or export them again");
    // The demuxer goes on as long as there are numbers; the sequence ends where it says.
    raw->streams[0]->duration = sequence.count();
    return format;
}

} // namespace

Expected<Owned<AVFormatContext>> openInput(const fs::path& path, const Cancel& cancel) {
    quiet();
    std::error_code ec;
    if (const auto sequence = sequenceOf(path)) return openSequence(*sequence, cancel);
    if (auto may = mayRead(path); !may) return tl::unexpected(may.error());
    if (fs::file_size(path, ec) == 0 && !ec)
        return fail(ErrorCode::Unreadable, "the file is empty", path.string(), "copy it again from the camera");
    AVFormatContext* raw = avformat_alloc_context();
    // FFmpeg copies this callback into the opened file, so the flag must live as long as the context: Free deletes it.
    raw->opaque = new Cancel(cancel);
    raw->interrupt_callback = {[](void* flag) { return int(static_cast<const Cancel*>(flag)->requested()); },
                               raw->opaque};
    // "file:" keeps names like "a:b.mp4" or "-" from being taken for a protocol.
    const std::string url = "file:" + path.string();
    auto* const flag = static_cast<Cancel*>(raw->opaque);
    if (const int code = avformat_open_input(&raw, url.c_str(), nullptr, nullptr); code < 0) {
        delete flag; // a failed opening frees the context, but not this
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        if (code == AVERROR_INVALIDDATA)
            return fail(ErrorCode::Unreadable,
                        "this is not a video, picture or sound file, or its beginning or index is missing (a copy that "
                        "was cut short?)",
                        path.string(), "copy it again, or export it again from where it was made");
        return fail(ErrorCode::Unreadable, fmt::format("cannot be opened ({})", errorText(code)), path.string(),
                    "check the file and its permissions");
    }
    Owned<AVFormatContext> format(raw);
    // Subtitle and text demuxers take almost any bytes; a picture or sound must really be inside.
    const int code = avformat_find_stream_info(raw, nullptr);
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
    if (code == AVERROR_EOF || code == AVERROR_INVALIDDATA)
        return fail(ErrorCode::Unreadable,
                    "this is not a video, picture or sound file, or hardly anything of it is there", path.string(),
                    "copy it again, or export it again from where it was made");
    if (code < 0)
        return fail(ErrorCode::Unreadable, fmt::format("its streams cannot be read ({})", errorText(code)),
                    path.string(), "copy or export it again");
    return format;
}

Expected<Owned<AVCodecContext>> openDecoder(AVStream* stream, const std::string& path) {
    const AVCodec* codec = avcodec_find_decoder(stream->codecpar->codec_id);
    if (!codec)
        return fail(
            ErrorCode::Unsupported,
            fmt::format("there is no decoder for its format ({})", avcodec_get_name(stream->codecpar->codec_id)), path,
            "convert it to H.264 first");
    Owned<AVCodecContext> decoder(avcodec_alloc_context3(codec));
    avcodec_parameters_to_context(decoder.get(), stream->codecpar);
    decoder->thread_count = 2;
    decoder->max_pixels = std::int64_t(largestPicture) * largestPicture;
    decoder->pkt_timebase = stream->time_base;
    if (const int code = avcodec_open2(decoder.get(), codec, nullptr); code < 0)
        return fail(ErrorCode::Unsupported, fmt::format("its decoder does not start ({})", errorText(code)), path,
                    "convert it to H.264 first");
    return decoder;
}

} // namespace virga::av
