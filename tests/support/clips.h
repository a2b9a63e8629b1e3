#pragma once
// Media files for tests, in a folder that is removed at the end.
#include <filesystem>
#include <functional>
#include <string>

#include "core/raster/image.h"
#include "core/time/rational.h"

namespace virga::test {

namespace fs = std::filesystem;

class TemporaryFolder {
public:
    TemporaryFolder();
    ~TemporaryFolder();
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    const fs::path& path() const { return m_path; }
    fs::path operator/(const std::string& name) const { return m_path / name; }

private:
    fs::path m_path;
};

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

/// Runs Debian's ffmpeg: a general-purpose tool that makes the odd files of the world. True on success.
bool ffmpeg(const std::string& arguments);

/// A program's exit code, and what it printed.
struct Ran {
    int code = -1;
    std::string out, err;
};
Ran runProgram(const std::string& command);

} // namespace virga::test
