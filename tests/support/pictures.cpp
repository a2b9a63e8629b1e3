#include "tests/support/pictures.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/raster/sampler.h"
#include "core/raster/transfer.h"

namespace virga::test {

Image<Rgba8> texturedPicture(Size size, unsigned seed) {
    Image<Rgba8> picture(size);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> unit(0, 1);
    struct Disc {
        double x, y, r, colour[3];
    };
    std::vector<Disc> discs(24);
    for (Disc& d : discs)
        d = {unit(random) * size.width,
             unit(random) * size.height,
             10 + unit(random) * size.height / 5,
             {unit(random) * 255, unit(random) * 255, unit(random) * 255}};
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            double c[3] = {90 + 60 * std::sin(x * 0.011 + seed), 110 + 70 * std::sin(y * 0.017),
                           120 + 60 * std::cos((x + y) * 0.007)};
            for (const Disc& d : discs) {
                const double edge =
                    std::clamp((d.r - std::hypot(x - d.x, y - d.y)) / 3 + 0.5, 0.0, 1.0); // an edge three pixels soft
                for (int i = 0; i < 3; ++i) c[i] += edge * 0.8 * (d.colour[i] - c[i]);
            }
            const double grain = 14 * std::sin(x * 0.9) * std::sin(y * 0.7) + 10 * std::sin((x * 3 + y) * 0.21);
            picture.at(x, y) = {std::uint8_t(std::clamp(c[0] + grain, 0.0, 255.0)),
                                std::uint8_t(std::clamp(c[1] + grain, 0.0, 255.0)),
                                std::uint8_t(std::clamp(c[2] + grain, 0.0, 255.0)), 255};
        }
    return picture;
}

Image<Rgba8> detailedPicture(Size size, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<float> unit(-1, 1);
    const std::size_t count = std::size_t(size.width) * std::size_t(size.height);
    std::vector<float> sum(count, 128);
    float strength = 60;
    for (int cell = 128; cell >= 1; cell /= 2, strength *= 0.62f) { // value noise, smooth between its lattice points
        const int columns = size.width / cell + 2;
        std::vector<float> lattice(std::size_t(columns) * std::size_t(size.height / cell + 2));
        for (float& v : lattice) v = unit(random) * strength;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const int i = x / cell, j = y / cell;
                const float f = float(x % cell) / float(cell), g = float(y % cell) / float(cell);
                const float* at = &lattice[std::size_t(j * columns + i)];
                sum[std::size_t(y) * std::size_t(size.width) + std::size_t(x)] +=
                    (at[0] * (1 - f) + at[1] * f) * (1 - g) + (at[columns] * (1 - f) + at[columns + 1] * f) * g;
            }
    }
    Image<Rgba8> picture(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            float v = sum[std::size_t(y) * std::size_t(size.width) + std::size_t(x)];
            const int stripe = (x + y / 3) % 211, block = (x / 97 + y / 61) % 5;
            if (stripe < 3) v = 250;
            if (block == 0) v = 0.4f * v + 20;
            const auto code = [](float c) { return std::uint8_t(std::clamp(c, 0.0f, 255.0f)); };
            picture.at(x, y) = {code(v), code(v * 0.9f + float(block) * 8), code(255 - v), 255};
        }
    return picture;
}

Image<Rgba8> solidPicture(Size size, Rgba8 colour) {
    Image<Rgba8> picture(size);
    for (int y = 0; y < size.height; ++y) std::fill_n(picture.row(y), size.width, colour);
    return picture;
}

Image<Rgba8> copyOf(const Image<Rgba8>& picture) {
    Image<Rgba8> copy(picture.size());
    for (int y = 0; y < picture.height(); ++y) std::copy_n(picture.row(y), picture.width(), copy.row(y));
    return copy;
}

Pyramid pyramidOf(const Image<Rgba8>& picture) {
    return Pyramid(linearise(picture.view()));
}

Image<Rgba8> sampled(const Pyramid& source, Edges edges, const std::vector<ScreenMap>& maps, Size output) {
    Image<Rgba8> out(output);
    std::vector<LinearF> block(tileSide * tileSide);
    for (int y = 0; y < output.height; y += tileSide)
        for (int x = 0; x < output.width; x += tileSide) {
            const Tile tile{x, y, std::min(tileSide, output.width - x), std::min(tileSide, output.height - y)};
            sampleTile(source, edges, maps, tile, block.data());
            for (int j = 0; j < tile.height; ++j)
                encodeRow(&block[std::size_t(j) * std::size_t(tile.width)], out.row(y + j) + x, tile.width);
        }
    return out;
}

Difference compare(ImageView<const Rgba8> a, ImageView<const Rgba8> b, int border) {
    Difference result;
    double sum = 0;
    long count = 0;
    for (int y = border; y < std::min(a.height, b.height) - border; ++y)
        for (int x = border; x < std::min(a.width, b.width) - border; ++x) {
            const Rgba8 p = a.at(x, y), q = b.at(x, y);
            for (const int d : {p.r - q.r, p.g - q.g, p.b - q.b}) {
                sum += double(d) * d;
                result.most = std::max(result.most, std::abs(d));
                ++count;
            }
        }
    result.psnr = sum == 0 ? 99 : 10 * std::log10(255.0 * 255.0 * double(count) / sum);
    return result;
}

cv::Mat linearMat(const Image<Rgba8>& picture) {
    cv::Mat mat(picture.height(), picture.width(), CV_32FC3);
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const Rgba8 p = picture.at(x, y);
            mat.at<cv::Vec3f>(y, x) = {float(linearFromCode(p.r / 255.0)), float(linearFromCode(p.g / 255.0)),
                                       float(linearFromCode(p.b / 255.0))};
        }
    return mat;
}

Image<Rgba8> encoded(const cv::Mat& linear) {
    Image<Rgba8> picture(linear.cols, linear.rows);
    const auto code = [](float v) { return std::uint8_t(std::lround(std::clamp(codeFromLinear(v), 0.0, 1.0) * 255)); };
    for (int y = 0; y < linear.rows; ++y)
        for (int x = 0; x < linear.cols; ++x) {
            const auto& v = linear.at<cv::Vec3f>(y, x);
            picture.at(x, y) = {code(v[0]), code(v[1]), code(v[2]), 255};
        }
    return picture;
}

double coveringZoom(double degrees, Size frame) {
    const double a = degrees * std::numbers::pi / 180, c = std::abs(std::cos(a)), s = std::abs(std::sin(a));
    const double w = frame.width, h = frame.height;
    return std::max((w * c + h * s) / w, (w * s + h * c) / h);
}

} // namespace virga::test
