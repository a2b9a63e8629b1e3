// The sampling kernel beside what anyone would write with a general-purpose library, in the same run: N times OpenCV's
// warp added up, (a) as floats in linear light, (b) as 8-bit code values. End to end: 8 bit in, 8 bit out. Quality is
// PSNR in 8-bit code values against 512 samples. Prints a table in Markdown.
// Usage: kernel_benchmark [--size WIDTHxHEIGHT] [--threads N] [--times N] [--pixels P]
#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <opencv2/imgproc.hpp>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>

#include "core/raster/kept_light.h"
#include "core/raster/sampler.h"
#include "core/raster/transfer.h"
#include "core/render/render_frame.h"
#include "tests/support/pictures.h"

using namespace virga;

namespace {

constexpr int opencvSamples = 32;

struct Case {
    const char* name;
    std::function<ScreenMap(double)> at; // from shutter fraction 0 to 1
};

std::vector<Case> casesFor(Size size) {
    const Point middle(size.width / 2.0, size.height / 2.0);
    const auto about = [middle](const Matrix& m) {
        return ScreenMap(then(then(translation(-middle.x, -middle.y), m), translation(middle.x, middle.y)));
    };
    const auto zoomed = [about](double k) { return about(scaling(k, k)); };
    const double unit = 1280.0 / size.width;
    return {
        {"spin 180° in 8 frames", [=](double t) { return about(rotation(22.5 * t)); }},
        {"spin, eased", [=](double t) { return about(rotation(22.5 * t * (0.7 + 0.3 * t))); }},
        {"zoom 1 → 2.5 in 5 frames, the last", [=](double t) { return zoomed(std::pow(2.5, 0.8 + 0.2 * t)); }},
        {"zoom and spin",
         [=](double t) {
             const double k = std::pow(2, 0.5 * t);
             return about(then(scaling(k, k), rotation(20 * t)));
         }},
        {"slide, one width in 6 frames", [=](double t) { return ScreenMap(translation(size.width * t / 6, 0)); }},
        {"slide down, eased", [=](double t) { return ScreenMap(translation(0, size.height * t * t / 3)); }},
        {"copies seen at 0.4, turning", [=](double t) { return about(then(scaling(0.4, 0.4), rotation(10 * t))); }},
        {"lens 0.3 → 0.6",
         [=](double t) {
             return ScreenMap().seenThrough({middle, middle.length(), 0.3 + 0.3 * t});
         }},
        {"perspective",
         [=](double t) {
             Matrix m;
             m[0][2] = 0.0004 * t * unit;
             m[1][2] = 0.0002 * t * unit;
             return about(m);
         }},
        {"at rest", [](double) { return ScreenMap(); }},
    };
}

std::vector<ScreenMap> mapsAt(const Case& c, int count) {
    std::vector<ScreenMap> maps;
    for (int i = 0; i < count; ++i) maps.push_back(c.at((i + 0.5) / count));
    return maps;
}

// By sampling alone: 512 moments everywhere, a few rows at a time.
Image<Rgba8> reference(const Pyramid& source, const Case& c, Size size) {
    const auto maps = mapsAt(c, c.at(0) == c.at(1) ? 1 : 512);
    Image<Rgba8> out(size);
    const int across = (size.width + 31) / 32, down = (size.height + 31) / 32;
    tbb::parallel_for(0, across * down, [&](int i) {
        const int x = i % across * 32, y = i / across * 32;
        const Tile tile{x, y, std::min(32, size.width - x), std::min(32, size.height - y)};
        std::vector<LinearF> block(std::size_t(tile.width) * std::size_t(tile.height));
        sampleTile(source, EdgeFill::Mirror, maps, tile, block.data());
        for (int j = 0; j < tile.height; ++j)
            encodeRow(&block[std::size_t(j * tile.width)], out.row(y + j) + x, tile.width);
    });
    return out;
}

// What OpenCV needs for a map: a matrix, or coordinates for every pixel.
struct Warp {
    cv::Mat matrix, x, y;
    bool affine = true;
};

// Coordinates are made before the clock runs: a program would keep them.
Warp warpOf(const ScreenMap& map, Size size) {
    Warp warp;
    if (map.hasLens()) {
        warp.x.create(size.height, size.width, CV_32F);
        warp.y.create(size.height, size.width, CV_32F);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const Point p = map.toSource({x + 0.5, y + 0.5});
                warp.x.at<float>(y, x) = float(p.x - 0.5);
                warp.y.at<float>(y, x) = float(p.y - 0.5);
            }
        return warp;
    }
    // OpenCV counts from pixel centres, and wants the inverse.
    const Matrix inverse = *inverseOf(then(then(translation(0.5, 0.5), map.matrix()), translation(-0.5, -0.5)));
    const cv::Matx33d back(inverse[0][0], inverse[1][0], inverse[2][0], inverse[0][1], inverse[1][1], inverse[2][1],
                           inverse[0][2], inverse[1][2], inverse[2][2]);
    warp.affine = map.isAffine();
    warp.matrix = warp.affine ? cv::Mat(back).rowRange(0, 2).clone() : cv::Mat(back).clone();
    return warp;
}

