#include "core/decode/plane_graph.h"

#include <cassert>
#include <cstdlib>
#include <fmt/format.h>
#include <zimg.h>

namespace virga::av {
namespace {

constexpr int alignment = 64;

bool isRgb(const AVPixFmtDescriptor& d) {
    return d.flags & AV_PIX_FMT_FLAG_RGB;
}

zimg_image_format describe(const PlaneFormat& format) {
    const AVPixFmtDescriptor& d = *av_pix_fmt_desc_get(AVPixelFormat(format.pixelFormat));
    zimg_image_format z;
    zimg_image_format_default(&z, ZIMG_API_VERSION);
    z.width = unsigned(format.size.width);
    z.height = unsigned(format.size.height);
    z.pixel_type = d.comp[0].depth > 8 ? ZIMG_PIXEL_WORD : ZIMG_PIXEL_BYTE;
    z.depth = unsigned(d.comp[0].depth);
    z.pixel_range = format.fullRange ? ZIMG_RANGE_FULL : ZIMG_RANGE_LIMITED;
    if (isRgb(d)) {
        z.color_family = ZIMG_COLOR_RGB;
        z.matrix_coefficients = ZIMG_MATRIX_RGB;
        return z;
    }
    z.color_family = ZIMG_COLOR_YUV;
    z.matrix_coefficients = zimg_matrix_coefficients_e(format.matrix);
    z.subsample_w = d.log2_chroma_w;
    z.subsample_h = d.log2_chroma_h;
    z.chroma_location = format.chroma == AVCHROMA_LOC_CENTER       ? ZIMG_CHROMA_CENTER
                        : format.chroma == AVCHROMA_LOC_TOPLEFT    ? ZIMG_CHROMA_TOP_LEFT
                        : format.chroma == AVCHROMA_LOC_TOP        ? ZIMG_CHROMA_TOP
                        : format.chroma == AVCHROMA_LOC_BOTTOMLEFT ? ZIMG_CHROMA_BOTTOM_LEFT
                        : format.chroma == AVCHROMA_LOC_BOTTOM     ? ZIMG_CHROMA_BOTTOM
                                                                   : ZIMG_CHROMA_LEFT;
    return z;
}

// zimg's planes are R, G, B; FFmpeg's planar RGB is G, B, R.
int planeOf(int pixelFormat, int plane) {
    constexpr int rgb[] = {2, 0, 1};
    return isRgb(*av_pix_fmt_desc_get(AVPixelFormat(pixelFormat))) ? rgb[plane] : plane;
}

bool isAligned(const AVFrame& frame) {
    for (int p = 0; p < 3; ++p)
        if (reinterpret_cast<std::uintptr_t>(frame.data[p]) % alignment || frame.linesize[p] % alignment) return false;
    return true;
}

std::string lastError() {
    char text[256] = {};
    zimg_get_last_error(text, sizeof text);
    return text;
}

} // namespace

void PlaneGraph::FreeGraph::operator()(zimg_filter_graph* graph) const {
    zimg_filter_graph_free(graph);
}

bool PlaneGraph::canTake(int pixelFormat) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(AVPixelFormat(pixelFormat));
    if (!d || d->nb_components < 3 || !(d->flags & AV_PIX_FMT_FLAG_PLANAR)) return false;
    if (d->flags & (AV_PIX_FMT_FLAG_BE | AV_PIX_FMT_FLAG_FLOAT | AV_PIX_FMT_FLAG_HWACCEL | AV_PIX_FMT_FLAG_BITSTREAM |
                    AV_PIX_FMT_FLAG_PAL))
        return false;
    for (int c = 0; c < d->nb_components; ++c) // one component a plane, in its low bits
        if (d->comp[c].plane != (isRgb(*d) && c < 3 ? (c + 2) % 3 : c) || d->comp[c].shift || d->comp[c].depth > 16)
            return false;
    return d->log2_chroma_w <= 2 && d->log2_chroma_h <= 2;
}

bool PlaneGraph::canTake(int pixelFormat, Size size) {
    if (!canTake(pixelFormat)) return false;
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(AVPixelFormat(pixelFormat));
    return size.width % (1 << d->log2_chroma_w) == 0 && size.height % (1 << d->log2_chroma_h) == 0;
}

Expected<PlaneGraph> PlaneGraph::make(const PlaneFormat& from, const PlaneFormat& to, const std::string& path,
                                      bool plain) {
    assert(canTake(from.pixelFormat, from.size) && canTake(to.pixelFormat, to.size));
    const zimg_image_format a = describe(from), b = describe(to);
    zimg_graph_builder_params params;
    zimg_graph_builder_params_default(&params, ZIMG_API_VERSION);
    params.resample_filter_uv = ZIMG_RESIZE_BILINEAR;
    params.dither_type = b.depth <= 8 ? ZIMG_DITHER_ORDERED : ZIMG_DITHER_NONE;
    params.cpu_type = plain ? ZIMG_CPU_NONE : ZIMG_CPU_AUTO_64B;
    PlaneGraph graph;
    graph.m_from = from, graph.m_to = to;
    graph.m_graph.reset(zimg_filter_graph_build(&a, &b, &params));
    std::size_t bytes = 0;
    if (!graph.m_graph || zimg_filter_graph_get_tmp_size(graph.m_graph.get(), &bytes) != ZIMG_ERROR_SUCCESS)
        return fail(ErrorCode::Unsupported,
                    fmt::format("its pixel format ({}, matrix {}) cannot be converted: {}",
                                av_get_pix_fmt_name(AVPixelFormat(from.pixelFormat)), from.matrix, lastError()),
                    path, "convert it first");
    graph.m_scratch.reset(std::aligned_alloc(alignment, (bytes + alignment) / alignment * alignment));
    return graph;
}

Expected<void> PlaneGraph::run(const AVFrame& from, AVFrame& to, const std::string& path) {
    assert(isAligned(to));
    const AVFrame* source = &from;
    if (!isAligned(from)) {
        if (!m_aligned) m_aligned = makePlanes(from.format, {from.width, from.height});
        if (!m_aligned || av_frame_copy(m_aligned.get(), &from) < 0)
            return fail(ErrorCode::Unreadable, "a picture could not be converted: out of memory", path);
        source = m_aligned.get();
    }
    zimg_image_buffer_const in{};
    zimg_image_buffer out{};
    in.version = out.version = ZIMG_API_VERSION;
    for (int p = 0; p < 3; ++p) {
        const int a = planeOf(m_from.pixelFormat, p), b = planeOf(m_to.pixelFormat, p);
        in.plane[p] = {source->data[a], source->linesize[a], ZIMG_BUFFER_MAX};
        out.plane[p] = {to.data[b], to.linesize[b], ZIMG_BUFFER_MAX};
    }
    if (zimg_filter_graph_process(m_graph.get(), &in, &out, m_scratch.get(), nullptr, nullptr, nullptr, nullptr) !=
        ZIMG_ERROR_SUCCESS)
        return fail(ErrorCode::Unreadable, fmt::format("a picture could not be converted: {}", lastError()), path);
    return {};
}

Owned<AVFrame> makePlanes(int pixelFormat, Size size) {
    auto frame = makeFrame();
    frame->format = pixelFormat;
    frame->width = size.width;
    frame->height = size.height;
    if (av_frame_get_buffer(frame.get(), alignment) < 0) return nullptr;
    return frame;
}

} // namespace virga::av
