#include "core/decode/av_support.h"

#include <cstdlib>
#include <cstring>

#include <fmt/format.h>

#include "core/base/file.h"
#include "core/base/sequence_path.h"
#include "core/decode/readable_containers.h"

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

bool Door::isNamed(const fs::path& path) const {
    if (!sequence) return path == file;
    const std::string name = path.filename().string();
    return path.parent_path() == sequence->folder && name.starts_with(sequence->before) &&
           name.ends_with(sequence->after);
}

std::string errorText(int code) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(code, text, sizeof text);
    return text;
}

namespace {

// Opens what FFmpeg wants opened: the file that a person named, or the pictures of a sequence, and nothing else. A film
// can name others (playlists, reference films, pictures beside it); none of them is touched.
int openNamedOnly(AVFormatContext* format, AVIOContext** file, const char* url, int flags, AVDictionary** options) {
    *file = nullptr;
    const auto& door = *static_cast<const Door*>(format->opaque);
    std::string_view name = url;
    if (name.starts_with("file:")) name.remove_prefix(5);
    if ((flags & AVIO_FLAG_WRITE) != 0 || !door.isNamed(fs::path(name)) || !mayRead(fs::path(name)))
        return AVERROR(EACCES);
    // "file:" keeps names like "a:b.mp4" or "-" from being taken for a protocol.
    return avio_open2(file, ("file:" + std::string(name)).c_str(), flags, &format->interrupt_callback, options);
}

// A context that opens files by openNamedOnly. Free deletes the door.
AVFormatContext* contextWith(std::unique_ptr<Door> door) {
    AVFormatContext* raw = avformat_alloc_context();
    raw->interrupt_callback = {[](void* d) { return int(static_cast<const Door*>(d)->cancel.requested()); },
                               door.get()};
    raw->opaque = door.release();
    raw->io_open = openNamedOnly;
    raw->protocol_whitelist = av_strdup("file");
    raw->format_whitelist = av_strdup(readableContainers);
    return raw;
}

// FFmpeg's reader of pictures that lie in files of their own, numbered ones included.
constexpr std::string_view pictureReader = "image2";

// Which reader knows a file's content. The name counts by its ending alone: in a whole name FFmpeg would find patterns
// ("a%03d.png" is its neighbours). Returns an AVERROR where none does.
int readerOf(const fs::path& path, const Cancel& cancel, const AVInputFormat** reader) {
    Door door{cancel, path, {}};
    AVIOContext* file = nullptr;
    const AVIOInterruptCB interrupt{[](void* d) { return int(static_cast<const Door*>(d)->cancel.requested()); },
                                    &door};
    if (const int code = avio_open2(&file, ("file:" + path.string()).c_str(), AVIO_FLAG_READ, &interrupt, nullptr);
        code < 0)
        return code;
    std::string ending = path.extension().string();
    if (ending.find_first_of("%*?{[") != ending.npos) ending.clear();
    const int code = av_probe_input_buffer2(file, reader, ("file" + ending).c_str(), nullptr, 0, 0);
    avio_closep(&file);
    return code < 0 ? code : 0;
}

// Numbered pictures through FFmpeg's image2 demuxer, 25 a second.
Expected<Owned<AVFormatContext>> openSequence(const SequencePath& sequence, const Cancel& cancel) {
    const std::string name = sequence.path().string();
    std::error_code ec;
    for (long n = sequence.first; n <= sequence.last; ++n) {
        if (fs::exists(sequence.picture(n), ec)) {
            if (auto may = mayRead(sequence.picture(n)); !may) return tl::unexpected(may.error());
            continue;
        }
        return fail(ErrorCode::NotFound, fmt::format("picture {} of the sequence is not there", n), name,
                    "look for " + sequence.picture(n).filename().string());
    }
    AVFormatContext* raw = contextWith(std::make_unique<Door>(Door{cancel, {}, sequence}));
    av_freep(&raw->format_whitelist);
    auto* const door = static_cast<Door*>(raw->opaque);
    AVDictionary* options = nullptr;
    av_dict_set_int(&options, "start_number", sequence.first, 0);
    av_dict_set(&options, "framerate", "25", 0);
    av_dict_set(&options, "pattern_type", "sequence", 0);
    // A "%" in the names would be taken for a pattern: doubled, it stands for itself.
    std::string pattern;
    for (const char c : (sequence.folder / sequence.before).string()) pattern += c == '%' ? "%%" : std::string(1, c);
    pattern += fmt::format("%0{}d{}", sequence.digits, sequence.after);
    const int code = avformat_open_input(&raw, pattern.c_str(), av_find_input_format(pictureReader.data()), &options);
    av_dict_free(&options);
    if (code < 0) {
        delete door;
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
    const AVInputFormat* reader = nullptr;
    AVFormatContext* raw = nullptr;
    int code = readerOf(path, cancel, &reader);
    if (code >= 0) {
        raw = contextWith(std::make_unique<Door>(Door{cancel, path, {}}));
        auto* const door = static_cast<Door*>(raw->opaque);
        AVDictionary* options = nullptr;
        if (std::string_view(reader->name) == pictureReader) { // a single picture here, whose name is no pattern
            av_dict_set(&options, "pattern_type", "none", 0);
            av_freep(&raw->format_whitelist);
        }
        code = avformat_open_input(&raw, ("file:" + path.string()).c_str(), reader, &options);
        av_dict_free(&options);
        if (code < 0) delete door; // a failed opening frees the context, but not this
    }
    if (code < 0) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        if (code == AVERROR(EINVAL))
            return fail(
                ErrorCode::Unsupported,
                "this is no video, picture or sound itself: a playlist, a script or a text that names or draws one",
                path.string(), "add the files that it is about");
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
    code = avformat_find_stream_info(raw, nullptr);
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
