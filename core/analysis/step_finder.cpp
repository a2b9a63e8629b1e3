#include "core/analysis/step_finder.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <map>
#include <opencv2/calib3d.hpp>
#include <opencv2/features2d.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include "core/analysis/feature_match.h"
#include "core/analysis/inside_only.h"
#include "core/analysis/similarity.h"
#include "core/base/median.h"

namespace virga {
namespace {

using namespace measure;

constexpr int mostCorners = 320;                 // that are followed
constexpr int quickCorners = 200;                // in a whole shot
constexpr int enoughCorners = 130;               // that are still followed: no others are looked for
constexpr int mostFollowed = 4;                  // pictures in a row that the same are followed through
constexpr double quickTravel = 0.02;             // widths: more is followed once more
constexpr double apart = 9;                      // pixels between two of them
constexpr double backError = 0.6;                // pixels, there and back
constexpr double reach = 1.25;                   // pixels that one may lie off the others' movement
constexpr double bent = 9;                       // pixels that a lens may take one off it
constexpr int fewest = 12;                       // features that must agree
constexpr double leastShare = 0.25;              // of those that were found in both pictures
constexpr int cells = 4;                         // a side, of the raster by which their spread is told
constexpr int leastCells = 4;                    // of it that must hold some
constexpr double subjectTrust = 0.3;             // of a movement's trust, where it may be a subject's
constexpr double clearlyBetter = 0.8;            // of a similarity's misses, by a perspective
constexpr double worthIt = 0.12;                 // pixels by which it must be better, too
constexpr int usualWindow = 17, wideWindow = 43; // pixels a side, that a corner is told by
constexpr double muchBlurred = 0.03;             // widths of travel
constexpr double sharp = 0.98;                   // trust that needs no second opinion
constexpr double farApart = 0.07;                // of its travel, that two opinions on a step may differ by
constexpr int enoughAround = 40;                 // features
constexpr int aroundPart = 9;                    // of a width, that is around one
constexpr double stillWithin = 1.25;             // pixels
constexpr int leastStill = 5;                    // features
constexpr double leastLike = 0.72;               // correlation of whole pictures that counts
constexpr double strays = 0.25, straysLeast = 3; // of what is expected, and pixels: another movement may be there, too
constexpr double leastExpected = 0.004;          // widths of travel
constexpr double lost = 0.5;                     // of what is expected: it is another movement
constexpr double asLike = 0.002;                 // of it, that tells nothing
constexpr double corrected = 0.4;                // pixels at the corner by which a guess may have been off

Point widthsOf(cv::Point2d pixel, const Grey& grey) {
    return {(pixel.x + 0.5 - grey.size.width / 2.0) / grey.size.width,
            (pixel.y + 0.5 - grey.size.height / 2.0) / grey.size.width};
}
cv::Point2f pixelsOf(Point widths, const Grey& grey) {
    return {float(widths.x * grey.size.width + grey.size.width / 2.0 - 0.5),
            float(widths.y * grey.size.width + grey.size.height / 2.0 - 0.5)};
}

std::vector<double> misses(const Matrix& map, const std::vector<FeaturePair>& pairs) {
    std::vector<double> all;
    all.reserve(pairs.size());
    for (const FeaturePair& p : pairs) all.push_back((through(map, p.from) - p.to).length());
    return all;
}

Matrix homographyOf(const std::vector<FeaturePair>& pairs) {
    std::vector<cv::Point2d> from, to;
    for (const FeaturePair& p : pairs) from.emplace_back(p.from.x, p.from.y), to.emplace_back(p.to.x, p.to.y);
    const cv::Mat h = cv::findHomography(from, to, 0);
    if (h.empty()) return {};
    Matrix m;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j) m[i][j] = h.at<double>(j, i) / h.at<double>(2, 2);
    return m;
}

// Misses of a model on the half of the features that it was not fitted to, both ways.
template <typename Fit> double heldOutMiss(const std::vector<FeaturePair>& pairs, const Fit& fit) {
    std::array<std::vector<FeaturePair>, 2> halves;
    for (std::size_t i = 0; i < pairs.size(); ++i) halves[i % 2].push_back(pairs[i]);
    std::vector<double> all;
    for (int side = 0; side < 2; ++side) {
        const auto part = misses(fit(halves[std::size_t(side)]), halves[std::size_t(1 - side)]);
        all.insert(all.end(), part.begin(), part.end());
    }
    return medianOf(all);
}

} // namespace

