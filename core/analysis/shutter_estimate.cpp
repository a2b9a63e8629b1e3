#include "core/analysis/shutter_estimate.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/analysis/similarity.h"

namespace virga {
namespace {

using namespace measure;

constexpr double leastTravel = 0.008; // widths: 5 pixels of 640
constexpr double mostSlower = 0.72;   // of the fast one's speed
constexpr double mostOwnBlur = 0.9;   // of the fast one's
constexpr double mostAngle = 540, coarse = 45, step = 15;
constexpr double leastContrast = 0.12; // by which the best angle must be better than the worst

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

// How much the exposed slow picture differs from the fast one. At half the size: blur is long.
class Comparison {
public:
    explicit Comparison(const BlurPair& pair) : m_pair(pair) {
        cv::resize(linearOf(*pair.slow), m_slow, {}, 0.5, 0.5, cv::INTER_AREA);
        cv::resize(linearOf(*pair.fast), m_fast, {}, 0.5, 0.5, cv::INTER_AREA);
        m_half = Grey{{m_slow.cols, m_slow.rows}, pair.slow->source, {}};
        // What the slow picture shows at both ends of the longest exposure counts.
        const cv::Mat whole(m_slow.size(), CV_32F, cv::Scalar(1));
        m_inside = cv::Mat(m_slow.size(), CV_8U, cv::Scalar(255));
        for (const double at : {-1.0, 0.0, 1.0}) {
            cv::Mat seen;
            cv::warpPerspective(whole, seen, mapAt(at), m_slow.size(), cv::INTER_LINEAR);
            m_inside &= seen > 0.99;
        }
    }
    bool isEnough() const { return cv::countNonZero(m_inside) >= int(m_inside.total()) / 8; }
    /// For an angle in degrees.
    double at(double angle) const {
        const int samples = angle == 0 ? 1 : std::clamp(int(m_pair.travel * m_slow.cols * angle / 360 / 1.2), 5, 24);
        cv::Mat sum = cv::Mat::zeros(m_slow.size(), CV_32F), moved;
        for (int i = 0; i < samples; ++i) {
            cv::warpPerspective(m_slow, moved, mapAt(angle / 180 * ((i + 0.5) / samples - 0.5)), m_slow.size(),
                                cv::INTER_LINEAR, cv::BORDER_REPLICATE);
            sum += moved;
        }
        // Brightness may differ a little.
        cv::Mat d = sum / samples - m_fast;
        d -= cv::mean(d, m_inside)[0];
        return cv::mean(d.mul(d), m_inside)[0];
    }

private:
    // In half frames from the fast picture's own time.
    cv::Matx33d mapAt(double at) const {
        const Matrix by = at < 0 ? partOf(m_pair.before, -at) : partOf(m_pair.after, at);
        return pixelMatrix(then(m_pair.toFast, by), m_half);
    }
    const BlurPair& m_pair;
    cv::Mat m_slow, m_fast, m_inside;
    Grey m_half;
};

// How long the slow picture's own blur is where the fast one is, as a share of the fast one's.
double slowBlurOf(const BlurPair& pair) {
    const Matrix& m = pair.toFast;
    return pair.slower * std::sqrt(std::abs(m[0][0] * m[1][1] - m[0][1] * m[1][0]));
}

struct Told {
    double angle, weight;
};

std::optional<Told> toldBy(const BlurPair& pair) {
    const Comparison compare(pair);
    if (!compare.isEnough()) return std::nullopt;
    double best = 0, least = -1, worst = 0;
    for (double angle = 0; angle <= mostAngle; angle += coarse) {
        const double d = compare.at(angle);
        if (least < 0 || d < least) least = d, best = angle;
        worst = angle == 0 || angle + coarse > mostAngle ? std::max(worst, d) : worst;
    }
    if (!(worst > 0) || 1 - least / worst < leastContrast) return std::nullopt;
    for (const double angle : {best - 2 * step, best - step, best + step, best + 2 * step})
        if (const double d = angle < 0 ? least + 1 : compare.at(angle); d < least) least = d, best = angle;
    double angle = best;
    if (best >= step) { // a parabola through the three least
        const double a = compare.at(best - step), c = compare.at(best + step), bend = a - 2 * least + c;
        if (bend > 0) angle += step * (a - c) / (2 * bend);
    }
    // The slow picture's own blur is enlarged with it.
    const double own = std::min(mostOwnBlur, slowBlurOf(pair));
    return Told{angle / std::sqrt(1 - own * own),
                std::pow((1 - least / worst) * pair.travel, 2)}; // long blur tells most
}

} // namespace

std::optional<double> shutterAngleOf(const std::vector<BlurPair>& pairs) {
    std::vector<Told> told;
    for (const BlurPair& pair : pairs) {
        if (pair.travel < leastTravel || pair.slower > mostSlower || slowBlurOf(pair) > mostOwnBlur) continue;
        if (const auto one = toldBy(pair)) told.push_back(*one);
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
