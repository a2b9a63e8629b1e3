#pragma once
// What an export will need, known before it starts.
#include <cstddef>

#include "core/export/export_plan.h"

namespace virga {

/// So many frames may be decoded ahead of the one that is rendered, and so many wait for the encoder.
inline constexpr int framesAhead = 2;

/// What an export's own source pool may keep beyond what its frames show.
inline constexpr std::size_t exportPoolBytes = std::size_t(64) << 20;

struct ExportNeeds {
    std::size_t sources = 0;  // bytes of decoded pictures that a few frames in a row show at most
    std::size_t frames = 0;   // of pictures being rendered, and handed from one stage to the next
    std::size_t encoder = 0;  // of frames that the encoder looks ahead at
    std::size_t decoders = 0; // of the open files' own pictures
    std::size_t program = 0;  // of the program itself, and what the source pool keeps
    std::size_t all() const { return sources + frames + encoder + decoders + program; }
};

/// By the plans of the frames to be exported; reads no file.
ExportNeeds exportNeeds(const ExportPlan& plan);
/// Nothing where they cannot be exported.
ExportNeeds exportNeeds(const Project& project, const ExportSettings& settings);

/// The memory that is free for use on this machine, in bytes; 0 where the system does not tell.
std::size_t freeMemory();

} // namespace virga
