#include "core/render/render_frame.h"

#include <algorithm>
#include <vector>

#include "core/raster/compose.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/exposure.h"
#include "core/render/parallel.h"

namespace virga {
namespace {

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
            const LinearF black = keptOf(LinearF{0, 0, 0, 1});
            layOver(pixels + y * tile.width + x, &black, 1, under * float(bars.opacity));
        }
}

void codeRow(const LinearF* from, Rgba8* to, int count, int x, int y) {
    ditherRow(from, to, count, x, y);
}
void codeRow(const LinearF* from, Deep16* to, int count, int, int) {
    encodeRow(from, to, count);
}

template <typename Pixel>
void renderTile(const std::vector<std::unique_ptr<Exposure>>& layers, const FramePlan& plan, Tile tile,
                Image<Pixel>& picture) {
    if (layers.size() == 1 && layers[0]->opacity() >= 1 && plan.bars.empty()) { // most frames: nothing to lay over
        int stride = 0;
        if (const Linear16* from = layers[0]->still(tile, stride)) {
            for (int y = 0; y < tile.height; ++y, from += stride)
                encodeRow(from, picture.row(tile.y + y) + tile.x, tile.width);
            return;
        }
    }
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    alignas(64) LinearF sum[mostTilePixels], one[mostTilePixels];
    std::fill_n(sum, count, LinearF{});
    bool empty = true;
    for (std::size_t i = 0; i <= layers.size(); ++i) {
        if (i == plan.reelLayers)
            for (const BarsPlan& bars : plan.bars) {
                layBars(bars, tile, picture.size(), sum);
                empty = false;
            }
        if (i == layers.size()) break;
        const Exposure& layer = *layers[i];
        if (layer.opacity() <= 0) continue;
        if (empty && layer.opacity() >= 1) {
            layer.sample(tile, sum);
        } else {
            layer.sample(tile, one);
            layOver(sum, one, int(count), float(layer.opacity()));
        }
        empty = false;
    }
    for (int y = 0; y < tile.height; ++y)
        codeRow(sum + y * tile.width, picture.row(tile.y + y) + tile.x, tile.width, tile.x, tile.y + y);
}

// Equal tiles of one shape that together cover the output.
std::vector<Tile> tilesFor(Size output, Exposure::Shape shape) {
    const auto parted = [](int whole, int most) {
        const int parts = (whole + most - 1) / most;
        return (whole + parts - 1) / parts;
    };
    int width = tileSide, height = tileSide;
    if (shape == Exposure::Shape::Wide) {
        width = parted(output.width, 1024);
        height = mostTilePixels / width;
    } else if (shape == Exposure::Shape::Tall) {
        height = parted(output.height, 256);
        width = mostTilePixels / height;
    }
    std::vector<Tile> tiles;
    for (int y = 0; y < output.height; y += height)
        for (int x = 0; x < output.width; x += width)
            tiles.push_back({x, y, std::min(width, output.width - x), std::min(height, output.height - y)});
    return tiles;
}

template <typename Pixel>
Image<Pixel> renderTiles(const std::vector<std::unique_ptr<Exposure>>& layers, const FramePlan& plan, Size output,
                         const Cancel& cancel) {
    Image<Pixel> picture(output);
    const auto tiles = tilesFor(output, layers.empty() ? Exposure::Shape::Square : layers.front()->shape());
    inParallel(tiles.size(), [&](std::size_t i) {
        if (!cancel.requested()) renderTile(layers, plan, tiles[i], picture);
    });
    return picture;
}

template <typename Pixel>
Expected<Image<Pixel>> render(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                              SourcePool& pool, const Cancel& cancel) {
    std::vector<std::unique_ptr<Exposure>> layers;
    const FramePlan plan = planFrame(project, frame);
    for (const LayerPlan& planned : plan.layers) {
        const Media* media = findMedia(project, planned.mediaId);
        if (!media)
            return fail(ErrorCode::NotFound, "the clip's media is not in the project", planned.mediaId,
                        "delete the clip, or add its file again");
        auto sources = sourcesFor(planned, media->path, output, quality, pool);
        if (!sources) return tl::unexpected(sources.error());
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        auto layer = movingLayer(planned, sources->front().picture->size(), output);
        layers.push_back(std::make_unique<Exposure>(std::move(layer), std::move(*sources), output, quality, cancel));
    }
    auto picture = renderTiles<Pixel>(layers, plan, output, cancel);
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    return picture;
}

} // namespace

Expected<Image<Rgba8>> renderFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                   SourcePool& pool, const Cancel& cancel) {
    return render<Rgba8>(project, frame, output, quality, pool, cancel);
}

Expected<Image<Deep16>> renderDeepFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                        SourcePool& pool, const Cancel& cancel) {
    return render<Deep16>(project, frame, output, quality, pool, cancel);
}

namespace {

template <typename Pixel> Image<Pixel> renderOne(std::unique_ptr<Exposure> layer, Size output) {
    FramePlan plan;
    plan.reelLayers = 1;
    std::vector<std::unique_ptr<Exposure>> layers;
    layers.push_back(std::move(layer));
    return renderTiles<Pixel>(layers, plan, output, {});
}

} // namespace

Image<Rgba8> renderLayer(std::unique_ptr<Exposure> layer, Size output) {
    return renderOne<Rgba8>(std::move(layer), output);
}

Image<Deep16> renderDeepLayer(std::unique_ptr<Exposure> layer, Size output) {
    return renderOne<Deep16>(std::move(layer), output);
}

void fetchSources(const Project& project, std::int64_t frame, Size output, const Quality& quality, SourcePool& pool,
                  const Cancel& cancel) {
    for (const LayerPlan& planned : planFrame(project, frame).layers) {
        if (cancel.requested()) return;
        if (const Media* media = findMedia(project, planned.mediaId))
            (void)sourcesFor(planned, media->path, output, quality, pool);
    }
}

} // namespace virga
