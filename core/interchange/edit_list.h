#pragma once
// CMX 3600 edit decision lists, as described in "CMX 3600 Edit Decision List, Appendix" (CMX Corporation, 1980s; the
// layout of its fields is from memory of that description and common practice): events with reel name, track,
// transition, and source and record timecodes by SMPTE ST 12-1.
#include <string>

#include "core/base/error.h"
#include "core/interchange/imported_edit.h"

namespace virga {

/// Reads a list into a project with the settings and media of `base`; FCM lines choose drop-frame counting at
/// 30000/1001 and 60000/1001. Cuts, dissolves, black, speeds (M2) and clip names are taken over; what else there is,
/// and lines that are wrong, are reported with their number and kept as notes. Shots that `base` has no media for
/// become media without a file, named after the list. Errors: BadInput, with the first wrong line, where not one event
/// can be read.
Expected<ImportedEdit> readEditList(const std::string& text, const Project& base, const std::string& name);

/// Writes the reel. `problems` receives what such a list cannot hold (overlays, moves, ...).
std::string writeEditList(const Project& project, std::vector<std::string>* problems = nullptr);

/// The reel name of a media: up to eight capitals and digits from its file's name, unlike those before it.
std::vector<std::string> reelNames(const Project& project);

} // namespace virga
