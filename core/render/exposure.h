#pragma once
// How one layer is exposed over a frame: which of the source's pictures are on screen for how long while the shutter is
// open, and which way of sampling gives its mean fastest. Made once a frame, then asked for tiles by any number of
// threads. The choice depends on the plan alone, never on the machine, so that the same plan gives the same picture.
#include <array>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

#include "core/base/cancel.h"
#include "core/plan/plan.h"
#include "core/raster/slide.h"
#include "core/raster/two_pass.h"
#include "core/render/quality.h"
#include "core/render/source_pool.h"

namespace virga {

/// The pictures that a layer shows while its shutter is open. Errors: as SourcePool.
Expected<std::vector<SourcePool::Shown>> sourcesFor(const LayerPlan& layer, const std::filesystem::path& path,
                                                    Size output, const Quality& quality, SourcePool& pool);

/// How a layer's pictures are read: of one moment. What many that pass need is decided with them.
SourceLook lookOf(const LayerPlan& layer, const Quality& quality);

/// The span of the source that a layer is exposed to while many of its pictures pass, and how they are read then; empty
/// where one moment is seen.
struct ExposedSpan {
    Rational from, to;
    int most = 1;
    SourceLook look;
};
std::optional<ExposedSpan> exposedSpan(const LayerPlan& layer, const Quality& quality);

/// How many pictures sourcesFor finds at most.
int mostSources(const LayerPlan& layer, const Quality& quality);

/// True where the layer is enlarged enough for a sharper way than bilinear to show.
bool isEnlarged(const LayerPlan& layer, Size output);

/// What an exposure has to know of a layer.
struct MovingLayer {
    std::function<ScreenMap(double)> mapAt; // at a fraction of the shutter interval
    bool open = true;                       // false: the shutter opens for an instant only
    Edges edges;
    double opacity = 1;
    int samples = 0; // 0 is as many as the movement needs
};

/// A layer of a plan over one of its pictures, with its source's true size.
MovingLayer movingLayer(LayerPlan layer, const SourcePool::Shown& source, Size output, const Quality& quality = {});

class Exposure {
public:
    /// Makes what all tiles share, on all threads. REQUIRES: sources not empty.
    Exposure(MovingLayer layer, std::vector<SourcePool::Shown> sources, Size output, const Quality& quality,
             const Cancel& cancel = {});

    enum class Shape { Square, Wide, Tall };
    /// Of the tiles that it is sampled fastest in.
    Shape shape() const;
    double opacity() const { return m_layer.opacity; }

    /// As stillPixels, with the number of pixels from row to row; null where something has to be sampled.
    const Linear16* still(Tile tile, int& stride) const;
    void sample(Tile tile, LinearF* out) const;

private:
    struct Between { // the picture between two passes
        TwoPass plan;
        Pyramid picture;
    };
    struct Part {
        std::shared_ptr<const Pyramid> source;
        double from = 0, to = 1;
        std::optional<Slide> slide;
        std::unique_ptr<Between> between;
    };
    int countFor(Tile tile) const;
    const std::vector<ScreenMap>& mapsFor(std::size_t part, int count) const;
    void choose(Part& part, const Quality& quality, const Cancel& cancel);
    void samplePart(std::size_t index, Tile tile, int count, LinearF* out) const;

    MovingLayer m_layer;
    Size m_output;
    Quality m_quality;
    bool m_atRest = false;
    std::array<ScreenMap, 5> m_overview; // at quarters of the shutter interval
    std::vector<Part> m_parts;
    struct Maps { // made when first asked for
        std::once_flag once;
        std::vector<ScreenMap> maps;
    };
    static constexpr std::size_t countSteps = 48;
    mutable std::vector<std::unique_ptr<std::array<Maps, countSteps>>> m_maps; // by part and step of count
};

} // namespace virga
