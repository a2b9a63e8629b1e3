#include "core/media/to_rgba.h"

#include <fmt/format.h>

#include "core/raster/transfer.h"

namespace virga::av {
namespace {

template <typename Pixel> Image<Pixel> turned(Image<Pixel> picture, int rotation) {
    if (rotation == 0) return picture;
    const int w = picture.width(), h = picture.height();
    const bool swap = rotation == 90 || rotation == 270;
    Image<Pixel> out(swap ? h : w, swap ? w : h);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const int tx = rotation == 90 ? h - 1 - y : rotation == 180 ? w - 1 - x : y;
            const int ty = rotation == 90 ? x : rotation == 180 ? h - 1 - y : w - 1 - x;
            out.at(tx, ty) = picture.at(x, y);
        }
    return out;
}

// The formats named "j" are the plain ones with full range; libswscale wants the plain name and the range apart.
AVPixelFormat plainFormat(int format) {
    switch (format) {
    case AV_PIX_FMT_YUVJ420P:
        return AV_PIX_FMT_YUV420P;
    case AV_PIX_FMT_YUVJ422P:
        return AV_PIX_FMT_YUV422P;
    case AV_PIX_FMT_YUVJ444P:
        return AV_PIX_FMT_YUV444P;
    case AV_PIX_FMT_YUVJ440P:
        return AV_PIX_FMT_YUV440P;
    case AV_PIX_FMT_YUVJ411P:
        return AV_PIX_FMT_YUV411P;
    default:
        return AVPixelFormat(format);
    }
}

} // namespace

int matrixOf(const AVFrame& frame) {
    switch (frame.colorspace) {
    case AVCOL_SPC_BT709:
        return SWS_CS_ITU709;
    case AVCOL_SPC_BT2020_NCL:
    case AVCOL_SPC_BT2020_CL:
        return SWS_CS_BT2020;
    case AVCOL_SPC_BT470BG:
    case AVCOL_SPC_SMPTE170M:
        return SWS_CS_ITU601;
    case AVCOL_SPC_FCC:
        return SWS_CS_FCC;
    case AVCOL_SPC_SMPTE240M:
        return SWS_CS_SMPTE240M;
    default:
        break;
    }
    if (plainFormat(frame.format) != frame.format) return SWS_CS_ITU601; // JPEG pictures: JFIF prescribes BT.601
    return frame.width >= 1280 || frame.height >= 720 ? SWS_CS_ITU709 : SWS_CS_ITU601;
}

bool isFullRange(const AVFrame& frame) {
    return frame.color_range == AVCOL_RANGE_JPEG || plainFormat(frame.format) != AVPixelFormat(frame.format);
}

int bitDepthOf(int pixelFormat) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(AVPixelFormat(pixelFormat));
    return d ? d->comp[0].depth : 8;
}

AVChromaLocation chromaOf(const AVFrame& frame) {
    if (frame.chroma_location != AVCHROMA_LOC_UNSPECIFIED) return frame.chroma_location;
    return plainFormat(frame.format) != frame.format ? AVCHROMA_LOC_CENTER : AVCHROMA_LOC_LEFT;
}

Expected<Image<Linear16>> ToLinear::byPlanes(const AVFrame& frame, const std::string& path) {
    const Size size{frame.width, frame.height};
    const PlaneFormat from{plainFormat(frame.format), size, matrixOf(frame), isFullRange(frame), chromaOf(frame)};
    if (!m_graph || m_graph->from() != from) {
        auto graph = PlaneGraph::make(from, {AV_PIX_FMT_GBRP16LE, size, 0, true}, path);
        if (!graph) return tl::unexpected(graph.error());
        m_graph = std::move(*graph);
        m_planes = makePlanes(AV_PIX_FMT_GBRP16LE, size);
    }
    if (!m_planes) return fail(ErrorCode::Unreadable, "a picture could not be converted: out of memory", path);
    if (auto done = m_graph->run(frame, *m_planes, path); !done) return tl::unexpected(done.error());
    const auto plane = [&](int i) {
        return ImageView<const std::uint16_t>{reinterpret_cast<const std::uint16_t*>(m_planes->data[i]), size.width,
                                              size.height, m_planes->linesize[i] / 2};
    };
    return linearise(plane(2), plane(0), plane(1));
}

