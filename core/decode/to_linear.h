#pragma once
// For core/decode, core/encode and core/audio: a decoded picture to linear light, by the stream's own matrix, range,
// primaries and transfer, laid upright.
#include <optional>

#include "core/decode/av_support.h"
#include "core/decode/orientation.h"
#include "core/decode/plane_graph.h"
#include "core/raster/image.h"
#include "core/raster/source_light.h"

namespace virga::av {

/// Where the chroma samples of a picture are: as marked; else in the middle for JPEG pictures (JFIF), on the left
/// (MPEG-2, H.264) for others.
AVChromaLocation chromaOf(const AVFrame& frame);

/// The SWS_CS_ constant of a picture: as marked, else by size (ITU-R BT.709 from 720 lines or 1280 columns on, BT.601
/// below).
int matrixOf(const AVFrame& frame);
bool isFullRange(const AVFrame& frame);
int bitDepthOf(int pixelFormat);
bool hasAlpha(int pixelFormat);

/// What a picture's marks say of its light. Unmarked ones are BT.709 and sRGB; a PNG's gAMA chunk counts (PNG
/// Specification, 11.3.3.2; 45455 is sRGB's own approximation and means sRGB).
SourceLight lightOf(const AVFrame& frame);

/// Keeps the converters between pictures of the same kind. Not for two threads at once.
class ToLinear {
public:
    ToLinear(const SourceLight& light, Orientation orientation) : m_light(light), m_orientation(orientation) {}

    /// Errors: Unsupported for a pixel format that libswscale lacks; Unreadable where memory is out.
    Expected<Image<Linear16>> convert(const AVFrame& frame, const std::string& path);

private:
    using Plane = ImageView<const std::uint16_t>;
    Expected<Image<Linear16>> byPlanes(const AVFrame& frame, const std::string& path);
    Expected<Image<Linear16>> byScaler(const AVFrame& frame, const std::string& path);
    Image<Linear16> linear(Plane r, Plane g, Plane b);
    const LightTable& table();

    SourceLight m_light;
    Orientation m_orientation;
    std::optional<LightTable> m_table;
    // For planes of any depth: zimg.
    std::optional<PlaneGraph> m_graph;
    Owned<AVFrame> m_padded, m_planes;
    // For packed and palette pictures: libswscale.
    Owned<SwsContext> m_context;
    int m_width = 0, m_height = 0, m_format = -1, m_matrix = -1, m_range = -1;
};

} // namespace virga::av
