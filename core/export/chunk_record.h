#pragma once
// What a rendered chunk says of itself, in a file beside it: what it is of, and what its bytes must be. Joining
// believes nothing else.
#include <filesystem>

#include "core/base/cancel.h"
#include "core/export/export_plan.h"

namespace virga {

/// Where the record of a chunk's file lies.
std::filesystem::path recordOf(const std::filesystem::path& chunkFile);

/// Written last: a chunk without a record is not there. REQUIRES: all that the chunk consists of is in place. Errors:
/// as writing a file.
Expected<void> writeChunkRecord(const ExportPlan& plan, int chunk, const std::filesystem::path& chunkFile);

/// Whether a chunk's file is the one that the plan asks for, byte for byte as it was rendered. Errors: NotFound where
/// it or its record is not there, BadInput where it is another one, Unreadable where bytes are missing or changed.
Expected<void> verifyChunk(const ExportPlan& plan, int chunk, const std::filesystem::path& chunkFile);

/// What a farm logs beside the chunks: it is there from the farm's start until they are joined.
std::filesystem::path farmLog(const std::filesystem::path& result);

/// Removes a result's chunks with their records and the farm's log, and the folder if nothing else lies in it.
void removeChunks(const ExportPlan& plan);

} // namespace virga
