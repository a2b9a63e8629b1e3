#pragma once
// Collecting: every media of a project copied into one folder beside it, so that the whole can be carried away.
#include <functional>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

struct Collected {
    Project project; // refers to the copies
    int copied = 0, alreadyThere = 0;
    std::vector<Error> problems; // files that stay where they are: missing, unreadable
};

/// Copies into `folder`, which is made where needed. Files that lie there already stay; two of one name get numbers;
/// each copy is written beside and renamed, so that none is ever half there. `progress` gets bytes done and all.
/// Errors: WriteFailed where the folder or a copy cannot be written, e.g. on a full disk; what was copied stays.
/// Cancelled.
Expected<Collected> collectMedia(const Project& project, const std::filesystem::path& folder,
                                 const std::function<void(std::uintmax_t, std::uintmax_t)>& progress = {},
                                 const Cancel& cancel = {});

} // namespace virga
