#include "core/render/thumbnail.h"

#include <algorithm>
#include <vector>

#include "core/plan/plan.h"
#include "core/raster/sampler.h"
#include "core/raster/transfer.h"

namespace virga {

Expected<Image<Rgba8>> thumbnail(SourcePool& pool, const std::filesystem::path& path, Rational seconds,
                                 Rational pixelAspect, Size size) {
    auto source = pool.picture(path, seconds);
    if (!source) return tl::unexpected(source.error());
    Image<Rgba8> out(size);
    const ScreenMap map(fitMatrix(Fit::Fill, (*source)->size(), pixelAspect, size));
    std::vector<LinearF> block(tileSide * tileSide);
    for (int y = 0; y < size.height; y += tileSide)
        for (int x = 0; x < size.width; x += tileSide) {
            const Tile tile{x, y, std::min(tileSide, size.width - x), std::min(tileSide, size.height - y)};
            sampleTile(**source, EdgeFill::Hold, std::span(&map, 1), tile, block.data());
            for (int j = 0; j < tile.height; ++j)
                encodeRow(&block[std::size_t(j) * std::size_t(tile.width)], out.row(y + j) + x, tile.width);
        }
    return out;
}

} // namespace virga
