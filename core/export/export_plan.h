#pragma once
// An export with everything decided: the piece at the result's rate, the frames, the encoder's settings, the chunks.
// Whoever makes a result, on one machine or on many, goes by this, so that results are the same.
#include <filesystem>
#include <string>
#include <vector>

#include "core/encode/encoder.h"
#include "core/project/project.h"
#include "core/render/quality.h"

namespace virga {

struct ExportSettings : DeliverySettings {
    std::filesystem::path path; // of a sequence without its numbers: "heat.png"
    Size size;                  // empty: the project's
    FrameRate rate = 0;         // 0: the project's; another one samples the movement anew
    std::int64_t from = 0;      // frames of the project
    std::int64_t to = -1;       // the frame after the last; -1 is the reel's end
    bool sound = true;
    bool force = false;         // also files of another origin are replaced
    std::size_t mostMemory = 0; // bytes; 0 is what is free on the machine
    Quality render = exactQuality;
};

struct ExportPlan {
    Project project; // at the result's rate
    std::filesystem::path path;
    EncoderSettings encoder; // settled
    Quality render;
    std::int64_t from = 0, to = 0; // of `project`

    std::int64_t frames() const { return to - from; }
    /// One where the format cannot be made in parts.
    int chunks() const;
    /// The first frame of a chunk; of chunks(): `to`.
    std::int64_t chunkFrom(int chunk) const;
};

/// Errors: BadInput for an empty reel or range, and for what the format has not.
Expected<ExportPlan> planExport(const Project& project, const ExportSettings& settings);

/// Every file that a result consists of: the one, or its pictures and the sound beside them.
std::vector<std::filesystem::path> resultFiles(const ExportPlan& plan);

/// Where chunks of a result lie until they are joined: a folder beside it.
std::filesystem::path chunkFolder(const std::filesystem::path& result);
/// What tells one job from another: all that its pictures depend on, sources by their content. Paths do not count,
/// since other machines have others.
std::string jobKey(const ExportPlan& plan);
/// The chunks' files in it, in their order. Another job, or the same with a project or a source that was changed
/// meanwhile, has other ones.
std::vector<std::filesystem::path> chunkPaths(const ExportPlan& plan);

/// Bytes that a result will take, roughly and rather too many.
std::uint64_t bytesExpected(const ExportPlan& plan);

} // namespace virga