Matrix fittedSimilarity(const std::vector<FeaturePair>& pairs, double scale) {
    using Complex = std::complex<double>;
    std::vector<double> weights(pairs.size(), 1.0);
    Matrix map;
    for (int round = 0; round < 6; ++round) {
        Complex meanFrom, meanTo;
        double all = 0;
        for (std::size_t i = 0; i < pairs.size(); ++i) {
            meanFrom += weights[i] * Complex(pairs[i].from.x, pairs[i].from.y);
            meanTo += weights[i] * Complex(pairs[i].to.x, pairs[i].to.y);
            all += weights[i];
        }
        meanFrom /= all, meanTo /= all;
        Complex with;
        double square = 0;
        for (std::size_t i = 0; i < pairs.size(); ++i) {
            const Complex p = Complex(pairs[i].from.x, pairs[i].from.y) - meanFrom,
                          q = Complex(pairs[i].to.x, pairs[i].to.y) - meanTo;
            with += weights[i] * std::conj(p) * q;
            square += weights[i] * std::norm(p);
        }
        const Complex w = square > 0 ? with / square : Complex(1), t = meanTo - w * meanFrom;
        map = Matrix(w.real(), w.imag(), 0, -w.imag(), w.real(), 0, t.real(), t.imag(), 1);
        for (std::size_t i = 0; i < pairs.size(); ++i) {
            const double miss = (through(map, pairs[i].from) - pairs[i].to).length();
            weights[i] = miss > scale ? scale / miss : 1;
        }
    }
    return map;
}

struct StepFinder::State {
    bool thorough = false;
    Grey before;
    std::optional<Features> features; // of the picture before
    Matrix last;                      // what the step before did
    std::optional<Matrix> earlier;    // and the one before that
    std::optional<Matrix> expected;   // what the step would be that goes on as those two did
    bool twofold = false;             // two movements were seen in the step before

    std::vector<cv::Point2f> corners; // of the picture before
    std::vector<cv::Point2f> arrived; // those that were followed into the next one
    int age = 0;                      // pictures since they were looked for
    std::vector<cv::Mat> pyramid, nextPyramid;
    int levels = 0;
    int failures = 0, skipped = 0; // of looking for features, in a row; and since one was looked for

    static void follow(const std::vector<cv::Mat>& a, const std::vector<cv::Mat>& b, int levels, int side,
                       const std::vector<cv::Point2f>& from, std::vector<cv::Point2f>& to,
                       std::vector<std::uint8_t>& good, int backLevels = -1);
    void keep(Grey picture);
    std::vector<FeaturePair> followedPlainly(const Grey& next, const Matrix& guess);
    FoundStep quickly(const Grey& next, std::optional<Features>& of);
    FoundStep quicklyFound(const Grey& next, std::optional<Features>& of, std::vector<FeaturePair>& pairs);
    FoundStep thoroughly(const Grey& next, std::optional<Features>& of);
    std::vector<FeaturePair> followed(const Grey& next, const Matrix& guess, int window) const;
    std::optional<Matrix> byFeatures(const Grey& next, std::optional<Features>& of);
    FoundStep agreed(const std::vector<FeaturePair>& pairs, const Grey& next) const;
    FoundStep mostOf(const std::vector<FeaturePair>& pairs, const Grey& next) const;
    double offExpected(const FoundStep& found) const;
    bool contradicts(const FoundStep& whole, const FoundStep& found) const;
    bool isBetter(const FoundStep& found, const FoundStep& other) const;
    // Whole shots are read with fewer corners, but for perspectives, which need them all.
    bool isExact(const Matrix& guess) const { return thorough || guess[0][2] != 0 || guess[1][2] != 0; }
    FoundStep from(const Grey& next, const Matrix& guess, int window = usualWindow) const;
    FoundStep laidOn(const Grey& next, const Matrix& guess, const std::vector<FeaturePair>& around = {}) const;
    double likeness(const Grey& next, const Matrix& map) const;
    void tryHarder(const Grey& next, FoundStep& found, const std::vector<Matrix>& guesses) const;
};

