#pragma once
// Follows a clip's subject through its shot, from where it was set by hand.
#include <functional>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

struct FollowedSubject {
    Subject subject;           // with a spot for every picture of the source that it was followed to
    std::int64_t pictures = 0; // of the shot
    std::int64_t lostAt = -1;  // the clip's frame behind which, or before which, it was lost; -1: it was not
};

/// The subject of a clip on one side (at its last frame for the outgoing one, at its first for the incoming) followed
/// through the clip's source, picture by picture. Between two spots that were set by hand it is followed from both, and
/// what is nearer counts more. `report` is told the part that is done. Errors: BadInput where no subject is set; as
/// VideoReader; Cancelled.
Expected<FollowedSubject> followSubject(const Project& project, int clip, Side side,
                                        const std::function<void(double)>& report, const Cancel& cancel);

} // namespace virga