cv::Mat warped(const cv::Mat& source, const Warp& warp) {
    cv::Mat out;
    constexpr int how = cv::INTER_LINEAR | cv::WARP_INVERSE_MAP;
    if (!warp.x.empty())
        cv::remap(source, out, warp.x, warp.y, cv::INTER_LINEAR, cv::BORDER_REFLECT);
    else if (warp.affine)
        cv::warpAffine(source, out, warp.matrix, source.size(), how, cv::BORDER_REFLECT);
    else
        cv::warpPerspective(source, out, warp.matrix, source.size(), how, cv::BORDER_REFLECT);
    return out;
}

double milliseconds(const std::function<void()>& work, int times) {
    std::vector<double> all;
    for (int i = 0; i < times; ++i) {
        const auto began = std::chrono::steady_clock::now();
        work();
        all.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count());
    }
    std::sort(all.begin(), all.end());
    return all[all.size() / 2];
}

cv::Mat matOf(const Image<Rgba8>& picture) {
    return {picture.height(), picture.width(), CV_8UC4, const_cast<void*>(static_cast<const void*>(picture.row(0)))};
}

void savePicture(const Image<Rgba8>& picture, const std::filesystem::path& path) {
    std::ofstream file(path, std::ios::binary);
    file << "P6\n" << picture.width() << ' ' << picture.height() << "\n255\n";
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            file.put(char(picture.at(x, y).r)).put(char(picture.at(x, y).g)).put(char(picture.at(x, y).b));
}

} // namespace