// Pairs of corners that are followed there and back, in pixels. The way back begins where they came from: it may do
// with fewer levels.
void StepFinder::State::follow(const std::vector<cv::Mat>& a, const std::vector<cv::Mat>& b, int levels, int side,
                               const std::vector<cv::Point2f>& from, std::vector<cv::Point2f>& to,
                               std::vector<std::uint8_t>& good, int backLevels) {
    std::vector<std::uint8_t> there, again;
    std::vector<float> errors;
    const cv::Size window(side, side);
    const cv::TermCriteria until(cv::TermCriteria::COUNT | cv::TermCriteria::EPS, 20, 0.01);
    cv::calcOpticalFlowPyrLK(a, b, from, to, there, errors, window, levels, until, cv::OPTFLOW_USE_INITIAL_FLOW);
    std::vector<cv::Point2f> back = from;
    cv::calcOpticalFlowPyrLK(b, a, to, back, again, errors, window, backLevels < 0 ? levels : backLevels, until,
                             cv::OPTFLOW_USE_INITIAL_FLOW);
    const cv::Rect2f frame(0, 0, float(b[0].cols - 1), float(b[0].rows - 1));
    good.assign(from.size(), 0);
    for (std::size_t i = 0; i < from.size(); ++i)
        good[i] = there[i] && again[i] && cv::norm(from[i] - back[i]) < backError && frame.contains(to[i]);
}

// Corners followed from picture to picture; the guess only says where to begin.
std::vector<FeaturePair> StepFinder::State::followedPlainly(const Grey& next, const Matrix& guess) {
    if (int(corners.size()) < fewest) return {};
    std::vector<cv::Point2f> to;
    for (const cv::Point2f& p : corners) to.push_back(pixelsOf(through(guess, widthsOf(p, before)), next));
    std::vector<std::uint8_t> good;
    follow(pyramid, nextPyramid, levels, usualWindow, corners, to, good, std::min(levels, 1));
    std::vector<FeaturePair> pairs;
    for (std::size_t i = 0; i < to.size(); ++i) {
        if (!good[i]) continue;
        pairs.push_back({widthsOf(corners[i], before), widthsOf(to[i], next)});
        arrived.push_back(to[i]);
    }
    return pairs;
}

// Corners of the picture before, moved by the guess, followed from there.
std::vector<FeaturePair> StepFinder::State::followed(const Grey& next, const Matrix& guess, int side) const {
    const cv::Mat a = matOf(before), b = matOf(next);
    const auto inverse = inverseOf(guess);
    if (!inverse) return {};
    cv::Mat moved, inside;
    const cv::Matx33d m = pixelMatrix(guess, before);
    cv::warpPerspective(a, moved, m, a.size(), cv::INTER_LINEAR, cv::BORDER_REPLICATE);
    const cv::Mat whole(a.size(), CV_8UC1, cv::Scalar(255));
    cv::warpPerspective(whole, inside, m, a.size(), cv::INTER_NEAREST, cv::BORDER_CONSTANT, cv::Scalar(0));
    cv::erode(inside, inside, cv::Mat::ones(7, 7, CV_8UC1), {-1, -1}, 1, cv::BORDER_CONSTANT, cv::Scalar(0));
    std::vector<cv::Point2f> from;
    cv::goodFeaturesToTrack(moved, from, isExact(guess) ? mostCorners : quickCorners, 0.008, apart, inside);
    if (int(from.size()) < fewest) return {};
    std::vector<cv::Mat> pyramidA, pyramidB;
    const int deep = cv::buildOpticalFlowPyramid(moved, pyramidA, {side, side}, 4);
    cv::buildOpticalFlowPyramid(b, pyramidB, {side, side}, deep);
    std::vector<cv::Point2f> to = from;
    std::vector<std::uint8_t> good;
    follow(pyramidA, pyramidB, deep, side, from, to, good, isExact(guess) ? deep : std::min(deep, 1));
    std::vector<FeaturePair> pairs;
    for (std::size_t i = 0; i < from.size(); ++i)
        if (good[i]) pairs.push_back({through(*inverse, widthsOf(from[i], before)), widthsOf(to[i], next)});
    return pairs;
}

