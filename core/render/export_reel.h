#pragma once
// The reel, or a range of its frames, as an MP4 file: H.264 and, where there is any, sound. Any range renders to the
// same frames whoever renders it.
#include <filesystem>
#include <functional>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/base/output.h"
#include "core/render/render_frame.h"

namespace virga {

struct ExportSettings {
    std::filesystem::path path;
    Size size; // empty: the project's
    std::int64_t from = 0;
    std::int64_t to = -1; // the frame after the last; -1 is the reel's end
    int quality = 16;     // constant rate factor
    bool sound = true;
    int depth = 8;              // bits, 8 or 10
    std::size_t mostMemory = 0; // bytes; 0 is what is free on the machine
    Quality render = exactQuality;
};

struct ExportReport {
    std::int64_t frames = 0;
    double seconds = 0;             // it took
    std::size_t mostBytes = 0;      // of memory that it was to need, beside what the pool keeps for later
    std::vector<Error> problems;    // sound that could not be read
    std::vector<std::string> notes; // what a person should know of the result, each one sentence without a full stop
};

/// What an export may replace: another .mp4 file, none of the project's own files, nor the project's file where that is
/// named.
Output exportOutput(const Project& project, const std::filesystem::path& projectFile = {});

/// `progress` is told the number of frames rendered and to do, on the calling thread; the last few are then still being
/// encoded. Errors: BadInput for an empty reel or
/// range, a size H.264 has not or more memory than is free; those of renderFrame and Encoder; Cancelled. On an error
/// nothing is left under the name.
Expected<ExportReport> exportReel(const Project& project, const ExportSettings& settings, SourcePool& pool,
                                  const std::function<void(std::int64_t, std::int64_t)>& progress = {},
                                  const Cancel& cancel = {});

} // namespace virga
