#include "core/decode/video_reader.h"

extern "C" {
#include <libavutil/pixdesc.h>
}

#include "core/decode/deinterlacer.h"
#include "core/decode/picture_decoder.h"
#include "core/decode/to_linear.h"

namespace virga {
namespace {

using namespace av;

class FileReader : public VideoReader {
public:
    FileReader(Opened opened, Owned<AVCodecContext> decoder, bool deinterlace)
        : m_decoder(std::move(opened), std::move(decoder)),
          m_converter(info().video->light, info().video->orientation) {
        if (deinterlace && info().video->interlaced) m_deinterlacer.emplace(m_decoder);
    }

    const MediaInfo& info() const override { return m_decoder.info(); }

    std::int64_t indexAt(Rational seconds) const override {
        return info().video->still ? 0 : m_decoder.index().times.indexAt(seconds);
    }

    Rational timeOf(std::int64_t index) const override { return m_decoder.index().times.starts.at(std::size_t(index)); }

    Expected<Image<Linear16>> read(std::int64_t index) override {
        auto frame = m_deinterlacer ? m_deinterlacer->picture(index) : m_decoder.picture(index);
        if (!frame) return tl::unexpected(frame.error());
        return m_converter.convert(**frame, info().path.string());
    }

    // Ordinary video keeps its luma in a plane of its own.
    Expected<Grey> readGrey(std::int64_t index, int longest) override {
        auto frame = m_deinterlacer ? m_deinterlacer->picture(index) : m_decoder.picture(index);
        if (!frame) return tl::unexpected(frame.error());
        const AVFrame& f = **frame;
        const AVPixFmtDescriptor* kind = av_pix_fmt_desc_get(AVPixelFormat(f.format));
        constexpr std::uint64_t others = AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL | AV_PIX_FMT_FLAG_HWACCEL |
                                         AV_PIX_FMT_FLAG_BITSTREAM | AV_PIX_FMT_FLAG_ALPHA;
        const bool plain = kind && (kind->flags & others) == 0 && kind->comp[0].depth == 8 && kind->comp[0].step == 1 &&
                           kind->comp[0].plane == 0 && info().video->light.isPlain() &&
                           info().video->orientation == Orientation();
        if (!plain) {
            const auto picture = m_converter.convert(f, info().path.string());
            if (!picture) return tl::unexpected(picture.error());
            return greyOf(*picture, longest);
        }
        const bool full = isFullRange(f);
        return greyOf(ImageView<const std::uint8_t>{f.data[0], f.width, f.height, f.linesize[0]}, full ? 0 : 16,
                      full ? 255 : 235, longest);
    }

    CodedPicture coded(std::int64_t index) override {
        if (m_deinterlacer || !info().video->light.isPlain() || info().video->orientation != Orientation()) return {};
        const auto frame = m_decoder.picture(index);
        if (!frame) return {};
        const AVFrame& f = **frame;
        if (f.format != AV_PIX_FMT_YUV420P || f.interlaced_frame || isFullRange(f) || matrixOf(f) != SWS_CS_ITU709 ||
            chromaOf(f) != AVCHROMA_LOC_LEFT || f.crop_left || f.crop_top || f.width % 2 || f.height % 2)
            return {};
        std::shared_ptr<AVFrame> kept(av_frame_clone(&f), Free());
        if (!kept) return {};
        return {std::move(kept), {f.width, f.height}};
    }

private:
    PictureDecoder m_decoder;
    ToLinear m_converter;
    std::optional<Deinterlacer> m_deinterlacer;
};

} // namespace

Expected<Grey> VideoReader::readGrey(std::int64_t index, int longest) {
    const auto picture = read(index);
    if (!picture) return tl::unexpected(picture.error());
    return greyOf(*picture, longest);
}

Expected<std::unique_ptr<VideoReader>> VideoReader::open(const std::filesystem::path& path, const Cancel& cancel,
                                                         bool deinterlace) {
    auto opened = openPictures(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    auto decoder = openDecoder(opened->format->streams[opened->video], path.string());
    if (!decoder) return tl::unexpected(decoder.error());
    return std::unique_ptr<VideoReader>(new FileReader(std::move(*opened), std::move(*decoder), deinterlace));
}

} // namespace virga
