#pragma once
// How a stored picture must be laid to be seen upright: the eight ways of a file's note, be it a display matrix
// (ISO/IEC 14496-12) or an EXIF orientation (CIPA DC-008).
#include <cstdint>

#include "core/raster/image.h"

namespace virga {

struct Orientation {
    bool mirrored = false; // first, left to right
    int rotation = 0;      // then, clockwise: 0, 90, 180 or 270 degrees
    bool swapsSides() const { return rotation == 90 || rotation == 270; }
    bool operator==(const Orientation&) const = default;
};

/// Of nine numbers, row by row, as FFmpeg has them; the nearest of the eight. Nothing for a matrix of zeros.
Orientation orientationOfMatrix(const std::int32_t* matrix);

/// Of an EXIF tag, 1 to 8; others are nothing.
Orientation orientationOfExif(int tag);

/// The picture laid so.
template <typename Pixel> Image<Pixel> upright(Image<Pixel> picture, Orientation o) {
    if (o == Orientation()) return picture;
    const int w = picture.width(), h = picture.height();
    Image<Pixel> out(o.swapsSides() ? h : w, o.swapsSides() ? w : h);
    for (int y = 0; y < h; ++y)
        for (int i = 0; i < w; ++i) {
            const int x = o.mirrored ? w - 1 - i : i;
            const int tx = o.rotation == 0 ? x : o.rotation == 90 ? h - 1 - y : o.rotation == 180 ? w - 1 - x : y;
            const int ty = o.rotation == 0 ? y : o.rotation == 90 ? x : o.rotation == 180 ? h - 1 - y : w - 1 - x;
            out.at(tx, ty) = picture.at(i, y);
        }
    return out;
}

} // namespace virga