Expected<Image<Linear16>> ToLinear::byScaler(const AVFrame& frame, const std::string& path) {
    const bool deep = bitDepthOf(frame.format) > 8;
    const auto target = deep ? AV_PIX_FMT_RGBA64LE : AV_PIX_FMT_RGBA;
    const int matrix = matrixOf(frame), range = isFullRange(frame);
    if (!m_context || frame.width != m_width || frame.height != m_height || frame.format != m_format ||
        matrix != m_matrix || range != m_range) {
        const auto source = plainFormat(frame.format);
        if (!sws_isSupportedInput(source))
            return fail(ErrorCode::Unsupported,
                        fmt::format("its pixel format ({}) cannot be converted", av_get_pix_fmt_name(source)), path,
                        "convert it first");
        m_context.reset(sws_alloc_context());
        const auto set = [&](const char* name, int value) { av_opt_set_int(m_context.get(), name, value, 0); };
        set("srcw", frame.width), set("srch", frame.height), set("src_format", source);
        set("dstw", frame.width), set("dsth", frame.height), set("dst_format", target);
        set("sws_flags", SWS_BILINEAR | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT | SWS_FULL_CHR_H_INP);
        // In 1/256 of a luma pixel from the first one's left or upper edge; -513 leaves it to libswscale.
        const AVChromaLocation chroma = chromaOf(frame);
        set("src_h_chr_pos", chroma == AVCHROMA_LOC_CENTER || chroma == AVCHROMA_LOC_TOP ? 128 : 0);
        set("src_v_chr_pos", chroma == AVCHROMA_LOC_TOPLEFT || chroma == AVCHROMA_LOC_TOP ? 0 : 128);
        if (sws_init_context(m_context.get(), nullptr, nullptr) < 0) {
            m_context.reset();
            return fail(ErrorCode::Unsupported, "its pictures cannot be converted", path, "convert it first");
        }
        const int* table = sws_getCoefficients(matrix);
        sws_setColorspaceDetails(m_context.get(), table, range, sws_getCoefficients(SWS_CS_DEFAULT), 1, 0, 1 << 16,
                                 1 << 16);
        m_width = frame.width, m_height = frame.height, m_format = frame.format, m_matrix = matrix, m_range = range;
    }
    const auto run = [&]<typename Pixel>(Image<Pixel> picture) -> Expected<Image<Linear16>> {
        std::uint8_t* planes[4] = {reinterpret_cast<std::uint8_t*>(picture.row(0)), nullptr, nullptr, nullptr};
        const int strides[4] = {int(sizeof(Pixel)) * frame.width, 0, 0, 0};
        if (sws_scale(m_context.get(), frame.data, frame.linesize, 0, frame.height, planes, strides) != frame.height)
            return fail(ErrorCode::Unreadable, "a picture could not be converted", path);
        return linearise(std::as_const(picture).view());
    };
    return deep ? run(Image<Rgba16>(frame.width, frame.height)) : run(Image<Rgba8>(frame.width, frame.height));
}

Expected<Image<Linear16>> ToLinear::convert(const AVFrame& frame, int rotation, const std::string& path) {
    const AVPixelFormat format = plainFormat(frame.format);
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(format);
    const bool planes =
        d && !(d->flags & AV_PIX_FMT_FLAG_RGB) && PlaneGraph::canTake(format, {frame.width, frame.height});
    auto linear = planes ? byPlanes(frame, path) : byScaler(frame, path);
    if (!linear) return linear;
    return turned(std::move(*linear), rotation);
}

} // namespace virga::av
