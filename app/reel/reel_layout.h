#pragma once
// Where the Reel's bands lie for a size: small for working at one cut, with rows for everything when it is tall. Plain
// data; tested without a window.
#include <QRectF>

#include "app/reel/reel_scale.h"

namespace virga {

struct ReelLayout {
    /// From this height on there is room for rows, titles and the clips' own sound.
    static constexpr double tallFrom = 210;

    bool tall = false;
    double gutter = 12; // what the scale's content keeps free at the left
    QRectF overview;    // empty unless zoomed in
    QRectF ruler;
    QRectF over, adjust; // all overlay rows, and the adjustments' one; empty where not shown
    double overRowHeight = 0;
    QRectF clips;           // titles and thumbnails
    double titleHeight = 0; // 0: the name is written into the picture
    QRectF sound;           // the clips' own
    QRectF spare;
    QRectF flow; // the flow line; empty where there is no room for it
    QRectF music;
    double musicRowHeight = 0;
    QRectF beats;
    QRectF heard; // the movement's own sound; empty where it is off
    QRectF status;

    static ReelLayout of(const Project& project, double width, double height, bool zoomedIn, bool flowLine = true);

    QRectF overRow(int row) const; // row 0 is the lowest
    int overRowAt(double y) const; // -1 outside
    QRectF spanIn(const QRectF& band, const ReelScale& scale, double from, double to) const;
};

/// What is under a point, of all bands; the ones that lie on top first.
ReelHit hitTest(const Project& project, const ReelLayout& layout, const ReelScale& scale, QPointF at);

} // namespace virga
