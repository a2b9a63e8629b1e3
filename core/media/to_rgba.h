#pragma once
// Inside core/media only: a decoded picture to linear light, by the stream's own matrix and range, turned upright.
#include "core/media/av_support.h"
#include "core/raster/image.h"

namespace virga::av {

/// Keeps the converter between pictures of the same kind. Not for two threads at once.
class ToLinear {
public:
    /// `rotation` in degrees clockwise, a multiple of 90. Errors: Unsupported for a pixel format that libswscale lacks.
    Expected<Image<Linear16>> convert(const AVFrame& frame, int rotation, const std::string& path);

private:
    Owned<SwsContext> m_context;
    int m_width = 0, m_height = 0, m_format = -1, m_matrix = -1, m_range = -1;
};

/// The SWS_CS_ constant of a picture: as marked, else by size (ITU-R BT.709 from 720 lines or 1280 columns on, BT.601
/// below).
int matrixOf(const AVFrame& frame);
bool isFullRange(const AVFrame& frame);
int bitDepthOf(int pixelFormat);

} // namespace virga::av
