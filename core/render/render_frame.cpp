#include "core/render/render_frame.h"

#include <algorithm>
#include <atomic>
#include <tbb/parallel_for.h>
#include <vector>

#include "core/raster/compose.h"
#include "core/raster/sampler.h"
#include "core/raster/samples_needed.h"
#include "core/raster/transfer.h"

namespace virga {
namespace {

struct Layer {
    LayerPlan plan;
    std::shared_ptr<const Pyramid> source;
};

std::vector<ScreenMap> mapsFor(const LayerPlan& layer, Tile tile, Size output, const Quality& quality) {
    int count = layer.samples;
    if (layer.shutter.close <= layer.shutter.open) count = 1;
    if (count <= 0) {
        const auto at = [&](double part) { return mapAt(layer, layer.shutter.at(part), output); };
        count = samplesNeeded(pathLength(at, tile), quality.pixelsPerSample, quality.mostSamples);
    }
    std::vector<ScreenMap> maps;
    maps.reserve(std::size_t(count));
    for (const double time : sampleTimes(layer.shutter, count)) maps.push_back(mapAt(layer, time, output));
    // Where nothing moves, all samples are one.
    if (std::all_of(maps.begin(), maps.end(), [&](const ScreenMap& m) { return m == maps.front(); })) maps.resize(1);
    return maps;
}

// How much of a pixel row or column of n lies under bars that leave the middle `open` of them free.
float underBars(int pixel, double n, double open) {
    const double from = (n - open) / 2, to = from + open;
    return float(1 - std::clamp(std::min(to, pixel + 1.0) - std::max(from, double(pixel)), 0.0, 1.0));
}

void layBars(const BarsPlan& bars, Tile tile, Size output, LinearF* pixels) {
    const double openWidth = std::min(double(output.width), output.height * bars.ratio);
    const double openHeight = std::min(double(output.height), output.width / bars.ratio);
    for (int y = 0; y < tile.height; ++y)
        for (int x = 0; x < tile.width; ++x) {
            const float under = std::max(underBars(tile.x + x, output.width, openWidth),
                                         underBars(tile.y + y, output.height, openHeight));
            if (under <= 0) continue;
            const LinearF black{0, 0, 0, 1};
            layOver(pixels + y * tile.width + x, &black, 1, under * float(bars.opacity));
        }
}

void renderTile(const std::vector<Layer>& layers, const FramePlan& plan, Tile tile, Size output, const Quality& quality,
                Image<Rgba8>& picture) {
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    if (layers.size() == 1 && layers[0].plan.opacity >= 1 && plan.bars.empty()) { // most frames: nothing to lay over
        const Layer& layer = layers[0];
        const auto maps = mapsFor(layer.plan, tile, output, quality);
        if (const Linear16* from = stillPixels(*layer.source, maps, tile)) {
            for (int y = 0; y < tile.height; ++y, from += layer.source->size().width)
                encodeRow(from, picture.row(tile.y + y) + tile.x, tile.width);
            return;
        }
    }
    std::vector<LinearF> sum(count), one;
    bool empty = true;
    for (std::size_t i = 0; i <= layers.size(); ++i) {
        if (i == plan.reelLayers)
            for (const BarsPlan& bars : plan.bars) {
                layBars(bars, tile, output, sum.data());
                empty = false;
            }
        if (i == layers.size()) break;
        const Layer& layer = layers[i];
        if (layer.plan.opacity <= 0) continue;
        const auto maps = mapsFor(layer.plan, tile, output, quality);
        if (empty && layer.plan.opacity >= 1) {
            sampleTile(*layer.source, layer.plan.edges, maps, tile, sum.data());
        } else {
            one.resize(count);
            sampleTile(*layer.source, layer.plan.edges, maps, tile, one.data());
            layOver(sum.data(), one.data(), int(count), float(layer.plan.opacity));
        }
        empty = false;
    }
    for (int y = 0; y < tile.height; ++y)
        encodeRow(&sum[std::size_t(y) * std::size_t(tile.width)], picture.row(tile.y + y) + tile.x, tile.width);
}

} // namespace

Expected<Image<Rgba8>> renderFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                   SourcePool& pool, const Cancel& cancel) {
    std::vector<Layer> layers;
    const FramePlan plan = planFrame(project, frame);
    for (const LayerPlan& planned : plan.layers) {
        const Media* media = findMedia(project, planned.mediaId);
        if (!media)
            return fail(ErrorCode::NotFound, "the clip's media is not in the project", planned.mediaId,
                        "delete the clip, or add its file again");
        auto source = pool.picture(media->path, planned.sourceTime, planned.crop);
        if (!source) return tl::unexpected(source.error());
        layers.push_back({planned, std::move(*source)});
        // What is really there decides, whatever the project remembers.
        layers.back().plan.source = layers.back().source->size();
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    }
    Image<Rgba8> picture(output);
    const int across = (output.width + tileSide - 1) / tileSide, down = (output.height + tileSide - 1) / tileSide;
    tbb::parallel_for(0, across * down, [&](int i) {
        if (cancel.requested()) return;
        const int x = i % across * tileSide, y = i / across * tileSide;
        renderTile(layers, plan, {x, y, std::min(tileSide, output.width - x), std::min(tileSide, output.height - y)},
                   output, quality, picture);
    });
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    return picture;
}

void fetchSources(const Project& project, std::int64_t frame, SourcePool& pool, const Cancel& cancel) {
    for (const LayerPlan& planned : planFrame(project, frame).layers) {
        if (cancel.requested()) return;
        if (const Media* media = findMedia(project, planned.mediaId))
            (void)pool.picture(media->path, planned.sourceTime, planned.crop);
    }
}

} // namespace virga
