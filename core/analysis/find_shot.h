#pragma once
// The shot that a clip shows, looked for in its source around the clip's ends: a title card, or the first frame of the
// next shot, is easily left in a trim. May run on any thread.
#include <filesystem>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/clip_time.h"

namespace virga {

/// What of the source a clip shows, its overlaps with its neighbours included.
ClipTime::Span seenOfSource(const Project& project, int clip);
/// So much of the source, in seconds, passes in the frames that FlowLimits::foreignFrames allows for.
Rational foreignSeconds(const Project& project, int clip);

/// What has to be looked at for a clip; empty where nothing has: gaps, stills, held pictures.
struct ShotLook {
    std::filesystem::path path;
    ClipTime::Span used;
    Rational most;
};
std::optional<ShotLook> shotLookOf(const Project& project, int clip);

/// Where the shot begins and ends, found where another one shows for no more than `most` seconds at either end of
/// `used`; else unset. Hard cuts and gradual ones, by CutFinder. Errors: as VideoReader; Cancelled.
Expected<FoundShot> findShot(const std::filesystem::path& path, ClipTime::Span used, Rational most,
                             const Cancel& cancel = {});

} // namespace virga
