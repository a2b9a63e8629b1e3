#pragma once
// Inside core/encode only: pictures as an encoder wants them. Not for two threads at once.
#include <optional>

#include "core/decode/av_support.h"
#include "core/decode/coded_picture.h"
#include "core/decode/plane_graph.h"
#include "core/encode/delivery_format.h"
#include "core/raster/image.h"

namespace virga::av {

/// The pixel format of settled settings, and whether it holds Y'CbCr.
int pixelFormatOf(const DeliverySettings& settings);

class DeliveryPlanes {
public:
    /// Errors: Unsupported; WriteFailed where memory is out.
    static Expected<DeliveryPlanes> make(const DeliverySettings& settings, Size size, const std::string& place);

    /// Code values over black, or straight with alpha where the settings have it. Y'CbCr is made once, by BT.709 in
    /// limited range, chroma on the left, dithered where there are 8 bits. REQUIRES: the size.
    Expected<Owned<AVFrame>> frameOf(ImageView<const Rgba8> picture);
    Expected<Owned<AVFrame>> frameOf(ImageView<const Deep16> picture);
    /// Light, premultiplied, 1 is white. Made straight where the settings have alpha; 8-bit colours are dithered.
    Expected<Owned<AVFrame>> frameOf(ImageView<const LinearF> light);
    /// What it is already. REQUIRES: the settings' pixel format.
    Expected<Owned<AVFrame>> frameOf(const CodedPicture& picture);

private:
    template <typename Pixel> Expected<Owned<AVFrame>> converted(ImageView<const Pixel> picture);
    Expected<Owned<AVFrame>> outOfMemory() const;

    DeliverySettings m_settings;
    int m_format = AV_PIX_FMT_NONE;
    std::string m_place;
    Owned<AVFrame> m_planes; // R'G'B', for Y'CbCr
    std::optional<PlaneGraph> m_graph;
};

} // namespace virga::av
