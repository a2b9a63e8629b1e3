#include "core/analysis/subject_match.h"

#include <algorithm>
#include <opencv2/calib3d.hpp>

#include "core/analysis/feature_match.h"
#include "core/analysis/similarity.h"
#include "core/base/median.h"

namespace virga {
namespace {

using namespace measure;

constexpr int fewest = 12;         // features that must agree
constexpr double leastShare = 0.2; // of those found in both
constexpr double reach = 3;        // pixels that one may lie off

} // namespace

std::optional<SubjectPair> matchSubjects(const Grey& first, const Grey& second) {
    const Features a = featuresOf(matOf(first), 2000), b = featuresOf(matOf(second), 2000);
    std::vector<cv::Point2f> from, to;
    for (const auto& [p, q] : mutualMatches(a, b)) from.push_back(p), to.push_back(q);
    if (int(from.size()) < fewest) return std::nullopt;
    cv::setRNGSeed(20261127); // RANSAC draws: the same pictures give the same answer
    std::vector<std::uint8_t> agrees;
    const cv::Mat m = cv::estimateAffinePartial2D(from, to, agrees, cv::RANSAC, reach, 5000, 0.999, 20);
    const int count = int(std::count(agrees.begin(), agrees.end(), std::uint8_t(1)));
    if (m.empty() || count < fewest || count < leastShare * double(from.size())) return std::nullopt;
    const Similarity map = similarityOf(m);
    if (!(map.scale() > 0.05) || !(map.scale() < 20)) return std::nullopt;
    // In the middle of what agrees, half of it inside.
    std::vector<double> xs, ys, away;
    for (std::size_t i = 0; i < from.size(); ++i)
        if (agrees[i]) xs.push_back(from[i].x), ys.push_back(from[i].y);
    const cv::Point2d centre(medianOf(xs), medianOf(ys));
    for (std::size_t i = 0; i < xs.size(); ++i) away.push_back(std::hypot(xs[i] - centre.x, ys[i] - centre.y));
    const double radius = std::max(8.0, medianOf(away));
    SubjectPair pair;
    pair.agreeing = count;
    pair.seen = int(from.size());
    pair.first.at = fractionOf(centre, first);
    pair.first.size = 2 * radius / first.size.width;
    pair.second.at = fractionOf(map(centre), second);
    pair.second.size = 2 * radius * map.scale() / second.size.width;
    pair.second.angle = map.degrees();
    return pair;
}

} // namespace virga
