#pragma once
// Collecting: every media of a project copied into one folder beside it, so that the whole can be carried away.
#include <functional>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

/// A file that collecting would copy.
struct ToCollect {
    std::filesystem::path named;  // as the project says
    std::filesystem::path really; // where it lies, links followed
    std::uintmax_t bytes = 0;
    bool outside = false; // not in the project's folder or below it
};
/// Every file that collectMedia would copy, as far as it is there: to be shown to a person first. A project that came
/// from elsewhere may name any file of this machine.
std::vector<ToCollect> toCollect(const Project& project, const std::filesystem::path& folder);

struct Collected {
    Project project; // refers to the copies
    int copied = 0, alreadyThere = 0;
    std::vector<Error> problems; // files that stay where they are: missing, unreadable
};

/// Copies into `folder`, which is made where needed. Files that lie there already stay; two of one name get numbers;
/// each copy is written beside and renamed, so that none is ever half there. Only what toCollect told is copied: a link
/// that has come to lead elsewhere since is a problem. `progress` gets bytes done and all.
/// Errors: WriteFailed where the folder or a copy cannot be written, e.g. on a full disk; what was copied stays.
/// Cancelled.
Expected<Collected> collectMedia(const Project& project, const std::filesystem::path& folder,
                                 const std::function<void(std::uintmax_t, std::uintmax_t)>& progress = {},
                                 const Cancel& cancel = {}, const std::vector<ToCollect>* promised = nullptr);

} // namespace virga