int main(int argc, char** argv) {
    CLI::App app("The sampling kernel beside OpenCV's warps");
    std::string sizeText = "1280x720", only, save;
    int threads = 2, times = 5;
    double pixels = 0;
    app.add_option("--size", sizeText, "Size in pixels");
    app.add_option("--threads", threads, "Threads for both");
    app.add_option("--times", times, "Runs of which the median counts");
    app.add_option("--pixels", pixels, "Pixels of path for each sample, instead of each case's own");
    app.add_option("--save", save, "Folder for each case's picture, as PPM");
    app.add_option("--only", only, "Cases whose name has this in it");
    CLI11_PARSE(app, argc, argv);
    Size size;
    if (std::sscanf(sizeText.c_str(), "%dx%d", &size.width, &size.height) != 2) return 2;
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, std::size_t(threads));
    cv::setNumThreads(threads);

    const Image<Rgba8> picture = test::detailedPicture(size, 5);
    std::vector<float> light(256);
    for (int i = 0; i < 256; ++i) light[std::size_t(i)] = float(linearFromCode(i / 255.0));
    fmt::print("{}×{}, {} thread{}\n\n", size.width, size.height, threads, threads == 1 ? "" : "s");
    fmt::print(
        "| case | px a sample | kernel | with reading in | (a) floats in light | (b) code values | to (a) | to (b) |\n"
        "|---|---|---|---|---|---|---|---|\n");
    const auto shared = std::make_shared<const Pyramid>(linearise(picture.view()));
    for (const Case& c : casesFor(size)) {
        if (std::string_view(c.name).find(only) == std::string_view::npos) continue;
        const auto exact = reference(*shared, c, size);
        Quality quality = exactQuality;
        const auto exposure = [&](const std::shared_ptr<const Pyramid>& source) {
            std::vector<SourcePool::Shown> sources{{source, 0, 1}};
            return std::make_unique<Exposure>(MovingLayer{c.at}, std::move(sources), size, quality);
        };
        const auto run = [&](const std::shared_ptr<const Pyramid>& source) {
            return renderLayer(exposure(source), size);
        };
        // Without the dither, which alone is 56 dB.
        const auto undithered = [&] {
            const auto deep = renderDeepLayer(exposure(shared), size);
            Image<Rgba8> out(size);
            for (int y = 0; y < size.height; ++y)
                for (int x = 0; x < size.width; ++x) {
                    const Deep16 p = deep.at(x, y);
                    const auto code = [](int v) {
                        return std::uint8_t(
                            std::clamp(((v - deepBlack) * 255 + 28032) / (deepWhite - deepBlack), 0, 255));
                    };
                    out.at(x, y) = {code(p.r), code(p.g), code(p.b), 255};
                }
            return out;
        };
        const auto psnr = [&](const Image<Rgba8>& p) { return test::compare(p.view(), exact.view()).psnr; };
        Image<Rgba8> mine, byA(size), byB(size);
        std::vector<Warp> warps;
        for (const ScreenMap& m : mapsAt(c, opencvSamples)) warps.push_back(warpOf(m, size));
        const double a = milliseconds(
            [&] {
                cv::Mat source4(size.height, size.width, CV_32FC4),
                    sum(size.height, size.width, CV_32FC4, cv::Scalar());
                for (int y = 0; y < size.height; ++y) {
                    auto* to = source4.ptr<cv::Vec4f>(y);
                    for (int x = 0; x < size.width; ++x) {
                        const Rgba8 p = picture.at(x, y);
                        to[x] = {light[p.r], light[p.g], light[p.b], float(p.a) / 255};
                    }
                }
                for (const Warp& warp : warps) sum += warped(source4, warp);
                std::vector<LinearF> row(std::size_t(size.width));
                for (int y = 0; y < size.height; ++y) {
                    const auto* from = sum.ptr<cv::Vec4f>(y);
                    for (int x = 0; x < size.width; ++x)
                        row[std::size_t(x)] = keptOf(LinearF{from[x][0] / opencvSamples, from[x][1] / opencvSamples,
                                                             from[x][2] / opencvSamples, from[x][3] / opencvSamples});
                    encodeRow(row.data(), byA.row(y), size.width);
                }
            },
            std::min(times, 3));
        const double b = milliseconds(
            [&] {
                const cv::Mat source4 = matOf(picture);
                cv::Mat sum(size.height, size.width, CV_32FC4, cv::Scalar()), out;
                for (const Warp& warp : warps) cv::add(sum, warped(source4, warp), sum, {}, CV_32F);
                sum.convertTo(out, CV_8UC4, 1.0 / opencvSamples);
                std::memcpy(byB.row(0), out.data, byB.bytes());
            },
            std::min(times, 3));
        // As few samples as it takes to be as good as (a), unless told.
        double quality0 = 0;
        for (const double p : pixels > 0 ? std::vector{pixels} : std::vector{12.0, 9.0, 6.0, 4.0, 3.0, 2.0, 1.5, 1.0}) {
            quality.pixelsPerSample = p;
            if ((quality0 = psnr(undithered())) >= psnr(byA) - 0.05) break;
        }
        const double kernel = milliseconds([&] { mine = run(shared); }, times);
        const double whole =
            milliseconds([&] { mine = run(std::make_shared<const Pyramid>(linearise(picture.view()))); }, times);
        if (!save.empty()) savePicture(mine, std::filesystem::path(save) / (std::string(c.name).substr(0, 5) + ".ppm"));
        fmt::print(
            "| {} | {} | {:.1f} ms, {:.0f} dB | {:.1f} ms | {:.0f} ms, {:.0f} dB | {:.0f} ms, {:.0f} dB | {:.1f} "
            "| {:.1f} |\n",
            c.name, quality.pixelsPerSample, kernel, quality0, whole, a, psnr(byA), b, psnr(byB), a / whole, b / whole);
        std::fflush(stdout);
    }
    std::vector<Rgba8> from(std::size_t(size.width) * std::size_t(size.height)), to(from.size());
    fmt::print("\n`memcpy` of the frame: {:.2f} ms\n",
               milliseconds([&] { std::memcpy(to.data(), from.data(), from.size() * sizeof(Rgba8)); }, 9));
    return 0;
}
