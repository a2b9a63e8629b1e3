#pragma once
// A shot's own shake taken off it, as ordinary moves of its drift.
#include "core/base/error.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga {

struct Steadying {
    double seconds = 0.6; // slower movement stays: the standard deviation of the smoothing
    bool covers = true;   // enlarged so that no edge is bared by it
    bool operator==(const Steadying&) const = default;
};

/// A zoom, a spin and a slide to stand before a clip's drift that take from what its pictures do all that is faster
/// than that: the course of a camera that glides (low-pass by a Gaussian). Keys as few as keep it within a quarter of
/// a thousandth of the width. It takes a while for a long shot. Errors: BadInput where the shot does not run, or too
/// little of its movement is known.
Expected<Stack> steadyingMoves(const Project& project, int clip, const ShotMovement& shot, const Steadying& how = {});
/// A clip with them, in place of those that it has.
Project withSteadying(const Project& project, int clip, const Stack& moves);

/// Whether a clip has been steadied; without it.
bool isSteadied(const Clip& clip);
Project withoutSteadying(const Project& project, int clip);

} // namespace virga
