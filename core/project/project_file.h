#pragma once
// The project on disk: one JSON file, written beside and renamed, so that a crash leaves the old or the new one.
#include <map>

#include "core/base/error.h"
#include "core/base/output.h"
#include "core/project/project.h"
#include "core/project/project_text.h"

namespace virga {

/// Errors: NotFound; Unreadable with file and line or place for what is not JSON or against the schema; Unsupported for
/// a newer version. Media that is not where the file says is looked for near the project by name; `missing` receives
/// the ids of what is not found.
Expected<Project> loadProject(const std::filesystem::path& path, std::vector<std::string>* missing = nullptr);

/// The ids of media whose file is there but holds other content than when it was taken into the project. Reads a little
/// of each.
std::vector<std::string> changedMedia(const Project& project);

/// Lost files looked for by name in a folder and what lies in it, four levels deep: old path to found path.
std::map<std::filesystem::path, std::filesystem::path> findNear(const std::vector<std::filesystem::path>& lost,
                                                                const std::filesystem::path& folder);

/// What saving a project may replace: another project (with `force` anything), none of its own files.
Output projectOutput(const Project& project, bool force = false);

/// Holds the project to the limits of limits.h first. Asks nobody; see mayWrite. Errors: WriteFailed; then the old file
/// is untouched. With `texts` what did not change since it was used last is not put into words anew.
Expected<void> saveProject(const Project& project, const std::filesystem::path& path, ProjectText* texts = nullptr);

/// What a file holds, as a short text; empty where there is no such file. No clock is asked: one that was set back, or
/// another machine's, cannot make a newer copy look old.
std::string contentOf(const std::filesystem::path& path);
/// A copy of unsaved work, kept at `path`, which says what the project's own file held then (contentOf). Errors: as
/// saveProject.
Expected<void> keepCopy(const Project& project, const std::filesystem::path& path, const std::string& content,
                        ProjectText* texts = nullptr);
/// Whether a kept copy goes on from what the project's file still holds: it was not saved since.
bool goesOnFrom(const std::filesystem::path& copy, const std::filesystem::path& project);

} // namespace virga
