// Finishing beside the same work by a general-purpose library, in the same run: OpenCV's filters in float on the same
// canvas, with the same number of threads. Quality is PSNR against white = 1 between the two; both are right but for
// the way they sample. Prints a table in Markdown. Usage: finish_benchmark [--size WIDTHxHEIGHT] [--threads N] [--times
// N]
#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <functional>
#include <opencv2/imgproc.hpp>
#include <tbb/global_control.h>

#include "core/effects/finish.h"
#include "core/effects/glow.h"
#include "core/render/path_blur.h"
#include "tests/core/effects/canvases.h"

using namespace virga;

namespace {

// As many samples of a path as the loop that it is compared with takes: one every six pixels here. Exports take four
// times as many.
constexpr Quality loopQuality{6, 256};

struct Case {
    std::string name;
    Treatment treatment;
    std::string other; // what OpenCV does
    std::function<cv::Mat(const cv::Mat&)> by;
    Quality quality = loopQuality;
};

cv::Mat lineKernel(double length, double angle) {
    const int reach = int(std::ceil(length / 2)) + 2;
    cv::Mat kernel = cv::Mat::zeros(2 * reach + 1, 2 * reach + 1, CV_32F);
    for (int i = 0; i < 20000; ++i) {
        const double t = ((i + 0.5) / 20000 - 0.5) * length;
        const double x = reach + t * std::cos(angle * CV_PI / 180), y = reach + t * std::sin(angle * CV_PI / 180);
        const int ix = int(x), iy = int(y);
        const auto fx = float(x - ix), fy = float(y - iy);
        kernel.at<float>(iy, ix) += (1 - fx) * (1 - fy);
        kernel.at<float>(iy, ix + 1) += fx * (1 - fy);
        kernel.at<float>(iy + 1, ix) += (1 - fx) * fy;
        kernel.at<float>(iy + 1, ix + 1) += fx * fy;
    }
    return kernel / cv::sum(kernel)[0];
}

cv::Mat discKernel(double radius) {
    const int reach = int(std::ceil(radius)) + 1;
    cv::Mat kernel(2 * reach + 1, 2 * reach + 1, CV_32F);
    for (int y = -reach; y <= reach; ++y)
        for (int x = -reach; x <= reach; ++x)
            kernel.at<float>(y + reach, x + reach) = float(std::clamp(radius + 0.5 - std::hypot(x, y), 0.0, 1.0));
    return kernel / cv::sum(kernel)[0];
}

cv::Mat gaussian(const cv::Mat& from, double sigma) {
    cv::Mat out;
    cv::GaussianBlur(from, out, {}, sigma, sigma, cv::BORDER_REFLECT);
    return out;
}

cv::Mat warps(const cv::Mat& from, const std::function<cv::Mat(double)>& at) {
    cv::Mat sum = cv::Mat::zeros(from.size(), from.type()), one;
    for (int i = 0; i < 32; ++i) {
        cv::warpAffine(from, one, at((i + 0.5) / 32 - 0.5), from.size(), cv::INTER_LINEAR, cv::BORDER_REFLECT);
        sum += one;
    }
    return sum / 32;
}

std::vector<Case> casesFor(Size size) {
    const double h = size.height, w = size.width;
    const cv::Point2f middle(float(w / 2 - 0.5), float(h / 2 - 0.5));
    std::vector<Case> cases;
    for (const double sigma : {10.0, 40.0})
        cases.push_back({fmt::format("blur, σ {:.0f} px", sigma), GaussianBlur{sigma / h, sigma / h}, "GaussianBlur",
                         [=](const cv::Mat& from) { return gaussian(from, sigma); }});
    for (const double angle : {0.0, 30.0})
        cases.push_back({fmt::format("along 150 px, {:.0f}°", angle), LineBlur{150 / w, angle}, "filter2D",
                         [kernel = lineKernel(150, angle)](const cv::Mat& from) {
                             cv::Mat out;
                             cv::filter2D(from, out, -1, kernel, {-1, -1}, 0, cv::BORDER_REFLECT);
                             return out;
                         }});
    cases.push_back({"blur zoom 1.3", ZoomBlur{1.3, {0.5, 0.5}}, "32 warpAffine", [=](const cv::Mat& from) {
                         return warps(from,
                                      [&](double t) { return cv::getRotationMatrix2D(middle, 0, std::pow(1.3, t)); });
                     }});
    cases.push_back({"blur spin 12°", SpinBlur{12, {0.5, 0.5}}, "32 warpAffine", [=](const cv::Mat& from) {
                         return warps(from, [&](double t) { return cv::getRotationMatrix2D(middle, -12 * t, 1); });
                     }});
    cases.push_back(
        {"defocus, 20 px", Defocus{20 / h, 0, 0}, "filter2D", [kernel = discKernel(20)](const cv::Mat& from) {
             cv::Mat out;
             cv::filter2D(from, out, -1, kernel, {-1, -1}, 0, cv::BORDER_REFLECT);
             return out;
         }});
    cases.push_back({"glow, 58 px", Glow{1, 0.6, 0.2, 0.08}, "five GaussianBlur", [=](const cv::Mat& from) {
                         cv::Mat bright(from.size(), from.type()), sum = from.clone();
                         from.forEach<cv::Vec4f>([&](const cv::Vec4f& p, const int* at) {
                             const float share = std::max(0.0f, glowingShare(std::max({p[0], p[1], p[2]}), 0.6f, 0.2f));
                             bright.at<cv::Vec4f>(at[0], at[1]) = {p[0] * share, p[1] * share, p[2] * share, 0};
                         });
                         for (int i = 0; i < 5; ++i) sum += gaussian(bright, 0.08 * h / (1 << i)) * 0.2;
                         return sum;
                     }});
    cases.push_back({"colour split, 3 steps", ColourSplit{0.012, true, 0, {0.5, 0.5}, 3}, "three remap",
                     [=, maps = std::make_shared<std::vector<cv::Mat>>()](const cv::Mat& from) {
                         std::vector<cv::Mat> channels;
                         cv::split(from, channels);
                         for (int c = 0; c < 3; ++c) {
                             if (maps->size() < std::size_t(2 * c + 2)) { // a program would keep them
                                 cv::Mat x(from.size(), CV_32F), y(from.size(), CV_32F);
                                 const double k = 1 + 0.024 * (1 - c);
                                 for (int j = 0; j < from.rows; ++j)
                                     for (int i = 0; i < from.cols; ++i) {
                                         x.at<float>(j, i) = float((i - middle.x) / k + middle.x);
                                         y.at<float>(j, i) = float((j - middle.y) / k + middle.y);
                                     }
                                 maps->push_back(x);
                                 maps->push_back(y);
                             }
                             cv::Mat moved;
                             cv::remap(channels[std::size_t(c)], moved, (*maps)[std::size_t(2 * c)],
                                       (*maps)[std::size_t(2 * c + 1)], cv::INTER_LINEAR, cv::BORDER_REFLECT);
                             channels[std::size_t(c)] = moved;
                         }
                         cv::Mat out;
                         cv::merge(channels, out);
                         return out;
                     }});
    const auto copied = [](const cv::Mat& from) { return from.clone(); };
    cases.push_back({"vignette", Vignette{}, "a copy", copied});
    std::get<Vignette>(cases.back().treatment).amount = 0.7;
    cases.push_back({"light", Light{1}, "a copy", copied});
    cases.push_back({"sharpen", Sharpen{1, 0.0015, 0}, "a copy", copied});
    return cases;
}

double best(int times, const std::function<void()>& prepare, const std::function<void()>& work) {
    double least = 1e300;
    for (int i = 0; i < times; ++i) {
        prepare();
        const auto began = std::chrono::steady_clock::now();
        work();
        least = std::min(least,
                         std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count());
    }
    return least;
}

} // namespace

