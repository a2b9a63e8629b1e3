#pragma once
// The reel, or a range of its frames, as a file, or as one chunk of it; chunks joined. Any range renders to the same
// frames whoever renders it, and a result has the same bytes however it was made.
#include <functional>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/output.h"
#include "core/export/export_plan.h"
#include "core/render/render_frame.h"

namespace virga {

struct ExportReport {
    std::int64_t frames = 0;
    double seconds = 0;             // it took
    std::size_t mostBytes = 0;      // of memory that it was to need, beside what the pool keeps for later
    std::vector<Error> problems;    // sound that could not be read
    std::vector<std::string> notes; // what a person should know of the result, each one sentence without a full stop
};

/// What an export may replace: another file of its format, none of the project's own files, nor the project's file
/// where that is named.
Output exportOutput(const Project& project, DeliveryFormat format, const std::filesystem::path& projectFile = {});
/// Whether it may be written there; of a sequence its first and last picture, and its sound. Errors: as mayWrite.
Expected<void> mayExport(const Project& project, const ExportSettings& settings,
                         const std::filesystem::path& projectFile = {});

/// Told the number of frames rendered and to do, on the calling thread. It may keep the work waiting: that is a pause.
using ExportProgress = std::function<void(std::int64_t, std::int64_t)>;

/// When the last frame is told, the last few are still being encoded. The finished file is opened again and compared
/// with what was asked. Errors: those of planExport, mayWrite, renderFrame and Encoder; BadInput for more memory or
/// room on the disk than is free; Unreadable where the file is not what was asked, which then stays; Cancelled. On
/// other errors nothing is left under the name.
Expected<ExportReport> exportReel(const Project& project, const ExportSettings& settings, SourcePool& pool,
                                  const ExportProgress& progress = {}, const Cancel& cancel = {});

/// One chunk alone, to its place (chunkPaths), whose folder is made. One that is there already is left. Errors: as
/// exportReel; BadInput for a chunk that there is not.
Expected<ExportReport> exportChunk(const Project& project, const ExportSettings& settings, int chunk, SourcePool& pool,
                                   const ExportProgress& progress = {}, const Cancel& cancel = {});

/// The chunks joined, with the sound; they are removed when the result is in place. Errors: NotFound, naming the
/// chunks that are not there; as exportReel.
Expected<ExportReport> joinChunks(const Project& project, const ExportSettings& settings,
                                  const ExportProgress& progress = {}, const Cancel& cancel = {});

/// The chunks that are still to be made.
std::vector<int> missingChunks(const ExportPlan& plan);

} // namespace virga
