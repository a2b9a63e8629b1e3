#pragma once
// The picture that finishing works on: linear light as floats, premultiplied, white is 1, with a margin around the
// frame that holds what really lies there. Beyond the margin it is mirrored.
#include "core/raster/image.h"

namespace virga {

struct Margin {
    int across = 0, down = 0; // pixels on each side
    bool operator==(const Margin&) const = default;
};

/// The widest margin that is rendered; what a filter sees farther out is mirrored.
Margin widestMargin(Size frame);

class Canvas {
public:
    Canvas() = default;
    Canvas(Size frame, Margin margin)
        : m_frame(frame), m_margin(margin), m_pixels(frame.width + 2 * margin.across, frame.height + 2 * margin.down) {}

    Size frame() const { return m_frame; }
    Margin margin() const { return m_margin; }
    Size size() const { return m_pixels.size(); }
    int width() const { return m_pixels.width(); }
    int height() const { return m_pixels.height(); }
    std::size_t bytes() const { return m_pixels.bytes(); }
    /// Of the whole canvas, margin and all.
    LinearF* row(int y) { return m_pixels.row(y); }
    const LinearF* row(int y) const { return m_pixels.row(y); }
    /// Where a place given in fractions of the frame lies on the canvas, in pixels.
    Point at(Point share) const {
        return {m_margin.across + share.x * m_frame.width, m_margin.down + share.y * m_frame.height};
    }

private:
    Size m_frame;
    Margin m_margin;
    Image<LinearF> m_pixels;
};

/// A canvas of one's own to work on.
Canvas copyOf(const Canvas& canvas);
/// The same size and margin, filled with nothing.
inline Canvas emptyLike(const Canvas& canvas) {
    return Canvas(canvas.frame(), canvas.margin());
}

/// A coordinate outside 0 .. n - 1 mirrored back into it (half-sample symmetric).
inline int mirrored(int i, int n) {
    if (i >= 0 && i < n) return i;
    const int period = 2 * n;
    i %= period;
    if (i < 0) i += period;
    return i < n ? i : period - 1 - i;
}

} // namespace virga
