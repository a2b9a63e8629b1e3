#pragma once
// Black bars burnt into a shot. Tiled copies would repeat them, so they are cropped off. May run on any thread.
#include <filesystem>
#include <span>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/project.h"
#include "core/raster/image.h"

namespace virga {

/// What is black at the edges in all of the pictures, at least 1 % of a side and at most 45 %, with one row or column
/// more for what compression smeared over the border; empty where there are no bars or the pictures are dark all over.
/// REQUIRES: pictures of one size.
Crop barsIn(std::span<const Image<Linear16>> pictures);

/// The same for seven pictures of a file between two times, in seconds. Errors: as VideoReader.
Expected<Crop> findBars(const std::filesystem::path& path, Rational from, Rational to, const Cancel& cancel = {});

} // namespace virga
