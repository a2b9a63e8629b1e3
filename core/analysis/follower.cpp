#include "core/analysis/follower.h"

#include <algorithm>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include "core/analysis/similarity.h"

namespace virga {
namespace {

using namespace measure;

constexpr int mostCorners = 120, fewestCorners = 5;
constexpr double backError = 1.0;   // pixels, there and back
constexpr double reach = 2.0;       // pixels that a corner may lie off the others' similarity
constexpr double leastLike = 0.55;  // correlation with a look below which nothing is corrected
constexpr double likeEnough = 0.85; // from which a look that it was corrected to becomes the one to compare with
constexpr int lookSide = 96;        // pixels a side of a kept look, at most

// A subject's look: a square patch around it, from a similarity that takes the patch's pixels to a picture's.
cv::Mat lookAt(const cv::Mat& picture, const Similarity& patchToPicture, int side) {
    const cv::Matx23d m(patchToPicture.a, -patchToPicture.b, patchToPicture.tx, patchToPicture.b, patchToPicture.a,
                        patchToPicture.ty);
    cv::Mat patch;
    cv::warpAffine(picture, patch, m, {side, side}, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
    return patch;
}

double correlation(const cv::Mat& a, const cv::Mat& b) {
    for (const cv::Mat& m : {a, b}) { // what is flat is like nothing
        cv::Scalar mean, spread;
        cv::meanStdDev(m, mean, spread);
        if (spread[0] < 1.5) return 0;
    }
    cv::Mat result;
    cv::matchTemplate(a, b, result, cv::TM_CCOEFF_NORMED);
    const float v = result.at<float>(0, 0);
    return std::isfinite(v) ? double(v) : 0;
}

} // namespace

struct Follower::State {
    Grey grey; // the latest picture
    SubjectSpot spot;
    Similarity now; // from the kept look's pixels to the latest picture's
    cv::Mat look;   // as it was first seen, or later when it had changed
    int side = 0;   // of the look
    double startAngle = 0, startScale = 1;
    bool lost = false;
    double lookSize = 0; // the subject's size in the look's pixels