std::optional<Matrix> StepFinder::State::byFeatures(const Grey& next, std::optional<Features>& of) {
    const float scale = thorough ? 1 : 0.5F; // quickly: of pictures of half the size
    const auto found = [&](const Grey& grey) {
        if (thorough) return featuresOf(matOf(grey), 700);
        cv::Mat half;
        cv::resize(matOf(grey), half, {}, 0.5, 0.5, cv::INTER_AREA);
        return featuresOf(half, 300);
    };
    if (!features) features = found(before);
    of = found(next);
    std::vector<cv::Point2f> from, to;
    const auto whole = [&](cv::Point2f p) { return (p + cv::Point2f(0.5F, 0.5F)) / scale - cv::Point2f(0.5F, 0.5F); };
    for (const auto& [i, j] : mutualMatches(*features, *of)) from.push_back(whole(i)), to.push_back(whole(j));
    if (int(from.size()) < fewest) return std::nullopt;
    cv::setRNGSeed(20261127); // RANSAC draws: the same pictures give the same answer
    std::vector<std::uint8_t> agrees;
    const cv::Mat m = cv::estimateAffinePartial2D(from, to, agrees, cv::RANSAC, 3, 3000, 0.999, 20);
    const int count = int(std::count(agrees.begin(), agrees.end(), std::uint8_t(1)));
    if (m.empty() || count < 8) return std::nullopt;
    std::vector<FeaturePair> pairs;
    for (std::size_t i = 0; i < from.size(); ++i)
        if (agrees[i]) pairs.push_back({widthsOf(from[i], before), widthsOf(to[i], next)});
    return fittedSimilarity(pairs, 1.5 / before.size.width);
}

