#include "core/render/trust_picture.h"

#include "core/raster/kept_light.h"
#include "core/render/exposure.h"

namespace virga {

TrustPicture trustPicture(const Project& project, std::int64_t frame, Size output, SourcePool& pool) {
    TrustPicture made;
    const FramePlan plan = planFrame(project, frame);
    for (auto at = plan.layers.rbegin(); at != plan.layers.rend(); ++at) {
        const Media* media = findMedia(project, at->mediaId);
        if (!media) continue;
        const auto trust = pool.trustAt(media->path, at->sourceTime, lookOf(*at, exactQuality));
        if (trust.cells.empty()) continue;
        made.share = trust.share;
        // The grid stands for the shot's picture, as a light copy does, and goes the way of the shot.
        Image<Linear16> cells(trust.grid);
        for (int y = 0; y < trust.grid.height; ++y)
            for (int x = 0; x < trust.grid.width; ++x) {
                const double doubt = 1 - trust.cells[std::size_t(y * trust.grid.width + x)];
                const auto dark = std::uint16_t(keptBlack);
                cells.at(x, y) = {keptOf(doubt * doubt), dark, dark, std::uint16_t(linearOne)};
            }
        SourcePool::Shown shown{std::make_shared<const Pyramid>(std::move(cells)), 0, 1, at->source, {}};
        shown.toSource =
            scaling(double(at->source.width) / trust.grid.width, double(at->source.height) / trust.grid.height);
        LayerPlan layer = *at;
        layer.edges = {EdgeFill::Empty, 0};
        Quality quality = quickQuality;
        auto moving = movingLayer(std::move(layer), shown, output, quality);
        std::vector<SourcePool::Shown> sources;
        sources.push_back(std::move(shown));
        made.picture =
            renderLayer(std::make_unique<Exposure>(std::move(moving), std::move(sources), output, quality), output);
        return made;
    }
    return made;
}

} // namespace virga
