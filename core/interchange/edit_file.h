#pragma once
// Edits as files, told apart by their ending: .otio is OpenTimelineIO, anything else a CMX 3600 edit list.
#include "core/base/error.h"
#include "core/base/output.h"
#include "core/interchange/imported_edit.h"

namespace virga {

bool isTimeline(const std::filesystem::path& path);

/// Reads an edit in place of a project's reel. Files it names are looked for where it lies and near it; what an edit
/// list says nothing of (music, overlays, adjustments) stays as it was in `base`. Errors: as readFile, readOtio and
/// readEditList, with the file as their place.
Expected<ImportedEdit> readEditFile(const std::filesystem::path& path, const Project& base);

/// What writing an edit may replace: another edit (with `force` anything), none of the project's files. Its ending says
/// which kind it is: .otio or .edl.
Output editOutput(const Project& project, bool force = false);

/// `problems` receives what such a file cannot hold. Errors: WriteFailed.
Expected<void> writeEditFile(const Project& project, const std::filesystem::path& path,
                             std::vector<std::string>* problems = nullptr);

} // namespace virga
