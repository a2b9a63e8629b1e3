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

void renderTile(const std::vector<Layer>& layers, Tile tile, Size output, const Quality& quality,
                Image<Rgba8>& picture) {
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    std::vector<LinearF> sum(count), one(count);
    for (const Layer& layer : layers) {
        sampleTile(*layer.source, layer.plan.edges, mapsFor(layer.plan, tile, output, quality), tile, one.data());
        layOver(sum.data(), one.data(), int(count), float(layer.plan.opacity));
    }
    for (int y = 0; y < tile.height; ++y)
        encodeRow(&sum[std::size_t(y) * std::size_t(tile.width)], picture.row(tile.y + y) + tile.x, tile.width);
}

} // namespace

Expected<Image<Rgba8>> renderFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                   SourcePool& pool, const Cancel& cancel) {
    std::vector<Layer> layers;
    for (LayerPlan& plan : planFrame(project, frame).layers) {
        const Media* media = findMedia(project, plan.mediaId);
        if (!media)
            return fail(ErrorCode::NotFound, "the clip's media is not in the project",
                        project.reel[std::size_t(plan.clip)].name, "delete the clip, or add its file again");
        auto source = pool.picture(media->path, plan.sourceTime);
        if (!source) return tl::unexpected(source.error());
        plan.source = (*source)->size(); // what is really there decides, whatever the project remembers
        layers.push_back({std::move(plan), std::move(*source)});
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    }
    Image<Rgba8> picture(output);
    const int across = (output.width + tileSide - 1) / tileSide, down = (output.height + tileSide - 1) / tileSide;
    tbb::parallel_for(0, across * down, [&](int i) {
        if (cancel.requested()) return;
        const int x = i % across * tileSide, y = i / across * tileSide;
        renderTile(layers, {x, y, std::min(tileSide, output.width - x), std::min(tileSide, output.height - y)}, output,
                   quality, picture);
    });
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    return picture;
}

} // namespace virga
