#pragma once
// Media files for tests, and what the reel sounds like.
#include <functional>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/base/rational.h"
#include "core/project/project.h"
#include "core/raster/image.h"
#include "tests/support/folder.h"

namespace virga::test {

/// Writes frames with Virga's own encoder, near lossless. Fails the test on an error.
void writeClip(const fs::path& path, Size size, FrameRate rate, int frames,
               const std::function<Image<Rgba8>(int)>& draw, int keyInterval = 0, bool tone = false);

/// A clip in which every frame tells its number: a bar code of 8 blocks over a textured ground.
void writeNumberedClip(const fs::path& path, Size size, FrameRate rate, int frames, int keyInterval = 12,
                       bool tone = false);
Image<Rgba8> numberedFrame(Size size, int number);
/// The number in a frame, from its linear light.
int numberIn(const Image<Linear16>& picture);
int numberIn(ImageView<const Rgba8> picture);

/// The mix of a span of the reel, by readers of its own.
std::vector<float> mixed(const Project& project, std::int64_t from, std::int64_t to);

/// A file's sound from `from` seconds on, by a reader of its own. Errors: as AudioReader.
Expected<std::vector<float>> readAudio(const fs::path& path, Rational from, std::int64_t count,
                                       const Cancel& cancel = {}, Rational speed = 1);

} // namespace virga::test
