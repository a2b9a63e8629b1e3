#pragma once
// Inside core/analysis only: a similarity between two pictures, as four numbers.
#include <cmath>
#include <numbers>
#include <opencv2/core.hpp>

#include "core/raster/grey.h"

namespace virga::measure {

/// x' = a x - b y + tx, y' = b x + a y + ty.
struct Similarity {
    double a = 1, b = 0, tx = 0, ty = 0;
    double scale() const { return std::hypot(a, b); }
    double degrees() const { return std::atan2(b, a) * 180 / std::numbers::pi; }
    cv::Point2d operator()(cv::Point2d p) const { return {a * p.x - b * p.y + tx, b * p.x + a * p.y + ty}; }
    /// This one first, then another.
    Similarity then(const Similarity& o) const {
        const cv::Point2d t = o({tx, ty});
        return {o.a * a - o.b * b, o.b * a + o.a * b, t.x, t.y};
    }
};

/// Of a 2 x 3 matrix that is one.
inline Similarity similarityOf(const cv::Mat& m) {
    return {m.at<double>(0, 0), m.at<double>(1, 0), m.at<double>(0, 2), m.at<double>(1, 2)};
}

inline cv::Mat matOf(const Grey& grey) {
    return {grey.size.height, grey.size.width, CV_8UC1, const_cast<std::uint8_t*>(grey.pixels.data())};
}

/// Fractions of a picture's width and height to pixel centres as OpenCV counts them, and back.
inline cv::Point2d pixelOf(Point at, const Grey& grey) {
    return {at.x * grey.size.width - 0.5, at.y * grey.size.height - 0.5};
}
inline Point fractionOf(cv::Point2d pixel, const Grey& grey) {
    return {(pixel.x + 0.5) / grey.size.width, (pixel.y + 0.5) / grey.size.height};
}

// OpenCV's matrix, of pixels as it counts them, for a map of places in widths.
inline cv::Matx33d pixelMatrix(const Matrix& m, const Grey& grey) {
    const double w = grey.size.width, cx = w / 2 - 0.5, cy = grey.size.height / 2.0 - 0.5;
    const cv::Matx33d to(w, 0, cx, 0, w, cy, 0, 0, 1), from(1 / w, 0, -cx / w, 0, 1 / w, -cy / w, 0, 0, 1);
    const cv::Matx33d map(m[0][0], m[1][0], m[2][0], m[0][1], m[1][1], m[2][1], m[0][2], m[1][2], m[2][2]);
    return to * map * from;
}

} // namespace virga::measure
