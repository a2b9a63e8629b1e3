// Pictures made up between two that were filmed, on real footage: every second picture is left out, made up from its
// neighbours and compared with the true one (PSNR of 8-bit code values), beside the plain mix; and what one takes
// beside OpenCV's own optical flow, both ways, in the same run. Prints a table in Markdown. Usage: in_between_benchmark
// FILE...
// [--pictures N] [--from N]
#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <opencv2/video/tracking.hpp>

#include "core/decode/video_reader.h"
#include "core/optical_flow/made_up.h"
#include "core/raster/transfer.h"

using namespace virga;

namespace {

double secondsFor(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

double psnr(const Image<Linear16>& a, const Image<Linear16>& b) {
    double sum = 0;
    std::vector<Rgba8> p(std::size_t(a.width())), q(std::size_t(a.width()));
    for (int y = 0; y < a.height(); ++y) {
        encodeRow(a.row(y), p.data(), a.width());
        encodeRow(b.row(y), q.data(), a.width());
        for (std::size_t x = 0; x < p.size(); ++x) {
            const double r = p[x].r - q[x].r, g = p[x].g - q[x].g, blue = p[x].b - q[x].b;
            sum += r * r + g * g + blue * blue;
        }
    }
    return 10 * std::log10(255 * 255 * 3.0 * a.width() * a.height() / std::max(sum, 1.0));
}

} // namespace

int main(int argc, char** argv) {
    CLI::App app{"Pictures in between"};
    std::vector<std::string> files;
    int pictures = 20, from = 0;
    app.add_option("files", files)->required();
    app.add_option("--pictures", pictures, "made up of each file");
    app.add_option("--from", from, "the first one");
    CLI11_PARSE(app, argc, argv);
    fmt::print("| file | size | mix, dB | made up, dB | gain | worst | OpenCV flow, s | flow, s | picture, s | all to "
               "OpenCV |\n");
    fmt::print("|---|---|---|---|---|---|---|---|---|---|\n");
    double gains = 0;
    int counted = 0;
    for (const std::string& file : files) {
        auto reader = VideoReader::open(file);
        if (!reader) {
            fmt::print(stderr, "{}\n", describe(reader.error()));
            continue;
        }
        double plain = 0, made = 0, worst = 1e9, other = 0, flowing = 0, making = 0;
        int n = 0;
        Size size;
        for (int i = 0; i < pictures; ++i) {
            const std::int64_t at = from + 2 * i;
            auto a = (*reader)->read(at), truth = (*reader)->read(at + 1), b = (*reader)->read(at + 2);
            if (!a || !truth || !b) break;
            size = a->size();
            const Grey first = greyOf(*a, flowSide), second = greyOf(*b, flowSide);
            FlowPair flow;
            flowing += secondsFor([&] { flow = flowBetween(first, second); });
            Image<Linear16> picture;
            making += secondsFor([&] { picture = madeUp(*a, *b, flow, 0.5); });
            cv::setNumThreads(-1);
            const cv::Mat p(first.size.height, first.size.width, CV_8UC1,
                            const_cast<std::uint8_t*>(first.pixels.data())),
                q(second.size.height, second.size.width, CV_8UC1, const_cast<std::uint8_t*>(second.pixels.data()));
            other += secondsFor([&] {
                const auto search = cv::DISOpticalFlow::create(cv::DISOpticalFlow::PRESET_MEDIUM);
                cv::Mat there, back;
                search->calc(p, q, there);
                search->calc(q, p, back);
            });
            const double mix = psnr(mixed(*a, *b, 0.5), *truth), own = psnr(picture, *truth);
            plain += mix, made += own, worst = std::min(worst, own - mix), ++n;
        }
        if (n == 0) continue;
        gains += (made - plain) / n, ++counted;
        fmt::print("| {} | {}x{} | {:.2f} | {:.2f} | {:+.2f} | {:+.2f} | {:.3f} | {:.3f} | {:.3f} | {:.2f} |\n",
                   std::filesystem::path(file).filename().string(), size.width, size.height, plain / n, made / n,
                   (made - plain) / n, worst, other / n, flowing / n, making / n, (flowing + making) / other);
    }
    if (counted > 0) fmt::print("\nMean gain over {} files: {:+.2f} dB\n", counted, gains / counted);
}