FoundStep StepFinder::State::mostOf(const std::vector<FeaturePair>& pairs, const Grey& next) const {
    FoundStep found;
    found.step.seen = int(pairs.size());
    if (int(pairs.size()) < fewest) return found;
    const double pixel = 1.0 / next.size.width;
    std::vector<cv::Point2f> from, to;
    for (const FeaturePair& p : pairs) from.push_back(pixelsOf(p.from, before)), to.push_back(pixelsOf(p.to, next));
    cv::setRNGSeed(20261127);
    std::vector<std::uint8_t> agrees;
    // A perspective bends what a similarity explains: it is looked for among all that nearly agree.
    const cv::Mat m = cv::estimateAffinePartial2D(from, to, agrees, cv::RANSAC, 2 * reach, 2000, 0.995, 20);
    if (m.empty()) return found;
    std::vector<FeaturePair> near;
    for (std::size_t i = 0; i < pairs.size(); ++i)
        if (agrees[i]) near.push_back(pairs[i]);
    if (int(near.size()) < fewest) return found;
    Matrix map = fittedSimilarity(near, 0.5 * pixel);
    if (int(near.size()) >= 4 * fewest && medianOf(misses(map, near)) > worthIt * pixel) {
        std::vector<std::uint8_t> onPlane;
        const cv::Mat h = cv::findHomography(from, to, cv::RANSAC, reach, onPlane, 1000, 0.995);
        std::vector<FeaturePair> planar;
        for (std::size_t i = 0; !h.empty() && i < pairs.size(); ++i)
            if (onPlane[i]) planar.push_back(pairs[i]);
        if (planar.size() * 10 >= near.size() * 9) {
            const double plain = heldOutMiss(planar, [&](const auto&p) { return fittedSimilarity(p, 0.5 * pixel); }),
                         bent = heldOutMiss(planar, homographyOf);
            if (bent < clearlyBetter * plain && plain - bent > worthIt * pixel) {
                map = homographyOf(planar);
                found.step.perspective = true;
            }
        }
    }
    std::array<int, cells * cells> spread{};
    double square = 0;
    int agreeing = 0;
    for (const FeaturePair& p : pairs) {
        const double miss = (through(map, p.from) - p.to).length();
        if (miss < bent * pixel) found.pairs.push_back(p);
        if (!(miss < reach * pixel)) continue;
        ++agreeing;
        square += miss * miss;
        const double x = std::clamp(p.to.x + 0.5, 0.0, 0.999),
                     y = std::clamp(p.to.y * next.size.aspect() + 0.5, 0.0, 0.999);
        ++spread[std::size_t(int(y * cells) * cells + int(x * cells))];
    }
    const auto filled = std::count_if(spread.begin(), spread.end(), [](int n) { return n > 0; });
    const double share = double(agreeing) / double(pairs.size());
    if (agreeing < fewest || share < leastShare || filled < leastCells) return found;
    found.step.map = map;
    found.step.agreeing = agreeing;
    found.step.error = 2 * std::sqrt(square / agreeing) / std::sqrt(double(agreeing)) + 0.01 * pixel;
    found.step.trust = std::min(1.0, agreeing / 60.0) * std::min(1.0, share * 1.4) * std::min(1.0, double(filled) / 8);
    return found;
}

// How far a step lies off the one that is expected, in widths.
double StepFinder::State::offExpected(const FoundStep& found) const {
    const auto inverse = inverseOf(*expected);
    return inverse ? travelOf(then(*inverse, found.step.map), before.size.aspect()) : 0;
}

namespace {

// Whether some of the others stand still in the middle of what moves.
bool isCovered(const FoundStep& found, const std::vector<FeaturePair>& others, double pixel) {
    int still = 0;
    for (const FeaturePair& p : others) {
        if ((p.to - p.from).length() > stillWithin * pixel) continue;
        still += std::any_of(found.pairs.begin(), found.pairs.end(),
                             [&](const FeaturePair& m) { return (m.to - p.to).length() < 1.0 / aroundPart; });
    }
    return still >= leastStill;
}

} // namespace

// In a crossfade both shots are seen, and the stronger one is what most features follow: where that is not what the
// shot did so far, the other one is it.
FoundStep StepFinder::State::agreed(const std::vector<FeaturePair>& pairs, const Grey& next) const {
    FoundStep found = mostOf(pairs, next);
    if (!expected || !found.step.isKnown()) return found;
    const double pixel = 1.0 / next.size.width, aspect = before.size.aspect(), goes = travelOf(*expected, aspect),
                 far = std::max(strays * goes, straysLeast * pixel);
    std::vector<FeaturePair> others;
    for (const FeaturePair& p : pairs)
        if ((through(found.step.map, p.from) - p.to).length() > 2 * reach * pixel) others.push_back(p);
    found.covered = isCovered(found, others, pixel);
    FoundStep second = mostOf(others, next);
    const auto inverse = inverseOf(found.step.map);
    if (!second.step.isKnown() || !inverse || travelOf(then(*inverse, second.step.map), aspect) < far) return found;
    const double off = offExpected(found);
    FoundStep& chosen = off > far && offExpected(second) < lost * off ? second : found;
    chosen.twofold = true;
    chosen.second = &chosen == &second;
    return std::move(chosen);
}

