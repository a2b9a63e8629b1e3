#include "core/measure/shutter_estimate.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/measure/similarity.h"

namespace virga {
namespace {

using namespace measure;

constexpr double leastTravel = 0.008;   // widths: 5 pixels of 640
constexpr double mostSlower = 0.72;     // of the fast one's speed
constexpr double mostAngle = 540, step = 15;
constexpr double leastContrast = 0.12;  // by which the best angle must be better than the worst

cv::Mat linearOf(const Grey& grey) {
    static const cv::Mat table = [] {
        cv::Mat t(1, 256, CV_32F);
        for (int i = 0; i < 256; ++i) { // IEC 61966-2-1
            const double v = i / 255.0;
            t.at<float>(i) = float(v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4));
        }
        return t;
    }();
    cv::Mat linear;
    cv::LUT(matOf(grey), table, linear);
    return linear;
}

cv::Matx33d pixels(const Matrix& m, const Grey& grey) {
    const double w = grey.size.width, cx = w / 2 - 0.5, cy = grey.size.height / 2.0 - 0.5;
    const cv::Matx33d to(w, 0, cx, 0, w, cy, 0, 0, 1), from(1 / w, 0, -cx / w, 0, 1 / w, -cy / w, 0, 0, 1);
    return to * cv::Matx33d(m[0][0], m[1][0], m[2][0], m[0][1], m[1][1], m[2][1], m[0][2], m[1][2], m[2][2]) * from;
}

// How much the exposed slow picture differs from the fast one for each angle; empty where too little is seen of it.
std::vector<double> differences(const BlurPair& pair) {
    const cv::Mat slow = linearOf(*pair.slow);
    cv::Mat fast = linearOf(*pair.fast);
    const cv::Mat whole(slow.size(), CV_32F, cv::Scalar(1));
    std::vector<double> all;
    for (double angle = 0; angle <= mostAngle; angle += step) {
        const int samples = angle == 0 ? 1 : std::clamp(int(pair.travel * pair.fast->size.width * angle / 360 / 1.2), 5, 28);
        cv::Mat sum = cv::Mat::zeros(slow.size(), CV_32F), seen = cv::Mat::zeros(slow.size(), CV_32F), moved, mask;
        for (int i = 0; i < samples; ++i) {
            const double at = angle / 360 * ((i + 0.5) / samples - 0.5) * 2; // in half frames
            const Matrix by = at < 0 ? partOf(pair.before, -at) : partOf(pair.after, at);
            const cv::Matx33d m = pixels(then(pair.toFast, by), *pair.slow);
            cv::warpPerspective(slow, moved, m, slow.size(), cv::INTER_LINEAR);
            cv::warpPerspective(whole, mask, m, slow.size(), cv::INTER_LINEAR);
            sum += moved;
            seen += mask;
        }
        sum /= samples;
        const cv::Mat inside = seen > samples - 0.01;
        if (cv::countNonZero(inside) < int(inside.total()) / 6) return {};
        // Brightness may differ a little; noise and what moves on its own counts less for being smoothed.
        cv::Mat d = sum - fast;
        const double offset = cv::mean(d, inside)[0];
        d -= offset;
        cv::GaussianBlur(d, d, {}, 0.7);
        cv::Mat square = d.mul(d);
        all.push_back(cv::mean(square, inside)[0]);
    }
    return all;
}

} // namespace

std::optional<double> shutterAngleOf(const std::vector<BlurPair>& pairs) {
    struct Told {
        double angle, weight;
    };
    std::vector<Told> told;
    for (const BlurPair& pair : pairs) {
        if (pair.travel < leastTravel || pair.slower > mostSlower) continue;
        const std::vector<double> d = differences(pair);
        if (d.size() < 3) continue;
        const auto best = std::size_t(std::min_element(d.begin(), d.end()) - d.begin());
        const double worst = std::max(d.front(), d.back());
        if (!(worst > 0) || 1 - d[best] / worst < leastContrast) continue;
        double angle = double(best) * step;
        if (best > 0 && best + 1 < d.size()) { // a parabola through the three least
            const double bend = d[best - 1] - 2 * d[best] + d[best + 1];
            if (bend > 0) angle += step * (d[best - 1] - d[best + 1]) / (2 * bend);
        }
        told.push_back({angle / std::sqrt(1 - pair.slower * pair.slower), (1 - d[best] / worst) * pair.travel});
    }
    if (told.empty()) return std::nullopt;
    std::sort(told.begin(), told.end(), [](const Told& a, const Told& b) { return a.angle < b.angle; });
    double all = 0, upTo = 0;
    for (const Told& t : told) all += t.weight;
    for (const Told& t : told)
        if ((upTo += t.weight) >= all / 2) return t.angle;
    return told.back().angle;
}

} // namespace virga