    double radius() const { return std::max(4.0, spot.size * grey.size.width / 2); }
    std::vector<cv::Point2f> corners() const;
    std::optional<Similarity> byFlow(const Grey& next) const;
    double corrected(const Grey& next, Similarity& at) const;
};

// The subject's corners, those of its surroundings where it has too few of its own.
std::vector<cv::Point2f> Follower::State::corners() const {
    std::vector<cv::Point2f> found;
    const cv::Mat picture = matOf(grey);
    const cv::Point2d centre = pixelOf(spot.at, grey);
    for (const double wide : {1.0, 1.4}) {
        cv::Mat mask = cv::Mat::zeros(picture.size(), CV_8UC1);
        cv::circle(mask, cv::Point(cvRound(centre.x), cvRound(centre.y)), cvRound(radius() * wide), 255, cv::FILLED);
        const double apart = std::clamp(radius() / 8, 2.0, 12.0);
        cv::goodFeaturesToTrack(picture, found, mostCorners, 0.01, apart, mask);
        if (int(found.size()) >= 2 * fewestCorners) break;
    }
    return found;
}

std::optional<Similarity> Follower::State::byFlow(const Grey& next) const {
    const std::vector<cv::Point2f> from = corners();
    if (int(from.size()) < fewestCorners) return std::nullopt;
    std::vector<cv::Point2f> to, back;
    std::vector<std::uint8_t> there, again;
    std::vector<float> errors;
    const cv::Size window(21, 21);
    const cv::Mat a = matOf(grey), b = matOf(next);
    cv::calcOpticalFlowPyrLK(a, b, from, to, there, errors, window, 4);
    cv::calcOpticalFlowPyrLK(b, a, to, back, again, errors, window, 4);
    std::vector<cv::Point2f> p, q;
    for (std::size_t i = 0; i < from.size(); ++i)
        if (there[i] && again[i] && cv::norm(from[i] - back[i]) < backError) p.push_back(from[i]), q.push_back(to[i]);
    if (int(p.size()) < fewestCorners) return std::nullopt;
    cv::setRNGSeed(20261127);
    std::vector<std::uint8_t> agrees;
    const cv::Mat m = cv::estimateAffinePartial2D(p, q, agrees, cv::RANSAC, reach, 2000, 0.995, 20);
    const auto count = std::count(agrees.begin(), agrees.end(), std::uint8_t(1));
    if (m.empty() || count < fewestCorners) return std::nullopt;
    const Similarity step = similarityOf(m);
    return step.scale() > 0.7 && step.scale() < 1.4 ? std::optional(step) : std::nullopt;
}

// Lays the kept look on the picture anew, around where it is supposed to be; how alike both are then.
double Follower::State::corrected(const Grey& next, Similarity& at) const {
    const cv::Mat picture = matOf(next);
    // Where the flow missed it, the look is searched around there first.
    cv::Mat seen = lookAt(picture, at, side);
    double like = correlation(look, seen);
    cv::Mat warp = cv::Mat::eye(2, 3, CV_32F);
    try {
        cv::Mat mask(side, side, CV_8UC1, cv::Scalar(0));
        cv::circle(mask, {side / 2, side / 2}, side / 2, 255, cv::FILLED);
        cv::findTransformECC(look, seen, warp, cv::MOTION_AFFINE,
                             cv::TermCriteria(cv::TermCriteria::COUNT | cv::TermCriteria::EPS, 40, 1e-4), mask, 3);
    } catch (const cv::Exception&) {
        return like; // flat, or too far away
    }
    // The similarity nearest to it that moves the middle alike.
    const auto w = [&](int row, int column) { return double(warp.at<float>(row, column)); };
    const cv::Point2d middle((side - 1) / 2.0, (side - 1) / 2.0);
    const cv::Point2d to(w(0, 0) * middle.x + w(0, 1) * middle.y + w(0, 2),
                         w(1, 0) * middle.x + w(1, 1) * middle.y + w(1, 2));
    Similarity inside{(w(0, 0) + w(1, 1)) / 2, (w(1, 0) - w(0, 1)) / 2, 0, 0};
    if (!(inside.scale() > 0.8) || !(inside.scale() < 1.25)) return like;
    const cv::Point2d turned = inside(middle);
    inside.tx = to.x - turned.x, inside.ty = to.y - turned.y;
    const cv::Point2d moved = to - middle;
    if (std::hypot(moved.x, moved.y) > side * 0.25) return like;
    const Similarity better = inside.then(at);
    const double closer = correlation(look, lookAt(picture, better, side));
    if (closer < like || closer < leastLike) return like;
    at = better;
    return closer;
}

Follower::Follower(Grey picture, const SubjectSpot& start) : m(std::make_unique<State>()) {
    m->grey = std::move(picture);
    m->spot = start;
    const double wide = 2.4 * m->radius(); // with a little of its surroundings
    m->side = std::clamp(int(std::lround(wide)), 16, lookSide);
    const double step = wide / m->side; // pixels of the picture for one of the look
    const cv::Point2d centre = pixelOf(start.at, m->grey);
    m->now = {step, 0, centre.x - step * (m->side - 1) / 2, centre.y - step * (m->side - 1) / 2};
    m->look = lookAt(matOf(m->grey), m->now, m->side);
    m->startScale = step;
    m->startAngle = start.angle;
    m->lookSize = start.size;
}

Follower::~Follower() = default;

std::optional<SubjectSpot> Follower::next(Grey picture) {
    if (m->lost) return std::nullopt;
    const auto step = m->byFlow(picture);
    Similarity at = step ? m->now.then(*step) : m->now;
    const double like = m->corrected(picture, at);
    const cv::Point2d middle((m->side - 1) / 2.0, (m->side - 1) / 2.0), centre = at(middle);
    const bool inside = centre.x > -m->radius() && centre.y > -m->radius() &&
                        centre.x < picture.size.width + m->radius() && centre.y < picture.size.height + m->radius();
    if ((!step && like < leastLike) || !inside) {
        m->lost = true;
        return std::nullopt;
    }
    m->now = at;
    m->spot.at = fractionOf(centre, picture);
    m->spot.size = m->lookSize * at.scale() / m->startScale;
    m->spot.angle = m->startAngle + at.degrees();
    m->spot.byHand = false;
    m->grey = std::move(picture);
    // A subject that turns away is compared with how it looks by now; while the first look serves, it stays, so that
    // nothing adds up.
    if (like < leastLike && step) m->look = lookAt(matOf(m->grey), m->now, m->side);
    return m->spot;
}

} // namespace virga
