#include "core/analysis/feature_match.h"

#include <map>
#include <opencv2/features2d.hpp>

namespace virga::measure {
namespace {

constexpr float ratio = 0.75f; // Lowe's: 0.8, a little stricter

std::map<int, int> matches(const cv::Mat& from, const cv::Mat& to) {
    std::map<int, int> found;
    std::vector<std::vector<cv::DMatch>> pairs;
    cv::BFMatcher(cv::NORM_L2).knnMatch(from, to, pairs, 2);
    for (const auto& p : pairs)
        if (p.size() == 2 && p[0].distance < ratio * p[1].distance) found[p[0].queryIdx] = p[0].trainIdx;
    return found;
}

} // namespace

Features featuresOf(const cv::Mat& picture, int most) {
    Features f;
    cv::SIFT::create(most)->detectAndCompute(picture, cv::noArray(), f.points, f.descriptors);
    return f;
}

std::vector<std::pair<cv::Point2f, cv::Point2f>> mutualMatches(const Features& a, const Features& b) {
    std::vector<std::pair<cv::Point2f, cv::Point2f>> pairs;
    if (a.points.size() < 2 || b.points.size() < 2) return pairs;
    const auto there = matches(a.descriptors, b.descriptors), back = matches(b.descriptors, a.descriptors);
    for (const auto& [i, j] : there)
        if (const auto same = back.find(j); same != back.end() && same->second == i)
            pairs.emplace_back(a.points[std::size_t(i)].pt, b.points[std::size_t(j)].pt);
    return pairs;
}

} // namespace virga::measure
