#include "core/render/render_frame.h"

#include <algorithm>
#include <optional>
#include <vector>

#include "core/base/parallel.h"
#include "core/effects/pointwise.h"
#include "core/raster/compose.h"
#include "core/raster/four.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/exposure.h"
#include "core/render/finish_frame.h"
#include "core/render/tiles.h"

namespace virga {
namespace {

void codeRow(const LinearF* from, Rgba8* to, int count, int x, int y) {
    ditherRow(from, to, count, x, y);
}
void codeRow(const LinearF* from, Deep16* to, int count, int, int) {
    encodeRow(from, to, count);
}
void codeRow(const LinearF* from, LinearF* to, int count, int, int) {
    std::transform(from, from + count, to, [](const LinearF& p) { return lightOf(p); });
}
template <typename Pixel> void codeStored(const Linear16* from, Pixel* to, int count) {
    encodeRow(from, to, count);
}
void codeStored(const Linear16* from, LinearF* to, int count) {
    constexpr float part = 1.0f / linearOne;
    std::transform(from, from + count, to, [](const Linear16& p) {
        return lightOf(LinearF{float(p.r) * part, float(p.g) * part, float(p.b) * part, float(p.a) * part});
    });
}

// What the pointwise treatments of a frame need, made ready once.
struct FramePointwise {
    std::vector<std::vector<Pointwise>> layers, treats;
    std::optional<LinearF> background; // as it is kept; unset for black
};

FramePointwise pointwiseOf(const FramePlan& plan, Size output) {
    FramePointwise all;
    const auto ready = [&](const std::vector<Treatment>& treatments) {
        std::vector<Pointwise> out;
        for (const Treatment& t : treatments) out.emplace_back(t, output);
        return out;
    };
    for (const LayerPlan& layer : plan.layers) all.layers.push_back(ready(layer.treatments));
    for (const TreatPlan& treat : plan.treats) all.treats.push_back(ready(treat.treatments));
    if (const auto light = backgroundOf(plan)) all.background = keptOf(*light);
    return all;
}

// Pixels as they are kept; the treatments see light.
void treatTile(const std::vector<Pointwise>& treatments, Tile tile, LinearF* pixels) {
    if (treatments.empty()) return;
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    for (std::size_t i = 0; i < count; ++i) pixels[i] = lightOf(pixels[i]);
    for (const Pointwise& p : treatments)
        for (int y = 0; y < tile.height; ++y) p.treat(pixels + y * tile.width, tile.width, tile.x, tile.y + y);
    for (std::size_t i = 0; i < count; ++i) pixels[i] = keptOf(pixels[i]);
}

template <typename Pixel>
void renderTile(const std::vector<std::unique_ptr<Exposure>>& layers, const FramePlan& plan,
                const FramePointwise& pointwise, Tile tile, Image<Pixel>& picture) {
    const bool alone = !pointwise.background && layers.size() == 1 && layers[0]->opacity() >= 1 &&
                       plan.treats.empty() && (plan.layers.empty() || plan.layers[0].treatments.empty());
    if (alone) { // most frames: nothing to lay over
        int stride = 0;
        if (const Linear16* from = layers[0]->still(tile, stride)) {
            for (int y = 0; y < tile.height; ++y, from += stride)
                codeStored(from, picture.row(tile.y + y) + tile.x, tile.width);
            return;
        }
    }
    const std::size_t count = std::size_t(tile.width) * std::size_t(tile.height);
    alignas(64) LinearF sum[mostTilePixels], one[mostTilePixels];
    std::fill_n(sum, count, pointwise.background.value_or(LinearF{}));
    bool empty = !pointwise.background;
    for (const Step& step : plan.steps) {
        if (step.kind == Step::Treat) {
            const auto share = float(plan.treats[step.index].opacity);
            std::copy_n(sum, count, one);
            treatTile(pointwise.treats[step.index], tile, one);
            for (std::size_t i = 0; i < count; ++i)
                four::store(four::load(sum[i]) + (four::load(one[i]) - four::load(sum[i])) * share, sum[i]);
            empty = false;
            continue;
        }
        const Exposure& layer = *layers[step.index];
        if (layer.opacity() <= 0) continue;
        LinearF* to = empty && layer.opacity() >= 1 ? sum : one;
        layer.sample(tile, to);
        if (!pointwise.layers.empty()) treatTile(pointwise.layers[step.index], tile, to);
        if (to == one) layOver(sum, one, int(count), float(layer.opacity()));
        empty = false;
    }
    for (int y = 0; y < tile.height; ++y)
        codeRow(sum + y * tile.width, picture.row(tile.y + y) + tile.x, tile.width, tile.x, tile.y + y);
}

template <typename Pixel>
Image<Pixel> renderTiles(const std::vector<std::unique_ptr<Exposure>>& layers, const FramePlan& plan, Size output,
                         const Cancel& cancel) {
    Image<Pixel> picture(output);
    const FramePointwise pointwise = pointwiseOf(plan, output);
    const auto tiles = tilesFor(output, layers.empty() ? Exposure::Shape::Square : layers.front()->shape());
    inParallel(tiles.size(), [&](std::size_t i) {
        if (!cancel.requested()) renderTile(layers, plan, pointwise, tiles[i], picture);
    });
    return picture;
}

template <typename Pixel> Image<Pixel> encoded(const Canvas& canvas) {
    Image<Pixel> picture(canvas.frame());
    const Margin margin = canvas.margin();
    inParallel(std::size_t(picture.height()), [&](std::size_t y) {
        std::vector<LinearF> row(std::size_t(picture.width()));
        const LinearF* from = canvas.row(int(y) + margin.down) + margin.across;
        for (int x = 0; x < picture.width(); ++x) row[std::size_t(x)] = keptOf(from[x]);
        codeRow(row.data(), picture.row(int(y)), picture.width(), 0, int(y));
    });
    return picture;
}

// What a quality leaves of a plan. Without finishing, bars stay: they belong to the frame's shape.
FramePlan leftOf(FramePlan plan, const Quality& quality) {
    const auto drop = [](std::vector<Treatment>& treatments) {
        std::erase_if(treatments, [](const Treatment& t) { return !std::holds_alternative<Bars>(t); });
    };
    if (!quality.finishing) {
        for (LayerPlan& layer : plan.layers) drop(layer.treatments);
        for (TreatPlan& treat : plan.treats) drop(treat.treatments);
    }
    if (!quality.overlays) {
        FramePlan less = plan;
        less.layers.clear();
        less.steps.clear();
        for (const Step& step : plan.steps) {
            if (step.kind == Step::Treat) {
                less.steps.push_back(step);
            } else if (plan.layers[step.index].overlay < 0) {
                less.steps.push_back({Step::Lay, less.layers.size()});
                less.layers.push_back(std::move(plan.layers[step.index]));
            }
        }
        return less;
    }
    return plan;
}

template <typename Pixel>
Expected<Image<Pixel>> render(const Project& project, const FramePlan& whole, Size output, const Quality& quality,
                              SourcePool& pool, const Cancel& cancel) {
    std::vector<std::unique_ptr<Exposure>> layers;
    const bool all = quality.finishing && quality.overlays;
    const FramePlan less = all ? FramePlan() : leftOf(whole, quality);
    const FramePlan& plan = all ? whole : less;
    const bool direct = isAllPointwise(plan);
    const Margin margin = direct ? Margin() : marginOf(plan, output);
    const Size size{output.width + 2 * margin.across, output.height + 2 * margin.down};
    for (const LayerPlan& planned : plan.layers) {
        const Media* media = findMedia(project, planned.mediaId);
        if (!media)
            return fail(ErrorCode::NotFound, "the clip's media is not in the project", planned.mediaId,
                        "delete the clip, or add its file again");
        auto sources = sourcesFor(planned, media->path, output, quality, pool);
        if (!sources) return tl::unexpected(sources.error());
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        auto layer = movingLayer(planned, sources->front(), output, quality);
        if (!(margin == Margin()))
            layer.mapAt = [inner = std::move(layer.mapAt), off = translation(margin.across, margin.down)](double part) {
                return inner(part).movedBy(off);
            };
        layers.push_back(std::make_unique<Exposure>(std::move(layer), std::move(*sources), size, quality, cancel));
    }
    auto picture = direct ? renderTiles<Pixel>(layers, plan, output, cancel)
                          : encoded<Pixel>(finishedFrame(plan, layers, output, margin, quality, cancel));
    if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
    return picture;
}

} // namespace

Expected<Image<Rgba8>> renderFrame(const Project& project, std::int64_t frame, Size output, const Quality& quality,
                                   SourcePool& pool, const Cancel& cancel) {
    return render<Rgba8>(project, planFrame(project, frame), output, quality, pool, cancel);
}

Expected<Image<Rgba8>> renderPlan(const Project& project, const FramePlan& plan, Size output, const Quality& quality,
                                  SourcePool& pool, const Cancel& cancel) {
    return render<Rgba8>(project, plan, output, quality, pool, cancel);
}

Expected<Image<Deep16>> renderDeepPlan(const Project& project, const FramePlan& plan, Size output,
                                       const Quality& quality, SourcePool& pool, const Cancel& cancel) {
    return render<Deep16>(project, plan, output, quality, pool, cancel);
}

Expected<Image<LinearF>> renderLightPlan(const Project& project, const FramePlan& plan, Size output,
                                         const Quality& quality, SourcePool& pool, const Cancel& cancel) {
    return render<LinearF>(project, plan, output, quality, pool, cancel);
}

namespace {

template <typename Pixel> Image<Pixel> renderOne(std::unique_ptr<Exposure> layer, Size output) {
    FramePlan plan;
    plan.steps = {{Step::Lay, 0}};
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

void fetchSources(const Project& project, const FramePlan& plan, Size output, const Quality& quality, SourcePool& pool,
                  const Cancel& cancel) {
    for (const LayerPlan& planned : plan.layers) {
        if (cancel.requested()) return;
        if (const Media* media = findMedia(project, planned.mediaId))
            (void)sourcesFor(planned, media->path, output, quality, pool);
    }
}

} // namespace virga
