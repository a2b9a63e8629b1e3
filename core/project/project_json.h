#pragma once
// The project as a JSON document and back, without touching the disk.
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

inline constexpr int projectVersion = 2; // 1: a reel and one music; 2: layers, overlaps, gaps, speeds, markers

struct UnknownFields {       // NOLINT(bugprone-exception-escape): what clang-tidy sees throwing is its destructor
    nlohmann::json document; // the whole document as it was read
};

/// The document; paths relative to `folder` where the media lies in it or near it. Fields that were read but are not
/// known come back where the object that held them still exists.
nlohmann::json toJson(const Project& project, const std::filesystem::path& folder);

/// The same without the unknown fields.
nlohmann::json documentOf(const Project& project, const std::filesystem::path& folder);

/// Errors: Unreadable with the place inside the document for whatever is against the schema; Unsupported for a newer
/// version.
Expected<Project> fromJson(nlohmann::json document, const std::filesystem::path& folder, const std::string& file);

/// Puts back what a document that was read had and the new one does not know. Everything known is always written, so a
/// missing field is an unknown one. Objects in lists are the same when their ids are; without ids, when lists are
/// equally long.
void keepUnknown(const nlohmann::json& old, nlohmann::json& now);

/// The schema (JSON Schema draft 7), made of the lists of fields; published as project.schema.json, which a test
/// compares and draws anew.
nlohmann::json projectSchema();

std::string_view nameOf(EdgeFill edges);
std::optional<EdgeFill> edgesNamed(std::string_view name);
std::string_view nameOf(Fit fit);

} // namespace virga
