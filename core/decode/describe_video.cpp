#include <algorithm>
#include <cmath>
#include <exiv2/exiv2.hpp>
#include <fmt/format.h>
#include <mutex>

#include "core/base/sequence_path.h"
#include "core/decode/reader_state.h"
#include "core/decode/to_linear.h"

namespace virga::av {
namespace {

bool isStill(const AVFormatContext* format, const PacketIndex& index, bool sequence) {
    const std::string name = format->iformat->name;
    if (sequence) return false;
    return index.stamps.size() == 1 &&
           (name.find("_pipe") != std::string::npos || name == "image2" || name == "gif" || name == "apng");
}

// A still picture's EXIF orientation, whatever the format; 0 without one.
int exifOrientation(const std::filesystem::path& path) {
    static std::mutex oneAtATime;
    const std::lock_guard lock(oneAtATime);
    Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
    try {
        // As a file and nothing else: by its name alone Exiv2 would take some for addresses, and "-" for standard
        // input.
        Exiv2::BasicIo::AutoPtr file(new Exiv2::FileIo(path.string()));
        const auto image = Exiv2::ImageFactory::open(file);
        if (!image.get()) return 0; // no kind that Exiv2 knows
        image->readMetadata();
        const auto& tags = image->exifData();
        const auto found = tags.findKey(Exiv2::ExifKey("Exif.Image.Orientation"));
        return found != tags.end() && found->count() > 0 ? int(found->toLong()) : 0;
    } catch (const std::exception&) {
        return 0; // no such tags, or damaged ones
    }
}

Orientation orientationOf(const AVStream* stream, const AVFrame& first, bool still, const std::filesystem::path& path) {
    if (const auto* side = av_stream_get_side_data(stream, AV_PKT_DATA_DISPLAYMATRIX, nullptr))
        return orientationOfMatrix(reinterpret_cast<const std::int32_t*>(side));
    if (still)
        if (const int tag = exifOrientation(path); tag > 0) return orientationOfExif(tag);
    if (const auto* side = av_frame_get_side_data(&first, AV_FRAME_DATA_DISPLAYMATRIX))
        return orientationOfMatrix(reinterpret_cast<const std::int32_t*>(side->data));
    return {};
}

// Pictures from one entry point to the next, at most.
std::int64_t longestRun(const PacketIndex& index) {
    std::int64_t longest = 1;
    auto from = index.stamps.begin();
    for (const PacketIndex::Entry& entry : index.entries) {
        const auto at = std::lower_bound(from, index.stamps.end(), entry.stamp);
        longest = std::max<std::int64_t>(longest, at - from);
        from = at;
    }
    return std::max<std::int64_t>(longest, index.stamps.end() - from);
}

} // namespace

VideoInfo describeVideo(const AVFormatContext* format, const AVStream* stream, const PacketIndex& index,
                        const AVFrame& first, const std::filesystem::path& path) {
    VideoInfo v;
    const bool sequence = sequenceOf(path).has_value();
    v.still = isStill(format, index, sequence);
    v.coded = {first.width, first.height};
    v.orientation = orientationOf(stream, first, v.still, path);
    const bool swap = v.orientation.swapsSides();
    v.size = swap ? Size{first.height, first.width} : v.coded;
    Rational aspect =
        toRational(first.sample_aspect_ratio.num > 0 ? first.sample_aspect_ratio : stream->sample_aspect_ratio);
    if (aspect <= Rational(1, 16) || aspect >= Rational(16)) aspect = 1;
    v.pixelAspect = swap ? Rational(1) / aspect : aspect;
    v.frames = v.still ? 0 : std::int64_t(index.stamps.size());
    v.rate = v.still ? FrameRate(25) : index.times.rate;
    v.variableRate = !v.still && index.times.variable;
    v.duration = v.still ? Rational(0) : index.times.end;
    v.codec = avcodec_get_name(stream->codecpar->codec_id);
    if (const char* name = av_get_pix_fmt_name(AVPixelFormat(first.format))) v.pixelFormat = name;
    v.bitDepth = bitDepthOf(first.format);
    const bool rgb =
        av_pix_fmt_desc_get(AVPixelFormat(first.format))->flags & (AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL);
    const int matrix = matrixOf(first);
    v.matrix = rgb ? "RGB" : matrix == SWS_CS_ITU709 ? "BT.709" : matrix == SWS_CS_BT2020 ? "BT.2020" : "BT.601";
    v.range = rgb || isFullRange(first) ? "full" : "limited";
    v.light = lightOf(first);
    if (const char* name = av_color_transfer_name(first.color_trc)) v.transfer = name;
    v.primaries = v.light.primaries == Primaries::Bt2020 ? "BT.2020"
                  : v.light.primaries == Primaries::P3   ? "P3"
                                                         : "BT.709";
    v.alpha = av_pix_fmt_desc_get(AVPixelFormat(first.format))->flags & AV_PIX_FMT_FLAG_ALPHA;
    v.keyInterval = longestRun(index);
    v.interlaced = !v.still && (first.interlaced_frame || (stream->codecpar->field_order != AV_FIELD_UNKNOWN &&
                                                           stream->codecpar->field_order != AV_FIELD_PROGRESSIVE));
    return v;
}

std::vector<std::string> notesOn(const VideoInfo& v) {
    std::vector<std::string> notes;
    if (v.interlaced)
        notes.push_back("interlaced: two moments in each picture; its lines are made whole (a switch of the clip)");
    if (v.light.isHdr())
        notes.push_back("HDR (" + colourName(v) + "): converted to BT.709, its highlights pressed together");
    else if (!colourName(v).empty())
        notes.push_back("wide colours (" + colourName(v) + "): converted to BT.709");
    return notes;
}

} // namespace virga::av

namespace virga {

std::string colourName(const VideoInfo& video) {
    if (video.light.isHdr())
        return fmt::format("{}, {}", video.light.transfer == Transfer::Hlg ? "HLG" : "PQ", video.primaries);
    return video.light.primaries == Primaries::Bt709 ? std::string() : video.primaries;
}

} // namespace virga
