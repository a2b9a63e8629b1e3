#include "core/optical_flow/optical_flow_pair.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include "core/base/parallel.h"
#include "core/optical_flow/optical_flow_grid.h"

namespace virga {
namespace {

FlowField fieldOf(const cv::Mat& flow, Size grid) {
    cv::Mat small;
    cv::resize(flow, small, {grid.width, grid.height}, 0, 0, cv::INTER_AREA);
    const double sx = double(grid.width) / flow.cols, sy = double(grid.height) / flow.rows;
    FlowField field;
    field.steps.resize(std::size_t(grid.width) * std::size_t(grid.height) * 2);
    const auto step = [](double cells) {
        return std::int16_t(std::clamp(std::lround(cells * FlowField::perCell), -32767L, 32767L));
    };
    for (int y = 0; y < grid.height; ++y)
        for (int x = 0; x < grid.width; ++x) {
            const auto v = small.at<cv::Vec2f>(y, x);
            const auto i = (std::size_t(y) * std::size_t(grid.width) + std::size_t(x)) * 2;
            field.steps[i] = step(double(v[0]) * sx), field.steps[i + 1] = step(double(v[1]) * sy);
        }
    return field;
}

} // namespace

double trustIn(double away, double length, double cell) {
    const double ratio = away * cell / (1 + 0.05 * length * cell);
    return 1 / (1 + ratio * ratio * ratio * ratio);
}

FlowPair flowBetween(const Grey& first, const Grey& second) {
    FlowPair pair;
    pair.source = first.source;
    pair.grid = {(first.size.width + 1) / 2, (first.size.height + 1) / 2};
    const auto matOf = [](const Grey& grey) {
        return cv::Mat(grey.size.height, grey.size.width, CV_8UC1, const_cast<std::uint8_t*>(grey.pixels.data()));
    };
    const cv::Mat a = matOf(first), b = matOf(second);
    // OpenCV divides its search into as many stripes as it has threads, and what it finds depends on them: one each,
    // and both ways side by side.
    cv::setNumThreads(1);
    inParallel(2, [&](std::size_t way) {
        const auto search = cv::DISOpticalFlow::create(cv::DISOpticalFlow::PRESET_MEDIUM);
        cv::Mat flow;
        search->calc(way == 0 ? a : b, way == 0 ? b : a, flow);
        (way == 0 ? pair.forward : pair.backward) = fieldOf(flow, pair.grid);
    });
    const std::vector<float> trust = trustOf(pair, true);
    pair.untrusted = double(std::count_if(trust.begin(), trust.end(), [](float t) { return t < 0.5F; })) /
                     double(std::max<std::size_t>(1, trust.size()));
    return pair;
}

std::vector<float> trustOf(const FlowPair& pair, bool forward) {
    const int w = pair.grid.width, h = pair.grid.height;
    const FlowField &there = forward ? pair.forward : pair.backward, &back = forward ? pair.backward : pair.forward;
    const double cell = double(pair.source.width) / std::max(1, w);
    std::vector<float> trust(std::size_t(w) * std::size_t(h));
    inParallel(std::size_t(h), [&](std::size_t y) {
        for (int x = 0; x < w; ++x) {
            const Point f = flowAt(there, pair.grid, x, int(y));
            const Point b = flowBetweenCells(back, pair.grid, {x + f.x, double(y) + f.y});
            trust[y * std::size_t(w) + std::size_t(x)] =
                float(trustIn(std::hypot(f.x + b.x, f.y + b.y), std::hypot(f.x, f.y), cell));
        }
    });
    return trust;
}

} // namespace virga
