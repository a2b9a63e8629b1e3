// The sampling kernel beside what anyone would write with a general-purpose library, in the same run: N times OpenCV's
// warp added up, (a) as floats in linear light, (b) as 8-bit code values. End to end: 8 bit in, 8 bit out. Quality is
// PSNR in 8-bit code values against 512 samples. Prints a table in Markdown.
// Usage: kernel_benchmark [--size WIDTHxHEIGHT] [--threads N] [--quick]
#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>

#include "core/geom/edge_fill.h"
#include "core/raster/sampler.h"
#include "core/raster/samples_needed.h"
#include "core/raster/transfer.h"
#include "tests/support/pictures.h"

using namespace virga;

namespace {

constexpr int opencvSamples = 32;

struct Case {
    const char* name;
    std::function<Matrix(double)> at; // about the frame, from shutter fraction 0 to 1
    bool still = false;
};

Matrix aboutMiddle(const Matrix& m, Size size) {
    return then(then(translation(-size.width / 2.0, -size.height / 2.0), m),
                translation(size.width / 2.0, size.height / 2.0));
}

std::vector<Case> casesFor(Size size) {
    const auto about = [size](const Matrix& m) { return aboutMiddle(m, size); };
    return {
        {"spin 180° in 8 frames", [=](double t) { return about(rotation(22.5 * t)); }},
        {"zoom 1 → 2.5 in 5 frames, the last",
         [=](double t) {
             const double k = std::pow(2.5, 0.8 + 0.2 * t);
             return about(scaling(k, k));
         }},
        {"slide, one width in 6 frames", [=](double t) { return translation(size.width * t / 6, 0); }},
        {"copies seen at 0.4, turning", [=](double t) { return about(then(scaling(0.4, 0.4), rotation(10 * t))); }},
        {"perspective",
         [=](double t) {
             Matrix m;
             m[0][2] = 0.0004 * t * 1280 / size.width;
             m[1][2] = 0.0002 * t * 1280 / size.width;
             return about(m);
         }},
        {"at rest", [](double) { return Matrix(); }, true},
    };
}

std::vector<ScreenMap> mapsAt(const Case& c, int count) {
    std::vector<ScreenMap> maps;
    for (int i = 0; i < count; ++i) maps.emplace_back(c.at((i + 0.5) / count));
    return maps;
}

template <typename Maps> void render(const Pyramid& source, const Maps& mapsFor, Image<Rgba8>& out) {
    const int across = (out.width() + tileSide - 1) / tileSide, down = (out.height() + tileSide - 1) / tileSide;
    tbb::parallel_for(0, across * down, [&](int i) {
        const Tile tile{i % across * tileSide, i / across * tileSide,
                        std::min(tileSide, out.width() - i % across * tileSide),
                        std::min(tileSide, out.height() - i / across * tileSide)};
        const std::vector<ScreenMap> maps = mapsFor(tile);
        if (const Linear16* from = stillPixels(source, maps, tile)) { // as the renderer does
            for (int y = 0; y < tile.height; ++y, from += source.size().width)
                encodeRow(from, out.row(tile.y + y) + tile.x, tile.width);
            return;
        }
        std::vector<LinearF> block(std::size_t(tile.width) * std::size_t(tile.height));
        sampleTile(source, EdgeFill::Mirror, maps, tile, block.data());
        for (int y = 0; y < tile.height; ++y)
            encodeRow(&block[std::size_t(y * tile.width)], out.row(tile.y + y) + tile.x, tile.width);
    });
}

cv::Mat warped(const cv::Mat& source, const Matrix& m) {
    // OpenCV counts from pixel centres, and wants the inverse.
    const Matrix centred = then(then(translation(0.5, 0.5), m), translation(-0.5, -0.5));
    const Matrix inverse = *inverseOf(centred);
    const cv::Matx33d back(inverse[0][0], inverse[1][0], inverse[2][0], inverse[0][1], inverse[1][1], inverse[2][1],
                           inverse[0][2], inverse[1][2], inverse[2][2]);
    cv::Mat out;
    constexpr int how = cv::INTER_LINEAR | cv::WARP_INVERSE_MAP;
    if (m[0][2] == 0 && m[1][2] == 0)
        cv::warpAffine(source, out, cv::Mat(back).rowRange(0, 2), source.size(), how, cv::BORDER_REFLECT);
    else
        cv::warpPerspective(source, out, back, source.size(), how, cv::BORDER_REFLECT);
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

} // namespace

int main(int argc, char** argv) {
    CLI::App app("The sampling kernel beside OpenCV's warps");
    std::string sizeText = "1280x720";
    int threads = 2, times = 5;
    double pixels = 1.5;
    app.add_option("--size", sizeText, "Size in pixels");
    app.add_option("--threads", threads, "Threads for both");
    app.add_option("--times", times, "Runs of which the median counts");
    app.add_option("--pixels", pixels, "Pixels of path for each sample");
    CLI11_PARSE(app, argc, argv);
    Size size;
    if (std::sscanf(sizeText.c_str(), "%dx%d", &size.width, &size.height) != 2) return 2;
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, std::size_t(threads));
    cv::setNumThreads(threads);

