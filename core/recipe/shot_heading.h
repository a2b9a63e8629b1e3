#pragma once
// The direction that a shot already has by itself: the one that a move out of it goes on from.
#include <optional>

#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga {

/// What the outgoing shot of a cut does over its last frames: to a side, up or down, in or out, or round; whichever is
/// seen most. Empty where it stands still by the project's limits (FlowLimits::pan), or its movement is not known.
std::optional<Heading> headingOfShot(const Project& project, int cut, const ShotMovements& shots);

} // namespace virga
