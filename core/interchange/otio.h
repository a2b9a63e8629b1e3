#pragma once
// OpenTimelineIO's JSON files (.otio), by the schema names and versions published in its documentation ("OpenTimelineIO
// Serialized Schema Documentation", Academy Software Foundation): Timeline.1, Stack.1, Track.1, Clip.1 and Clip.2,
// Gap.1, Transition.1, Marker.1 and Marker.2, LinearTimeWarp.1, ExternalReference.1, MissingReference.1,
// RationalTime.1, TimeRange.1. What only Virga knows of a clip travels in its metadata under "virga".
#include <filesystem>
#include <string>

#include "core/base/error.h"
#include "core/interchange/imported_edit.h"

namespace virga {

/// Reads a timeline: its first video track becomes the reel, further ones overlays, sound tracks music. Its rate
/// becomes the project's; `base` gives size and known media, `folder` what relative paths start from. Media that is not
/// known becomes media without a probed file. Errors: Unreadable with line or place and reason for what is not JSON or
/// not a timeline; Unsupported for another root schema.
Expected<ImportedEdit> readOtio(const std::string& text, const Project& base, const std::filesystem::path& folder,
                                const std::string& name);

/// The project as a timeline; media paths relative to `folder` where they lie in it.
std::string writeOtio(const Project& project, const std::filesystem::path& folder);

/// A path as a URL, and back: "file:///shots/a%20b.mp4". A relative path stays relative.
std::string urlOfPath(const std::filesystem::path& path);
std::filesystem::path pathOfUrl(const std::string& url);

} // namespace virga
