#include "core/decode/to_linear.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>

#include "core/raster/transfer.h"

namespace virga::av {
namespace {

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

bool hasAlpha(int pixelFormat) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(AVPixelFormat(pixelFormat));
    return d && (d->flags & AV_PIX_FMT_FLAG_ALPHA);
}

SourceLight lightOf(const AVFrame& frame) {
    SourceLight light;
    if (frame.color_primaries == AVCOL_PRI_BT2020)
        light.primaries = Primaries::Bt2020;
    else if (frame.color_primaries == AVCOL_PRI_SMPTE432 || frame.color_primaries == AVCOL_PRI_SMPTE431)
        light.primaries = Primaries::P3;
    if (frame.color_trc == AVCOL_TRC_ARIB_STD_B67) light.transfer = Transfer::Hlg;
    if (frame.color_trc == AVCOL_TRC_SMPTE2084) light.transfer = Transfer::Pq;
    if (frame.color_trc == AVCOL_TRC_LINEAR) light.transfer = Transfer::Power;
    // A PNG without an sRGB chunk says by gAMA how light became code: code = light ^ gamma.
    int num = 0, den = 0;
    const AVDictionaryEntry* gamma = av_dict_get(frame.metadata, "gamma", nullptr, 0);
    if (gamma && frame.color_trc != AVCOL_TRC_IEC61966_2_1 && std::sscanf(gamma->value, "%d/%d", &num, &den) == 2 &&
        num > 0 && den > 0) {
        const double written = double(num) / den;
        // sRGB's approximation, and what FFmpeg writes for BT.709, which Virga reads by sRGB's curve everywhere.
        const bool usual = std::abs(written - 0.45455) < 0.001 || std::abs(written - 0.50994) < 0.0005;
        if (!usual && written > 0.05 && written < 20) light.transfer = Transfer::Power, light.power = 1 / written;
    }
    if (!light.isHdr()) return light;
    if (light.transfer == Transfer::Hlg) return light;
    if (const auto* side = av_frame_get_side_data(&frame, AV_FRAME_DATA_MASTERING_DISPLAY_METADATA)) {
        const auto& mastering = *reinterpret_cast<const AVMasteringDisplayMetadata*>(side->data);
        if (mastering.has_luminance && mastering.max_luminance.den > 0) light.peak = av_q2d(mastering.max_luminance);
    }
    if (const auto* side = av_frame_get_side_data(&frame, AV_FRAME_DATA_CONTENT_LIGHT_LEVEL))
        if (const auto most = reinterpret_cast<const AVContentLightMetadata*>(side->data)->MaxCLL) light.peak = most;
    light.peak = light.peak >= 100 && light.peak <= 10000 ? light.peak : 1000;
    return light;
}

const LightTable& ToLinear::table() {
    if (!m_table) m_table.emplace(m_light);
    return *m_table;
}

Image<Linear16> ToLinear::linear(Plane r, Plane g, Plane b) {
    return m_light.isPlain() ? linearise(r, g, b) : linearise(r, g, b, table());
}

namespace {

// One component of a planar picture, from its own bits.
struct Component {
    const std::uint8_t* data;
    std::ptrdiff_t stride;
    int depth;
    unsigned at(int x, int y) const {
        const std::uint8_t* row = data + y * stride;
        return depth > 8 ? reinterpret_cast<const std::uint16_t*>(row)[x] : row[x];
    }
};

void premultiply(Image<Linear16>& picture, const Component& alpha) {
    const auto most = std::uint32_t((1 << alpha.depth) - 1);
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const std::uint32_t a = (std::min(std::uint32_t(alpha.at(x, y)), most) * linearOne + most / 2) / most;
            Linear16& p = picture.at(x, y);
            const auto times = [a](std::uint32_t v) { return std::uint16_t((v * a + linearOne / 2) / linearOne); };
            p = {times(p.r), times(p.g), times(p.b), std::uint16_t(a)};
        }
}

// Sides that the chroma divides: the last column and row once more where they do not. Null where memory is out.
Owned<AVFrame> padded(const AVFrame& frame, Size size) {
    auto out = makePlanes(frame.format, size);
    if (!out) return nullptr;
    const AVPixFmtDescriptor& d = *av_pix_fmt_desc_get(AVPixelFormat(frame.format));
    const int bytes = d.comp[0].depth > 8 ? 2 : 1;
    for (int p = 0; p < d.nb_components; ++p) {
        const bool chroma = p == 1 || p == 2;
        const int sx = chroma ? d.log2_chroma_w : 0, sy = chroma ? d.log2_chroma_h : 0;
        const int w = AV_CEIL_RSHIFT(frame.width, sx), h = AV_CEIL_RSHIFT(frame.height, sy);
        const int toW = size.width >> sx, toH = size.height >> sy;
        for (int y = 0; y < toH; ++y) {
            const std::uint8_t* from = frame.data[p] + std::ptrdiff_t(std::min(y, h - 1)) * frame.linesize[p];
            std::uint8_t* to = out->data[p] + std::ptrdiff_t(y) * out->linesize[p];
            std::copy_n(from, w * bytes, to);
            for (int x = w; x < toW; ++x) std::copy_n(from + (w - 1) * bytes, bytes, to + x * bytes);
        }
    }
    return out;
}

} // namespace

