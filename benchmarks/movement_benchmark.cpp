// Movement read from whole shots: how many pictures a second on this thread, reading the file included, how many steps
// are known, and how well the product of 60 steps there and back closes; beside what anyone would write with OpenCV on
// the same grey pictures in the same run: corners, their optical flow, a similarity by RANSAC. Usage:
// movement_benchmark FILE... (taskset -c 1 for one core)
#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include "core/analysis/measure_movement.h"
#include "core/analysis/step_finder.h"
#include "core/base/one_thread.h"
#include "core/decode/video_reader.h"

using namespace virga;

namespace {

using Clock = std::chrono::steady_clock;
double seconds(Clock::time_point from) {
    return std::chrono::duration<double>(Clock::now() - from).count();
}

cv::Mat plainStep(const Grey& a, const Grey& b) {
    const auto mat = [](const Grey& g) {
        return cv::Mat(g.size.height, g.size.width, CV_8UC1, const_cast<std::uint8_t*>(g.pixels.data()));
    };
    std::vector<cv::Point2f> from, to;
    std::vector<std::uint8_t> found;
    std::vector<float> errors;
    cv::goodFeaturesToTrack(mat(a), from, 200, 0.01, 9);
    if (from.size() < 12) return cv::Mat::eye(3, 3, CV_64F);
    cv::calcOpticalFlowPyrLK(mat(a), mat(b), from, to, found, errors);
    std::vector<cv::Point2f> p, q;
    for (std::size_t i = 0; i < from.size(); ++i)
        if (found[i]) p.push_back(from[i]), q.push_back(to[i]);
    const cv::Mat m = p.size() < 6 ? cv::Mat() : cv::estimateAffinePartial2D(p, q);
    cv::Mat whole = cv::Mat::eye(3, 3, CV_64F);
    if (!m.empty()) m.copyTo(whole.rowRange(0, 2));
    return whole;
}

} // namespace

int main(int argc, char** argv) {
    const OneThread alone;
    fmt::print("| file | size | pictures | read and measured, a second | known | OpenCV alone, a second | 60 there and "
               "back, % | OpenCV, % |\n|---|---|---|---|---|---|---|---|\n");
    for (int i = 1; i < argc; ++i) {
        auto begun = Clock::now();
        const auto movement = measureMovement(argv[i]);
        const double whole = seconds(begun);
        if (!movement || movement->steps.size() < 61) continue;
        const auto known =
            std::count_if(movement->steps.begin(), movement->steps.end(), [](auto& s) { return s.isKnown(); });
        auto reader = VideoReader::open(argv[i]);
        std::vector<Grey> greys;
        for (int n = 0; n <= 60; ++n) greys.push_back(*(*reader)->readGrey(n, measuredSide));
        Matrix there, back;
        StepFinder forward, backward;
        for (std::size_t n = 0; n < greys.size(); ++n) {
            there = then(there, forward.next(greys[n]).step.map);
            back = then(back, backward.next(greys[greys.size() - 1 - n]).step.map);
        }
        cv::Mat thereOf = cv::Mat::eye(3, 3, CV_64F), backOf = thereOf.clone();
        begun = Clock::now();
        for (std::size_t n = 1; n < greys.size(); ++n) thereOf = plainStep(greys[n - 1], greys[n]) * thereOf;
        const double plain = seconds(begun) / 60;
        for (std::size_t n = greys.size() - 1; n > 0; --n) backOf = plainStep(greys[n], greys[n - 1]) * backOf;
        const cv::Mat round = backOf * thereOf;
        double off = 0;
        const double w = greys[0].size.width, h = greys[0].size.height;
        for (const double x : {0.0, w / 2, w})
            for (const double y : {0.0, h / 2, h}) {
                const cv::Mat p = round * (cv::Mat_<double>(3, 1) << x, y, 1);
                off = std::max(off, std::hypot(p.at<double>(0) - x, p.at<double>(1) - y) / w);
            }
        fmt::print("| {} | {}x{} | {} | {:.0f} | {:.0f} % | {:.0f} | {:.2f} | {:.2f} |\n",
                   std::filesystem::path(argv[i]).filename().string(), movement->size.width, movement->size.height,
                   movement->times.size(), double(movement->times.size()) / whole,
                   100.0 * double(known) / double(movement->steps.size()), 1 / plain,
                   100 * travelOf(then(there, back), movement->size.aspect()), 100 * off);
    }
    return 0;
}
