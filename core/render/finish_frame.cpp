#include "core/render/finish_frame.h"

#include <algorithm>

#include "core/base/parallel.h"
#include "core/effects/finish.h"
#include "core/effects/pointwise.h"
#include "core/raster/compose.h"
#include "core/raster/four.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/path_blur.h"
#include "core/render/tiles.h"

namespace virga {
namespace {

void add(Margin& margin, const std::vector<Treatment>& treatments, Size output) {
    for (const Treatment& t : treatments) {
        const Margin more = needsOf(t, output).margin;
        margin.across = std::min(margin.across + more.across, output.width);
        margin.down = std::min(margin.down + more.down, output.height);
    }
}

bool allPointwise(const std::vector<Treatment>& treatments) {
    return std::all_of(treatments.begin(), treatments.end(), isPointwise);
}

// A layer on a canvas of its own, as light.
Canvas sampled(const Exposure& layer, Size output, Margin margin, const Cancel& cancel) {
    Canvas canvas(output, margin);
    const auto tiles = tilesFor(canvas.size(), layer.shape());
    inParallel(tiles.size(), [&](std::size_t i) {
        if (cancel.requested()) return;
        const Tile& tile = tiles[i];
        alignas(64) LinearF block[mostTilePixels];
        layer.sample(tile, block);
        for (int y = 0; y < tile.height; ++y)
            for (int x = 0; x < tile.width; ++x)
                canvas.row(tile.y + y)[tile.x + x] = lightOf(block[y * tile.width + x]);
    });
    return canvas;
}

void lay(Canvas& under, const Canvas& over, double opacity) {
    inParallel(std::size_t(under.height()),
               [&](std::size_t y) { layOver(under.row(int(y)), over.row(int(y)), under.width(), float(opacity)); });
}

// The treated picture in place of the other, by its opacity.
void blend(Canvas& from, const Canvas& treated, double opacity) {
    const auto share = float(opacity);
    inParallel(std::size_t(from.height()), [&](std::size_t y) {
        LinearF* a = from.row(int(y));
        const LinearF* b = treated.row(int(y));
        for (int x = 0; x < from.width(); ++x) {
            const auto p = four::load(a[x]);
            four::store(p + (four::load(b[x]) - p) * share, a[x]);
        }
    });
}

} // namespace

std::optional<LinearF> backgroundOf(const FramePlan& plan) {
    const Colour& c = plan.background;
    if (c == Colour()) return std::nullopt;
    return LinearF{float(linearFromCode(c.r)), float(linearFromCode(c.g)), float(linearFromCode(c.b)), 1};
}

Margin marginOf(const FramePlan& plan, Size output) {
    Margin treats, layers;
    for (const TreatPlan& t : plan.treats) add(treats, t.treatments, output);
    for (const LayerPlan& layer : plan.layers) {
        Margin own;
        add(own, layer.treatments, output);
        layers = {std::max(layers.across, own.across), std::max(layers.down, own.down)};
    }
    const Margin most = widestMargin(output);
    return {std::min(most.across, treats.across + layers.across), std::min(most.down, treats.down + layers.down)};
}

bool isAllPointwise(const FramePlan& plan) {
    return std::all_of(plan.treats.begin(), plan.treats.end(),
                       [](const TreatPlan& t) { return allPointwise(t.treatments); }) &&
           std::all_of(plan.layers.begin(), plan.layers.end(),
                       [](const LayerPlan& l) { return allPointwise(l.treatments); });
}

std::size_t canvasesFor(const FramePlan& plan, Size output) {
    if (isAllPointwise(plan)) return 0;
    std::size_t most = 0;
    const auto see = [&](const std::vector<Treatment>& treatments) {
        for (const Treatment& t : treatments) most = std::max(most, needsOf(t, output).canvases);
    };
    for (const TreatPlan& t : plan.treats) see(t.treatments);
    for (const LayerPlan& layer : plan.layers) see(layer.treatments);
    return most + 2; // the frame so far, and a layer or the treated copy
}

Canvas finishedFrame(const FramePlan& plan, const std::vector<std::unique_ptr<Exposure>>& layers, Size output,
                     Margin margin, const Quality& quality, const Cancel& cancel) {
    Canvas frame(output, margin);
    bool empty = true;
    if (const auto light = backgroundOf(plan)) {
        empty = false;
        for (int y = 0; y < frame.height(); ++y) std::fill_n(frame.row(y), frame.width(), *light);
    }
    for (const Step& step : plan.steps) {
        if (cancel.requested()) break;
        if (step.kind == Step::Lay) {
            const Exposure& layer = *layers[step.index];
            if (layer.opacity() <= 0) continue;
            Canvas one = sampled(layer, output, margin, cancel);
            for (const Treatment& t : plan.layers[step.index].treatments) treat(one, t, quality, cancel);
            if (empty && layer.opacity() >= 1)
                frame = std::move(one);
            else
                lay(frame, one, layer.opacity());
            empty = false;
        } else {
            const TreatPlan& planned = plan.treats[step.index];
            if (planned.opacity >= 1) {
                for (const Treatment& t : planned.treatments) treat(frame, t, quality, cancel);
            } else {
                Canvas treated = copyOf(frame);
                for (const Treatment& t : planned.treatments) treat(treated, t, quality, cancel);
                blend(frame, treated, planned.opacity);
            }
            empty = false;
        }
    }
    return frame;
}

} // namespace virga
