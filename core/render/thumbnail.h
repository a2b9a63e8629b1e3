#pragma once
// Small pictures of a source, without any moves.
#include "core/raster/image.h"
#include "core/render/source_pool.h"

namespace virga {

/// The source's picture at a time, filling `size`. Errors: as SourcePool.
Expected<Image<Rgba8>> thumbnail(SourcePool& pool, const std::filesystem::path& path, Rational seconds,
                                 Rational pixelAspect, Size size);

} // namespace virga
