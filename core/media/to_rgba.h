#pragma once
// Inside core/media only: a decoded picture to linear light, by the stream's own matrix and range, turned upright.
#include <optional>

#include "core/media/av_support.h"
#include "core/media/plane_graph.h"
#include "core/raster/image.h"

namespace virga::av {

/// Where the chroma samples of a picture are: as marked; else in the middle for JPEG pictures (JFIF), on the left
/// (MPEG-2, H.264) for others.
AVChromaLocation chromaOf(const AVFrame& frame);

/// Keeps the converter between pictures of the same kind. Not for two threads at once.
class ToLinear {
public:
    /// `rotation` in degrees clockwise, a multiple of 90. Errors: Unsupported for a pixel format that libswscale lacks.
    Expected<Image<Linear16>> convert(const AVFrame& frame, int rotation, const std::string& path);

private:
    Expected<Image<Linear16>> byPlanes(const AVFrame& frame, const std::string& path);
    std::optional<PlaneGraph> m_graph;
    Owned<AVFrame> m_planes;
    // For packed, palette and grey pictures, and those with alpha: libswscale.
    Expected<Image<Linear16>> byScaler(const AVFrame& frame, const std::string& path);
    Owned<SwsContext> m_context;
    int m_width = 0, m_height = 0, m_format = -1, m_matrix = -1, m_range = -1;
};

/// The SWS_CS_ constant of a picture: as marked, else by size (ITU-R BT.709 from 720 lines or 1280 columns on, BT.601
/// below).
int matrixOf(const AVFrame& frame);
bool isFullRange(const AVFrame& frame);
int bitDepthOf(int pixelFormat);

} // namespace virga::av
