#pragma once
// How alike two movements are as they are seen.
#include "core/plan/seen_speed.h"

namespace virga {

/// Of two fields of velocities: 1 where they go the same way everywhere, -1 the opposite way, 0 where the one says
/// nothing about the other or stands still. Points that are not there are left out.
double likeness(const Velocities& a, const Velocities& b);

} // namespace virga