// What is far from another opinion on a step, and farther than that one from what is expected: a movement seldom jumps.
bool StepFinder::State::contradicts(const FoundStep& whole, const FoundStep& found) const {
    const double aspect = before.size.aspect();
    const auto inverse = inverseOf(found.step.map);
    return expected && inverse &&
           travelOf(then(*inverse, whole.step.map), aspect) > farApart * travelOf(found.step.map, aspect) &&
           offExpected(whole) > offExpected(found);
}

bool StepFinder::State::isBetter(const FoundStep& found, const FoundStep& other) const {
    if (found.step.isKnown() && other.step.isKnown() && (found.second || other.second))
        return offExpected(found) < offExpected(other);
    const auto worth = [](const FoundStep& f) { return f.step.trust * (1 + f.step.agreeing); };
    return worth(found) > worth(other);
}

FoundStep StepFinder::State::from(const Grey& next, const Matrix& guess, int window) const {
    FoundStep found = agreed(followed(next, guess, window), next);
    // From where it was found to be, once more: windows that turn or grow are then compared alike.
    const auto off = [&](const Matrix& was) {
        const auto inverse = inverseOf(was);
        return inverse ? travelOf(then(*inverse, found.step.map), before.size.aspect()) * before.size.width : 1e9;
    };
    if (isExact(guess) && found.step.isKnown() && off(guess) > corrected) {
        FoundStep closer = agreed(followed(next, found.step.map, window), next);
        if (closer.step.isKnown() && closer.step.agreeing * 10 >= found.step.agreeing * 9) return closer;
    }
    return found;
}

// The whole picture before laid on the next one, from a guess: what is too blurred for corners still has its large
// shapes (Evangelidis and Psarakis, "Parametric image alignment using enhanced correlation coefficient maximization",
// PAMI 30, 2008). The similarity nearest to what is found. Only what lies around features is looked at, where there are
// enough of them: black bars and titles stay where they are.
FoundStep StepFinder::State::laidOn(const Grey& next, const Matrix& guess,
                                    const std::vector<FeaturePair>& around) const {
    FoundStep found;
    const auto inverse = inverseOf(guess);
    if (!inverse) return found;
    cv::Mat a, b; // at half the size: large shapes are enough
    cv::resize(matOf(before), a, {}, 0.5, 0.5, cv::INTER_AREA);
    cv::resize(matOf(next), b, {}, 0.5, 0.5, cv::INTER_AREA);
    const Grey half{{a.cols, a.rows}, before.source, {}};
    // OpenCV's warp takes places of the picture that stays to those of the one that is laid on it.
    const cv::Matx33d m = pixelMatrix(*inverse, half);
    cv::Mat warp = (cv::Mat_<float>(2, 3) << m(0, 0), m(0, 1), m(0, 2), m(1, 0), m(1, 1), m(1, 2));
    cv::Mat near;
    if (int(around.size()) >= enoughAround) {
        near = cv::Mat(a.size(), CV_8UC1, cv::Scalar(0));
        for (const FeaturePair& p : around)
            cv::circle(near, pixelsOf(p.from, half), a.cols / aroundPart, cv::Scalar(255), -1);
    }
    double like = 0;
    try {
        like =
            cv::findTransformECC(b, a, warp, cv::MOTION_AFFINE,
                                 cv::TermCriteria(cv::TermCriteria::COUNT | cv::TermCriteria::EPS, 50, 1e-5), near, 5);
    } catch (const cv::Exception&) {
        return found; // flat, or too far away
    }
    std::vector<FeaturePair> pairs;
    int inside = 0;
    for (int y = 0; y < 5; ++y)
        for (int x = 0; x < 7; ++x) {
            const cv::Point2d p(b.cols * (x + 0.5) / 7, b.rows * (y + 0.5) / 5);
            const auto w = [&](int r, int c) { return double(warp.at<float>(r, c)); };
            const cv::Point2d q(w(0, 0) * p.x + w(0, 1) * p.y + w(0, 2), w(1, 0) * p.x + w(1, 1) * p.y + w(1, 2));
            inside += q.x >= 0 && q.y >= 0 && q.x < b.cols && q.y < b.rows;
            pairs.push_back({widthsOf(q, half), widthsOf(p, half)});
        }
    if (!(like > leastLike) || inside < 12) return found;
    const Matrix map = fittedSimilarity(pairs, 1);
    double sheared = 0; // what no similarity does
    for (const double miss : misses(map, pairs)) sheared = std::max(sheared, miss);
    if (sheared > 0.03) return found;
    found.step.map = map;
    found.step.trust = std::min(0.34, (like - leastLike) * 1.5 + 0.02);
    found.step.error = 0.0005 + 0.006 * travelOf(map, next.size.aspect()) + 0.2 * sheared;
    return found;
}

