#pragma once
// Drawn pictures that movement is measured on.
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/raster/grey.h"

namespace virga::test {

// A field of soft blobs: something to see everywhere, and nothing that repeats.
inline cv::Mat blobs(int width, int height, unsigned seed, int count) {
    std::mt19937 draw(seed);
    cv::Mat picture(height, width, CV_8UC1, cv::Scalar(90));
    const auto within = [&](int most) { return int(draw() % unsigned(most)); };
    for (int i = 0; i < count; ++i)
        cv::ellipse(picture, {within(width), within(height)}, {4 + within(22), 4 + within(22)}, within(360), 0, 360,
                    cv::Scalar(30 + within(220)), cv::FILLED, cv::LINE_AA);
    cv::GaussianBlur(picture, picture, {}, 1.1);
    return picture;
}

inline Grey greyOfMat(const cv::Mat& m) {
    Grey grey{{m.cols, m.rows}, {m.cols, m.rows}, {}};
    grey.pixels.assign(m.data, m.data + m.total());
    return grey;
}

} // namespace virga::test
