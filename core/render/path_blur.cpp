#include "core/render/path_blur.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/base/parallel.h"
#include "core/effects/finish.h"
#include "core/raster/four.h"
#include "core/raster/kept_light.h"
#include "core/raster/two_pass.h"
#include "core/render/exposure.h"
#include "core/render/tiles.h"

namespace virga {
namespace {

float brightest(const Canvas& canvas) {
    std::vector<float> rows(std::size_t(canvas.height()), 0.0f);
    inParallel(rows.size(), [&](std::size_t y) {
        for (int x = 0; x < canvas.width(); ++x) {
            const LinearF& p = canvas.row(int(y))[x];
            rows[y] = std::max({rows[y], p.r, p.g, p.b});
        }
    });
    return *std::max_element(rows.begin(), rows.end());
}

void along(Canvas& canvas, const std::function<ScreenMap(double)>& mapAt, const Quality& quality,
           const Cancel& cancel) {
    // A stored picture has room for little more than white: light is pressed into it and let out again.
    const float press = std::max(1.0f, brightest(canvas) / lightCeiling);
    Image<Linear16> stored(canvas.size());
    inParallel(std::size_t(canvas.height()), [&](std::size_t y) {
        std::vector<LinearF> row(std::size_t(canvas.width()));
        for (int x = 0; x < canvas.width(); ++x) {
            LinearF p = canvas.row(int(y))[x];
            p.r /= press, p.g /= press, p.b /= press;
            row[std::size_t(x)] = keptOf(p);
        }
        quantise(row.data(), stored.row(int(y)), canvas.width());
    });
    MovingLayer layer;
    layer.mapAt = mapAt;
    layer.edges = EdgeFill::Mirror;
    std::vector<SourcePool::Shown> sources{{std::make_shared<Pyramid>(std::move(stored)), 0, 1}};
    const Exposure exposure(std::move(layer), std::move(sources), canvas.size(), quality, cancel);
    const auto tiles = tilesFor(canvas.size(), exposure.shape());
    inParallel(tiles.size(), [&](std::size_t i) {
        if (cancel.requested()) return;
        const Tile& tile = tiles[i];
        alignas(64) LinearF block[mostTilePixels];
        exposure.sample(tile, block);
        for (int y = 0; y < tile.height; ++y)
            for (int x = 0; x < tile.width; ++x) {
                LinearF p = lightOf(block[y * tile.width + x]);
                p.r *= press, p.g *= press, p.b *= press;
                canvas.row(tile.y + y)[tile.x + x] = p;
            }
    });
}

ScreenMap about(Point centre, const Matrix& matrix) {
    return ScreenMap(then(then(translation(-centre.x, -centre.y), matrix), translation(centre.x, centre.y)));
}

} // namespace

void pathBlur(Canvas& canvas, const ZoomBlur& blur, const Quality& quality, const Cancel& cancel) {
    const Point centre = canvas.at(blur.centre);
    along(
        canvas,
        [=](double part) {
            const double scale = std::pow(blur.factor, part - 0.5);
            return about(centre, scaling(scale, scale));
        },
        quality, cancel);
}

void pathBlur(Canvas& canvas, const SpinBlur& blur, const Quality& quality, const Cancel& cancel) {
    const Point centre = canvas.at(blur.centre);
    along(
        canvas, [=](double part) { return about(centre, rotation(blur.angle * (part - 0.5))); }, quality, cancel);
}

void treat(Canvas& canvas, const Treatment& treatment, const Quality& quality, const Cancel& cancel) {
    if (cancel.requested()) return;
    if (const auto* zoom = std::get_if<ZoomBlur>(&treatment))
        pathBlur(canvas, *zoom, quality, cancel);
    else if (const auto* spin = std::get_if<SpinBlur>(&treatment))
        pathBlur(canvas, *spin, quality, cancel);
    else
        finish(treatment, canvas);
}

} // namespace virga
