#include "core/encode/delivery_planes.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"

namespace virga::av {

namespace {

bool isRgb(int format) {
    return av_pix_fmt_desc_get(AVPixelFormat(format))->flags & AV_PIX_FMT_FLAG_RGB;
}

// A channel of code values as `depth` bits of full range.
int fullRange(std::uint8_t v, int depth) {
    const int most = (1 << depth) - 1;
    return (v * most + 127) / 255;
}
int fullRange(int deep, int depth) {
    const std::int64_t most = (1 << depth) - 1, span = deepWhite - deepBlack;
    return int((std::int64_t(std::clamp(deep, deepBlack, deepWhite) - deepBlack) * most + span / 2) / span);
}
int colourOf(const Rgba8&, std::uint8_t v, int depth) {
    return fullRange(v, depth);
}
int colourOf(const Deep16&, std::uint16_t v, int depth) {
    return fullRange(int(v), depth);
}
int alphaOf(const Rgba8& p, int depth) {
    return fullRange(p.a, depth);
}
int alphaOf(const Deep16& p, int depth) {
    const int most = (1 << depth) - 1;
    return int((std::int64_t(p.a) * most + 32767) / 65535);
}

std::uint16_t deepLevel(const Rgba8&, std::uint8_t v) {
    return std::uint16_t(deepBlack + (v * (deepWhite - deepBlack) + 127) / 255);
}
std::uint16_t deepLevel(const Deep16&, std::uint16_t v) {
    return v;
}

// One channel of a frame, whatever its layout.
struct Plane {
    std::uint8_t* data;
    std::ptrdiff_t stride;
    int step, shift, depth;
    bool wide, swapped;

