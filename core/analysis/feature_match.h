#pragma once
// Inside core/analysis only: SIFT features of two pictures that are each other's best match.
#include <opencv2/core.hpp>
#include <vector>

namespace virga::measure {

struct Features {
    std::vector<cv::KeyPoint> points;
    cv::Mat descriptors;
};

/// At most `most` of them, the strongest (Lowe, "Distinctive image features from scale-invariant keypoints", IJCV 60,
/// 2004).
Features featuresOf(const cv::Mat& picture, int most);

/// By Lowe's ratio test, both ways.
std::vector<std::pair<cv::Point2f, cv::Point2f>> mutualMatches(const Features& a, const Features& b);

} // namespace virga::measure
