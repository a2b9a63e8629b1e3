#include "core/media/av_support.h"

#include <fmt/format.h>

namespace virga::av {
namespace fs = std::filesystem;

void quiet() {
    [[maybe_unused]] static const bool once = (av_log_set_level(AV_LOG_QUIET), true);
}

std::string errorText(int code) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(code, text, sizeof text);
    return text;
}

Expected<Owned<AVFormatContext>> openInput(const fs::path& path, const Cancel& cancel) {
    quiet();
    std::error_code ec;
    const auto status = fs::status(path, ec);
    if (!fs::exists(status))
        return fail(ErrorCode::NotFound, "there is no such file", path.string(), "look for it where it was moved to");
    if (fs::is_directory(status))
        return fail(ErrorCode::Unreadable, "this is a folder", path.string(), "add the files inside it");
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
    decoder->pkt_timebase = stream->time_base;
    if (const int code = avcodec_open2(decoder.get(), codec, nullptr); code < 0)
        return fail(ErrorCode::Unsupported, fmt::format("its decoder does not start ({})", errorText(code)), path,
                    "convert it to H.264 first");
    return decoder;
}

} // namespace virga::av