int main(int argc, char** argv) {
    CLI::App app("Finishing beside OpenCV");
    std::string sizeText = "1280x720";
    int threads = 2, times = 5;
    app.add_option("--size", sizeText);
    app.add_option("--threads", threads);
    app.add_option("--times", times);
    CLI11_PARSE(app, argc, argv);
    Size size;
    if (std::sscanf(sizeText.c_str(), "%dx%d", &size.width, &size.height) != 2) return 1;
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, std::size_t(threads));
    cv::setNumThreads(threads);
    const Canvas picture = test::drawn(size);
    const cv::Mat mat = test::matOf(picture);
    fmt::print(
        "| {}×{}, {} threads | Virga, ms | OpenCV, ms | by | times as fast | PSNR, dB |\n|---|---|---|---|---|---|\n",
        size.width, size.height, threads);
    for (const Case& c : casesFor(size)) {
        Canvas canvas;
        const double ours = best(
            times, [&] { canvas = copyOf(picture); }, [&] { treat(canvas, c.treatment, c.quality, {}); });
        cv::Mat out;
        const double theirs = best(
            times, [] {}, [&] { out = c.by(mat); });
        const bool same = c.other != "a copy";
        fmt::print("| {} | {:.1f} | {:.1f} | {} | {:.1f} | {} |\n", c.name, ours, theirs, c.other, theirs / ours,
                   same ? fmt::format("{:.0f}", test::psnr(test::matOf(canvas), out, 70)) : "–");
    }
}