    const Image<Rgba8> picture = test::texturedPicture(size, 5);
    std::vector<float> light(256);
    for (int i = 0; i < 256; ++i) light[std::size_t(i)] = float(linearFromCode(i / 255.0));
    fmt::print("{}×{}, {} thread{}, {} px of path a sample\n\n", size.width, size.height, threads,
               threads == 1 ? "" : "s", pixels);
    fmt::print(
        "| case | samples | kernel | with reading in | (a) floats in light | (b) code values | to (a) | to (b) |\n"
        "|---|---|---|---|---|---|---|---|\n");
    for (const Case& c : casesFor(size)) {
        Pyramid source(linearise(picture.view()));
        Image<Rgba8> reference(size), mine(size), byA(size), byB(size);
        const auto many = mapsAt(c, c.still ? 1 : 512);
        render(
            source, [&](Tile) { return many; }, reference);
        int most = 1;
        const auto mapsFor = [&](Tile tile) {
            const auto at = [&](double t) { return ScreenMap(c.at(t)); };
            return mapsAt(c, samplesNeeded(pathLength(at, tile), pixels, 256));
        };
        for (int y = 0; y < size.height; y += tileSide)
            for (int x = 0; x < size.width; x += tileSide)
                most = std::max(most, int(mapsFor({x, y, tileSide, tileSide}).size()));
        const double kernel = milliseconds([&] { render(source, mapsFor, mine); }, times);
        const double whole = milliseconds(
            [&] {
                const Pyramid fresh(linearise(picture.view()));
                render(fresh, mapsFor, mine);
            },
            times);
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
                for (const ScreenMap& m : mapsAt(c, opencvSamples)) sum += warped(source4, m.matrix());
                std::vector<LinearF> row(std::size_t(size.width));
                for (int y = 0; y < size.height; ++y) {
                    const auto* from = sum.ptr<cv::Vec4f>(y);
                    for (int x = 0; x < size.width; ++x)
                        row[std::size_t(x)] = {from[x][0] / opencvSamples, from[x][1] / opencvSamples,
                                               from[x][2] / opencvSamples, from[x][3] / opencvSamples};
                    encodeRow(row.data(), byA.row(y), size.width);
                }
            },
            1);
        const double b = milliseconds(
            [&] {
                const cv::Mat source4 = matOf(picture);
                cv::Mat sum(size.height, size.width, CV_32FC4, cv::Scalar()), out;
                for (const ScreenMap& m : mapsAt(c, opencvSamples))
                    cv::add(sum, warped(source4, m.matrix()), sum, {}, CV_32F);
                sum.convertTo(out, CV_8UC4, 1.0 / opencvSamples);
                std::memcpy(byB.row(0), out.data, byB.bytes());
            },
            1);
        const auto quality = [&](const Image<Rgba8>& p) { return test::compare(p.view(), reference.view()).psnr; };
        fmt::print(
            "| {} | ≤ {} | {:.1f} ms, {:.0f} dB | {:.1f} ms | {:.0f} ms, {:.0f} dB | {:.0f} ms, {:.0f} dB | {:.1f} | "
            "{:.1f} |\n",
            c.name, most, kernel, quality(mine), whole, a, quality(byA), b, quality(byB), a / whole, b / whole);
        std::fflush(stdout);
    }
    if (size.width > 0) {
        std::vector<Rgba8> from(std::size_t(size.width) * std::size_t(size.height)), to(from.size());
        fmt::print("\nmemcpy of the frame: {:.2f} ms\n",
                   milliseconds([&] { std::memcpy(to.data(), from.data(), from.size() * sizeof(Rgba8)); }, 9));
    }
    return 0;
}
