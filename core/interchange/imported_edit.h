#pragma once
// What reading an edit that was made elsewhere gives: a project, and in plain words what of it could not be taken over.
#include <string>
#include <vector>

#include "core/project/project.h"

namespace virga {

struct ImportedEdit {
    Project project;
    std::vector<std::string> problems; // "line 12: ...", one each; what they speak of is kept in project.notes
};

/// Finds a media among known ones by a name as edits write it: a file name with or without its extension, or a reel
/// name. An id, or empty.
std::string mediaNamed(const Project& project, const std::string& name);

/// A frame rate as other programs write it in decimals: 23.976 is 24000/1001.
FrameRate rateFromDecimal(double rate);

} // namespace virga