// The correlation of the picture before, moved, with the next one, where both are seen.
double StepFinder::State::likeness(const Grey& next, const Matrix& map) const {
    const cv::Mat a = matOf(before), b = matOf(next);
    cv::Mat moved, inside, plain;
    const cv::Matx33d m = pixelMatrix(map, before);
    cv::warpPerspective(a, moved, m, a.size(), cv::INTER_LINEAR, cv::BORDER_REPLICATE);
    cv::warpPerspective(cv::Mat(a.size(), CV_8UC1, cv::Scalar(255)), inside, m, a.size(), cv::INTER_NEAREST,
                        cv::BORDER_CONSTANT, cv::Scalar(0));
    cv::GaussianBlur(moved, moved, {9, 9}, 0);
    cv::GaussianBlur(b, plain, {9, 9}, 0);
    return cv::computeECC(moved, plain, inside);
}

void StepFinder::State::tryHarder(const Grey& next, FoundStep& found, const std::vector<Matrix>& guesses) const {
    for (const Matrix& guess : guesses) {
        FoundStep other = from(next, guess, wideWindow);
        if (isBetter(other, found)) found = std::move(other);
    }
    if (found.step.trust >= 0.2 || twofold) return; // the whole of two shots is neither
    FoundStep best;
    for (const Matrix& guess : guesses) {
        FoundStep other = laidOn(next, guess);
        if (other.step.trust > best.step.trust) best = std::move(other);
    }
    if (best.step.trust > found.step.trust) {
        best.step.seen = found.step.seen;
        found = std::move(best);
    }
}

StepFinder::StepFinder(bool thorough) : m(std::make_unique<State>()) {
    m->thorough = thorough;
}
StepFinder::~StepFinder() = default;

// The picture becomes the one before, with its corners.
void StepFinder::State::keep(Grey picture) {
    before = std::move(picture);
    if (thorough) return;
    std::swap(pyramid, nextPyramid);
    std::swap(corners, arrived);
    arrived.clear();
    // Where they lie need not be exact: what arrived is followed on, but not for long, so that all of the picture is
    // seen to.
    if (int(corners.size()) >= enoughCorners && ++age < mostFollowed) return;
    age = 0;
    corners.clear();
    // Looked for at half the size, which is in the pyramid already: where a window is laid need not be exact.
    if (levels < 1) return;
    cv::goodFeaturesToTrack(pyramid[2], corners, quickCorners, 0.008, apart / 2);
    for (cv::Point2f& p : corners) p = (p + cv::Point2f(0.25F, 0.25F)) * 2;
}

// Of a whole shot it is asked what the camera does: a movement that only the inside shows is trusted less.
FoundStep StepFinder::State::quickly(const Grey& next, std::optional<Features>& of) {
    std::vector<FeaturePair> pairs;
    FoundStep found = quicklyFound(next, of, pairs);
    if (found.step.isKnown() && travelOf(found.step.map, next.size.aspect()) * next.size.width > stillWithin &&
        isInsideOnly(found.step.map, pairs, next.size, 2 * reach / next.size.width)) {
        found.step.ofSubject = true;
        found.step.trust *= subjectTrust;
    }
    return found;
}