    Plane(AVFrame& frame, int component) {
        const AVPixFmtDescriptor& d = *av_pix_fmt_desc_get(AVPixelFormat(frame.format));
        const AVComponentDescriptor& c = d.comp[component];
        data = frame.data[c.plane] + c.offset;
        stride = frame.linesize[c.plane];
        step = c.step, shift = c.shift, depth = c.depth;
        wide = depth > 8;
        swapped = wide && (d.flags & AV_PIX_FMT_FLAG_BE);
    }
    void put(int x, int y, int value) const {
        std::uint8_t* at = data + y * stride + std::ptrdiff_t(x) * step;
        const unsigned v = unsigned(value) << shift;
        if (!wide) {
            *at = std::uint8_t(v);
            return;
        }
        at[swapped ? 1 : 0] = std::uint8_t(v);
        at[swapped ? 0 : 1] = std::uint8_t(v >> 8);
    }
};

int alphaComponent(int format) {
    const AVPixFmtDescriptor& d = *av_pix_fmt_desc_get(AVPixelFormat(format));
    return d.flags & AV_PIX_FMT_FLAG_ALPHA ? d.nb_components - 1 : -1;
}

} // namespace

int pixelFormatOf(const DeliverySettings& s) {
    switch (s.format) {
    case DeliveryFormat::H264:
    case DeliveryFormat::H265:
    case DeliveryFormat::Av1:
        return s.depth == 10 ? AV_PIX_FMT_YUV420P10LE : AV_PIX_FMT_YUV420P;
    case DeliveryFormat::Vp9:
        return s.alpha ? AV_PIX_FMT_YUVA420P : s.depth == 10 ? AV_PIX_FMT_YUV420P10LE : AV_PIX_FMT_YUV420P;
    case DeliveryFormat::ProRes:
        return s.alpha ? AV_PIX_FMT_YUVA444P10LE : s.quality == 4 ? AV_PIX_FMT_YUV444P10LE : AV_PIX_FMT_YUV422P10LE;
    case DeliveryFormat::Dnxhr:
        return s.quality == 5 ? AV_PIX_FMT_YUV444P10LE : s.quality == 4 ? AV_PIX_FMT_YUV422P10LE : AV_PIX_FMT_YUV422P;
    case DeliveryFormat::Ffv1:
        switch (s.depth) {
        case 10:
            return s.alpha ? AV_PIX_FMT_GBRAP10LE : AV_PIX_FMT_GBRP10LE;
        case 12:
            return s.alpha ? AV_PIX_FMT_GBRAP12LE : AV_PIX_FMT_GBRP12LE;
        case 16:
            return s.alpha ? AV_PIX_FMT_GBRAP16LE : AV_PIX_FMT_GBRP16LE;
        default:
            return s.alpha ? AV_PIX_FMT_BGRA : AV_PIX_FMT_BGR0;
        }
    case DeliveryFormat::Png:
        return s.depth == 16 ? s.alpha ? AV_PIX_FMT_RGBA64BE : AV_PIX_FMT_RGB48BE
               : s.alpha     ? AV_PIX_FMT_RGBA
                             : AV_PIX_FMT_RGB24;
    case DeliveryFormat::Tiff:
        return s.depth == 16 ? s.alpha ? AV_PIX_FMT_RGBA64LE : AV_PIX_FMT_RGB48LE
               : s.alpha     ? AV_PIX_FMT_RGBA
                             : AV_PIX_FMT_RGB24;
    case DeliveryFormat::Gif:
    case DeliveryFormat::Webp:
        return AV_PIX_FMT_BGRA;
    case DeliveryFormat::Exr:
    case DeliveryFormat::Wav:
        break;
    }
    return AV_PIX_FMT_NONE;
}

Expected<DeliveryPlanes> DeliveryPlanes::make(const DeliverySettings& settings, Size size, const std::string& place) {
    DeliveryPlanes planes;
    planes.m_settings = settings;
    planes.m_format = pixelFormatOf(settings);
    planes.m_place = place;
    if (isRgb(planes.m_format)) return planes;
    planes.m_planes = makePlanes(AV_PIX_FMT_GBRP16LE, size);
    if (!planes.m_planes) return fail(ErrorCode::WriteFailed, "out of memory", place);
    auto graph =
        PlaneGraph::make({AV_PIX_FMT_GBRP16LE, size, 0, false}, {planes.m_format, size, AVCOL_SPC_BT709}, place);
    if (!graph) return tl::unexpected(graph.error());
    planes.m_graph = std::move(*graph);
    return planes;
}

Expected<Owned<AVFrame>> DeliveryPlanes::outOfMemory() const {
    return fail(ErrorCode::WriteFailed, "out of memory", m_place);
}

template <typename Pixel> Expected<Owned<AVFrame>> DeliveryPlanes::converted(ImageView<const Pixel> picture) {
    auto frame = makePlanes(m_format, picture.size());
    if (!frame) return outOfMemory();
    if (m_graph) {
        for (int y = 0; y < picture.height; ++y) {
            const Pixel* from = picture.row(y);
            const auto row = [&](int plane) {
                return reinterpret_cast<std::uint16_t*>(m_planes->data[plane] + y * m_planes->linesize[plane]);
            };
            std::uint16_t *g = row(0), *b = row(1), *r = row(2);
            for (int x = 0; x < picture.width; ++x) {
                r[x] = deepLevel(from[x], from[x].r);
                g[x] = deepLevel(from[x], from[x].g);
                b[x] = deepLevel(from[x], from[x].b);
            }
        }
        if (auto done = m_graph->run(*m_planes, *frame, m_place); !done) return tl::unexpected(done.error());
    } else {
        const Plane r(*frame, 0), g(*frame, 1), b(*frame, 2);
        for (int y = 0; y < picture.height; ++y) {
            const Pixel* from = picture.row(y);
            for (int x = 0; x < picture.width; ++x) {
                r.put(x, y, colourOf(from[x], from[x].r, r.depth));
                g.put(x, y, colourOf(from[x], from[x].g, g.depth));
                b.put(x, y, colourOf(from[x], from[x].b, b.depth));
            }
        }
    }
    if (const int component = alphaComponent(m_format); component >= 0) {
        const Plane a(*frame, component);
        const int opaque = (1 << a.depth) - 1;
        for (int y = 0; y < picture.height; ++y)
            for (int x = 0; x < picture.width; ++x)
                a.put(x, y, m_settings.alpha ? alphaOf(picture.at(x, y), a.depth) : opaque);
    }
    return frame;
}

Expected<Owned<AVFrame>> DeliveryPlanes::frameOf(ImageView<const Rgba8> picture) {
    return converted(picture);
}
Expected<Owned<AVFrame>> DeliveryPlanes::frameOf(ImageView<const Deep16> picture) {
    return converted(picture);
}

Expected<Owned<AVFrame>> DeliveryPlanes::frameOf(ImageView<const LinearF> light) {
    const bool eight = isRgb(m_format) && m_settings.depth == 8;
    Image<Rgba8> coarse(eight ? light.size() : Size());
    Image<Deep16> deep(eight ? Size() : light.size());
    std::vector<LinearF> row(std::size_t(light.width));
    for (int y = 0; y < light.height; ++y) {
        const LinearF* from = light.row(y);
        for (int x = 0; x < light.width; ++x) {
            LinearF p = from[x];
            if (m_settings.alpha) { // straight: the colour of what is there, whatever its share
                const float share = p.a > 1e-6f ? 1 / p.a : 0;
                p = {p.r * share, p.g * share, p.b * share, 1};
            }
            row[std::size_t(x)] = keptOf(p);
        }
        if (eight)
            ditherRow(row.data(), coarse.row(y), light.width, 0, y);
        else
            encodeRow(row.data(), deep.row(y), light.width);
        if (!m_settings.alpha) continue;
        for (int x = 0; x < light.width; ++x) {
            const float a = std::clamp(from[x].a, 0.0f, 1.0f);
            if (eight)
                coarse.at(x, y).a = std::uint8_t(std::lround(a * 255));
            else
                deep.at(x, y).a = std::uint16_t(std::lround(a * 65535));
        }
    }
    return eight ? converted<Rgba8>(coarse.view()) : converted<Deep16>(deep.view());
}

Expected<Owned<AVFrame>> DeliveryPlanes::frameOf(const CodedPicture& picture) {
    const auto& from = *static_cast<const AVFrame*>(picture.frame());
    assert(from.format == m_format);
    Owned<AVFrame> frame = makeFrame(); // its planes and nothing else: no marks that speak of its own stream
    frame->format = from.format;
    frame->width = from.width;
    frame->height = from.height;
    for (int i = 0; i < AV_NUM_DATA_POINTERS; ++i) {
        if (!from.buf[i]) continue;
        frame->buf[i] = av_buffer_ref(from.buf[i]);
        if (!frame->buf[i]) return outOfMemory();
    }
    std::copy(std::begin(from.data), std::end(from.data), std::begin(frame->data));
    std::copy(std::begin(from.linesize), std::end(from.linesize), std::begin(frame->linesize));
    frame->extended_data = frame->data;
    return frame;
}

} // namespace virga::av
