#pragma once
// Canvases for tests, and OpenCV's pictures of them.
#include <cmath>
#include <opencv2/core.hpp>

#include "core/effects/canvas.h"

namespace virga::test {

inline cv::Mat matOf(const Canvas& canvas) {
    cv::Mat mat(canvas.height(), canvas.width(), CV_32FC4);
    for (int y = 0; y < canvas.height(); ++y)
        std::memcpy(mat.ptr(y), canvas.row(y), std::size_t(canvas.width()) * sizeof(LinearF));
    return mat;
}

/// Stripes, discs and a few bright points: detail at every size.
inline Canvas drawn(Size frame, Margin margin = {}) {
    Canvas canvas(frame, margin);
    for (int y = 0; y < canvas.height(); ++y)
        for (int x = 0; x < canvas.width(); ++x) {
            const double stripes = 0.5 + 0.5 * std::sin(x * 0.05 + y * 0.021), ring = std::hypot(x - 90.0, y - 70.0);
            const float disc = ring < 40 ? 0.8f : 0.1f, dot = x % 41 == 20 && y % 37 == 18 ? 2.0f : 0.0f;
            canvas.row(y)[x] = {float(stripes) * 0.7f + dot, disc + dot, float((x / 8 + y / 8) % 2) * 0.5f + dot, 1};
        }
    return canvas;
}

inline Canvas filled(Size frame, LinearF pixel, Margin margin = {}) {
    Canvas canvas(frame, margin);
    for (int y = 0; y < canvas.height(); ++y)
        for (int x = 0; x < canvas.width(); ++x) canvas.row(y)[x] = pixel;
    return canvas;
}

/// Peak signal-to-noise ratio against white = 1, of the part that is `inset` pixels from every side.
inline double psnr(const cv::Mat& a, const cv::Mat& b, int inset = 0) {
    const cv::Rect part(inset, inset, a.cols - 2 * inset, a.rows - 2 * inset);
    const double norm = cv::norm(a(part), b(part), cv::NORM_L2);
    return 10 * std::log10(double(part.area()) * a.channels() / std::max(norm * norm, 1e-20));
}

} // namespace virga::test