FoundStep StepFinder::State::quicklyFound(const Grey& next, std::optional<Features>& of,
                                          std::vector<FeaturePair>& pairs) {
    pairs = followedPlainly(next, last);
    FoundStep found = agreed(pairs, next);
    const double aspect = next.size.aspect();
    if (found.step.isKnown()) {
        failures = 0;
        // Windows that turn or grow much are compared alike only when the picture is moved first.
        if (found.step.perspective || travelOf(found.step.map, aspect) > quickTravel) {
            FoundStep closer = from(next, found.step.map);
            if (closer.step.trust >= 0.9 * found.step.trust) return closer;
        }
        return found;
    }
    // Features of their own take long: where they do not help, they are looked for ever more seldom.
    if (skipped++ < std::min(16, failures * 2)) return found;
    skipped = 0;
    ++failures;
    if (const auto by = byFeatures(next, of)) {
        FoundStep other = from(next, *by);
        if (other.step.isKnown()) failures = 0, found = std::move(other);
    }
    return found;
}

FoundStep StepFinder::State::thoroughly(const Grey& next, std::optional<Features>& of) {
    const double aspect = next.size.aspect();
    // A movement that grows goes on growing.
    expected.reset();
    if (earlier)
        if (const double was = travelOf(*earlier, aspect); was > 1e-4)
            expected = partOf(last, std::clamp(travelOf(last, aspect) / was, 0.5, 2.0));
    if (expected && travelOf(*expected, aspect) < leastExpected) expected.reset();
    FoundStep found = from(next, last);
    if (found.step.trust < 0.75 || found.second || (twofold && expected)) {
        std::vector<Matrix> guesses{last};
        if (expected) guesses.push_back(*expected);
        if (const auto by = byFeatures(next, of)) guesses.push_back(*by);
        for (std::size_t i = 1; i < guesses.size(); ++i) {
            FoundStep other = from(next, guesses[i]);
            if (isBetter(other, found)) found = std::move(other);
        }
        if (found.step.trust < 0.6) tryHarder(next, found, guesses);
    }
    if (found.twofold || found.covered) return found; // the large shapes are those of both
    if (twofold && expected && found.step.isKnown() && offExpected(found) > lost * travelOf(*expected, aspect))
        return {}; // the other shot: nothing is known of this one
    // Corners of what is much blurred lie where its ends are: there the large shapes are more exact. A perspective that
    // explains them no better is none.
    if (found.step.isKnown() && found.step.trust < sharp && travelOf(found.step.map, aspect) > muchBlurred) {
        const bool bent = found.step.perspective;
        const double pixel = 1.0 / next.size.width;
        const FoundStep whole =
            laidOn(next, bent ? fittedSimilarity(found.pairs, 0.5 * pixel) : found.step.map, found.pairs);
        if (whole.step.trust > 0.2 && !contradicts(whole, found) &&
            (!bent || likeness(next, whole.step.map) > likeness(next, found.step.map) - asLike)) {
            found.step.map = whole.step.map;
            found.step.perspective = false;
            found.step.error = std::max(found.step.error, whole.step.error);
        }
    }
    return found;
}

FoundStep StepFinder::next(Grey picture) {
    FoundStep found;
    std::optional<Features> features;
    if (!m->thorough)
        m->levels = cv::buildOpticalFlowPyramid(matOf(picture), m->nextPyramid, {usualWindow, usualWindow}, 3, true,
                                                cv::BORDER_REFLECT_101, cv::BORDER_CONSTANT, false);
    if (!m->before.isEmpty() && m->before.size == picture.size)
        found = m->thorough ? m->thoroughly(picture, features) : m->quickly(picture, features);
    const bool plain = found.step.isKnown() && !found.step.perspective;
    const bool hidden = !found.step.isKnown() && m->twofold && m->expected; // it goes on behind the other shot
    m->earlier = plain || hidden ? std::optional(m->last) : std::nullopt;
    m->last = plain ? found.step.map : hidden ? *m->expected : Matrix();
    m->twofold = found.twofold || hidden;
    m->keep(std::move(picture));
    m->features = std::move(features);
    return found;
}

} // namespace virga