Expected<Image<Linear16>> ToLinear::byPlanes(const AVFrame& frame, const std::string& path) {
    const AVPixelFormat format = plainFormat(frame.format);
    const AVPixFmtDescriptor& d = *av_pix_fmt_desc_get(format);
    const bool rgb = d.flags & AV_PIX_FMT_FLAG_RGB;
    const auto whole = [](int n, int shift) { return ((n - 1) | ((1 << shift) - 1)) + 1; };
    const Size size{whole(frame.width, d.log2_chroma_w), whole(frame.height, d.log2_chroma_h)};
    const PlaneFormat from{format, size, rgb ? 0 : matrixOf(frame), rgb || isFullRange(frame), chromaOf(frame)};
    const auto outOfMemory = [&] {
        return fail(ErrorCode::Unreadable, "a picture could not be converted: out of memory", path,
                    "close other programs, or use smaller pictures");
    };
    if (!m_graph || m_graph->from() != from) {
        auto graph = PlaneGraph::make(from, {AV_PIX_FMT_GBRP16LE, size, 0, false}, path);
        if (!graph) return tl::unexpected(graph.error());
        m_graph = std::move(*graph);
        m_planes = makePlanes(AV_PIX_FMT_GBRP16LE, size);
    }
    if (!m_planes) return outOfMemory();
    const AVFrame* source = &frame;
    if (size != Size{frame.width, frame.height}) {
        m_padded = padded(frame, size);
        if (!m_padded) return outOfMemory();
        source = m_padded.get();
    }
    if (auto done = m_graph->run(*source, *m_planes, path); !done) return tl::unexpected(done.error());
    const auto plane = [&](int i) {
        return Plane{reinterpret_cast<const std::uint16_t*>(m_planes->data[i]), frame.width, frame.height,
                     m_planes->linesize[i] / 2};
    };
    auto picture = linear(plane(2), plane(0), plane(1));
    if (hasAlpha(format)) premultiply(picture, {frame.data[3], frame.linesize[3], d.comp[3].depth});
    return picture;
}

Expected<Image<Linear16>> ToLinear::byScaler(const AVFrame& frame, const std::string& path) {
    const bool deep = bitDepthOf(frame.format) > 8 || !m_light.isPlain();
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
        if (m_light.isPlain()) return linearise(std::as_const(picture).view());
        if constexpr (std::is_same_v<Pixel, Rgba16>) return linearise(std::as_const(picture).view(), table());
        return fail(ErrorCode::Unsupported, "its pictures cannot be converted", path, "convert it first");
    };
    return deep ? run(Image<Rgba16>(frame.width, frame.height)) : run(Image<Rgba8>(frame.width, frame.height));
}

Expected<Image<Linear16>> ToLinear::convert(const AVFrame& frame, const std::string& path) {
    auto picture = PlaneGraph::canTake(plainFormat(frame.format)) ? byPlanes(frame, path) : byScaler(frame, path);
    if (!picture) return picture;
    return upright(std::move(*picture), m_orientation);
}

} // namespace virga::av
