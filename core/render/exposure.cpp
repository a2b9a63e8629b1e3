#include "core/render/exposure.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/raster/footprint.h"
#include "core/raster/samples_needed.h"

namespace virga {
namespace {

// Counts of samples come in steps of at most a quarter, so that tiles share their maps: 1 to 8, then four an octave.
std::size_t stepOf(int count) {
    if (count <= 8) return std::size_t(count - 1);
    const int octave = int(std::floor(std::log2(double(count - 1) / 8)));
    const int quarter = (count - 1 - (8 << octave)) / (2 << octave);
    return std::size_t(8 + 4 * octave + quarter);
}

int countOfStep(std::size_t step) {
    if (step < 8) return int(step) + 1;
    const int octave = int(step - 8) / 4, quarter = int(step - 8) % 4;
    return (8 << octave) + (quarter + 1) * (2 << octave);
}

double enlargementAt(const LayerPlan& layer, double fraction, Size output) {
    const ScreenMap map = mapAt(layer, layer.shutter.at(fraction), output);
    if (!map.isVisible()) return 1;
    const double scale = footprintAt(map, {output.width / 2.0, output.height / 2.0}).scale;
    return scale > 0 && std::isfinite(scale) ? 1 / scale : 1;
}

// A reel's times are exact; the shutter's are taken to a millionth of a frame.
Rational framesOf(double frames) {
    return {std::llround(frames * 1e6), 1000000};
}

} // namespace

bool isEnlarged(const LayerPlan& layer, Size output) {
    for (const double part : {0.0, 0.5, 1.0})
        if (enlargementAt(layer, part, output) > 1.02) return true;
    return false;
}

int mostSources(const LayerPlan& layer, const Quality& quality) {
    return quality.blur && layer.sourcePerFrame != Rational(0) && layer.shutter.close > layer.shutter.open
               ? std::max(1, quality.mostPictures)
               : 1;
}

SourceLook lookOf(const LayerPlan& layer, const Quality& quality) {
    SourceLook look{layer.crop, quality.enlarging, layer.deinterlace, quality.proxies};
    look.findsFlow = quality.findsFlow;
    look.inBetween = layer.inBetween;
    if (quality.blur && layer.shotBlur > 0)
        look.smear = layer.shotBlur * std::max(0.0, layer.shutter.close - layer.shutter.open);
    return look;
}

std::optional<ExposedSpan> exposedSpan(const LayerPlan& layer, const Quality& quality) {
    ExposedSpan span;
    span.most = mostSources(layer, quality);
    if (span.most == 1) return std::nullopt;
    span.look = lookOf(layer, quality);
    // The frame's own picture is the first: what lies before it belongs to the frame before, or to another shot.
    span.look.inBetween = InBetween::Nearest;
    // Many pictures pass: where pictures are made up, each is drawn out to the next.
    span.look.smear = needsOpticalFlow(layer.inBetween, layer.shotBlur) ? 1 : 0;
    const bool backwards = layer.sourcePerFrame < Rational(0);
    const Rational perFrame = backwards ? Rational(0) - layer.sourcePerFrame : layer.sourcePerFrame;
    span.from = layer.sourceTime + framesOf(std::max(0.0, layer.shutter.open - double(layer.frame))) * perFrame;
    span.to = span.from + framesOf(layer.shutter.close - layer.shutter.open) * perFrame;
    return span;
}

Expected<std::vector<SourcePool::Shown>> sourcesFor(const LayerPlan& layer, const std::filesystem::path& path,
                                                    Size output, const Quality& quality, SourcePool& pool) {
    Enlarging enlarging = quality.enlarging;
    if (enlarging != Enlarging::Bilinear && !isEnlarged(layer, output)) enlarging = Enlarging::Bilinear;
    auto span = exposedSpan(layer, quality);
    if (!span) {
        SourceLook look = lookOf(layer, quality);
        look.enlarging = enlarging;
        auto picture = pool.seenAt(path, layer.sourceTime, look);
        if (!picture) return tl::unexpected(picture.error());
        std::vector<SourcePool::Shown> one;
        one.push_back(std::move(*picture));
        return one;
    }
    span->look.enlarging = enlarging;
    auto sources = pool.exposed(path, span->from, span->to, span->most, span->look);
    if (!sources || layer.sourcePerFrame > Rational(0)) return sources;
    // Backwards: what the frame would have shown forwards, the latest first.
    std::reverse(sources->begin(), sources->end());
    for (SourcePool::Shown& shown : *sources)
        shown = {shown.picture, 1 - shown.to, 1 - shown.from, shown.source, shown.toSource};
    return sources;
}

MovingLayer movingLayer(LayerPlan layer, const SourcePool::Shown& source, Size output, const Quality& quality) {
    layer.source = source.size(); // what is really there decides, whatever the project remembers
    const bool open = quality.blur && layer.shutter.close > layer.shutter.open;
    MovingLayer moving{{}, open, layer.edges, layer.opacity, layer.samples};
    moving.mapAt = [layer = std::move(layer), output, of = source.toSource](double fraction) {
        const ScreenMap map = mapAt(layer, layer.shutter.at(fraction), output);
        return of == Matrix() ? map : map.of(of);
    };
    return moving;
}

Exposure::Exposure(MovingLayer layer, std::vector<SourcePool::Shown> sources, Size output, const Quality& quality,
                   const Cancel& cancel)
    : m_layer(std::move(layer)), m_output(output), m_quality(quality) {
    for (std::size_t i = 0; i < m_overview.size(); ++i) m_overview[i] = m_layer.mapAt(double(i) / 4);
    // A closed shutter, or nothing that moves: all samples are one.
    m_atRest = true;
    for (int i = 1; i <= 8 && m_layer.open && m_atRest; ++i) m_atRest = m_layer.mapAt(i / 8.0) == m_overview[0];
    for (SourcePool::Shown& source : sources) {
        if (!m_parts.empty() && source.to <= source.from) continue;
        m_parts.push_back({std::move(source.picture), source.from, source.to, {}, {}});
    }
    for (Part& part : m_parts) {
        m_maps.push_back(std::make_unique<std::array<Maps, countSteps>>());
        if (!m_atRest && m_layer.samples <= 0) choose(part, quality, cancel);
    }
}

void Exposure::choose(Part& part, const Quality& quality, const Cancel& cancel) {
    const double length = part.to - part.from;
    const auto at = [&](double fraction) { return m_layer.mapAt(part.from + length * fraction); };
    constexpr double shortest = 8; // pixels of path from which running sums pay
    part.slide = slideOf(at, shortest);
    if (part.slide) return;
    auto two = twoPassOf(at, m_output, quality.pixelsPerSample, quality.mostSamples);
    if (!two) return;
    part.between = std::make_unique<Between>();
    Image<Linear16> picture(two->size);
    const int across = (two->size.width + tileSide - 1) / tileSide, down = (two->size.height + tileSide - 1) / tileSide;
    inParallel(std::size_t(across * down), [&](std::size_t i) {
        if (cancel.requested()) return;
        const int x = int(i) % across * tileSide, y = int(i) / across * tileSide;
        const Tile tile{x, y, std::min(tileSide, picture.width() - x), std::min(tileSide, picture.height() - y)};
        if (!isNeeded(*two, tile, m_output)) return;
        alignas(64) LinearF block[mostTilePixels];
        sampleTile(*part.source, m_layer.edges, two->first, tile, block);
        for (int j = 0; j < tile.height; ++j) quantise(block + j * tile.width, picture.row(y + j) + x, tile.width);
    });
    part.between->picture = Pyramid::flat(std::move(picture));
    part.between->plan = std::move(*two);
}

Exposure::Shape Exposure::shape() const {
    const auto& slide = m_parts.front().slide;
    return !slide ? Shape::Square : slide->vertical ? Shape::Tall : Shape::Wide;
}

int Exposure::countFor(Tile tile) const {
    if (m_atRest) return 1;
    if (m_layer.samples > 0) return m_layer.samples;
    const auto at = [&](double fraction) { return m_overview[std::size_t(std::lround(fraction * 4))]; };
    // Where the source is enlarged it has no detail as fine as the screen's pixels, and needs fewer samples.
    double detail = 0;
    for (const std::size_t i : {0u, 2u, 4u})
        for (const Point& corner : {Point(tile.x, tile.y), Point(tile.x + tile.width, tile.y + tile.height)})
            if (m_overview[i].isVisible()) detail = std::max(detail, detailAt(m_overview[i], corner));
    return samplesNeeded(pathLength(at, tile), m_quality.pixelsPerSample / std::max(detail, 0.05),
                         m_quality.mostSamples);
}

const std::vector<ScreenMap>& Exposure::mapsFor(std::size_t index, int count) const {
    const std::size_t step = std::min(stepOf(count), countSteps - 1);
    Maps& made = (*m_maps[index])[step];
    std::call_once(made.once, [&] {
        const Part& part = m_parts[index];
        const int samples = m_layer.samples > 0 ? count : countOfStep(step);
        for (int i = 0; i < samples; ++i)
            made.maps.push_back(m_layer.mapAt(part.from + (part.to - part.from) * (i + 0.5) / samples));
        if (m_atRest) made.maps.resize(1);
    });
    return made.maps;
}

const Linear16* Exposure::still(Tile tile, int& stride) const {
    if (!m_atRest || m_parts.size() != 1) return nullptr;
    stride = m_parts.front().source->size().width;
    return stillPixels(*m_parts.front().source, mapsFor(0, 1), tile);
}

void Exposure::samplePart(std::size_t index, Tile tile, int count, LinearF* out) const {
    const Part& part = m_parts[index];
    const double length = part.to - part.from;
    const int share = std::max(1, int(std::ceil(count * length)));
    if (part.slide) {
        sampleSlide(*part.source, m_layer.edges, *part.slide, tile, out);
    } else if (part.between && share > int(part.between->plan.second.size())) {
        sampleTile(part.between->picture, EdgeFill::Hold, part.between->plan.second, tile, out,
                   part.between->plan.weights);
    } else {
        sampleTile(*part.source, m_layer.edges, mapsFor(index, share), tile, out);
    }
}

void Exposure::sample(Tile tile, LinearF* out) const {
    const int count = countFor(tile);
    if (m_parts.size() == 1) return samplePart(0, tile, count, out);
    const std::size_t pixels = std::size_t(tile.width) * std::size_t(tile.height);
    std::fill_n(out, pixels, LinearF{});
    alignas(64) LinearF one[mostTilePixels];
    double whole = 0;
    for (const Part& part : m_parts) whole += part.to - part.from;
    for (std::size_t k = 0; k < m_parts.size(); ++k) {
        samplePart(k, tile, count, one);
        const auto weight = float((m_parts[k].to - m_parts[k].from) / whole);
        for (std::size_t i = 0; i < pixels; ++i)
            out[i] = {out[i].r + one[i].r * weight, out[i].g + one[i].g * weight, out[i].b + one[i].b * weight,
                      out[i].a + one[i].a * weight};
    }
}

} // namespace virga
