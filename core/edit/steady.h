#pragma once
// A shot's own shake taken off it, as ordinary moves of its drift.
#include "core/base/error.h"
#include "core/motion/shot_movement.h"
#include "core/project/project.h"

namespace virga {

struct Steadying {
    double seconds = 0.6; // slower movement stays: the standard deviation of the smoothing
    bool covers = true;   // enlarged so that no edge is bared by it
    bool operator==(const Steadying&) const = default;
};

/// The clip with a zoom, a spin and a slide before its drift that take from what its pictures do all that is faster
/// than that: the course of a camera that glides (low-pass by a Gaussian). Keys as few as keep it within a quarter of
/// a thousandth of the width. Steadying it again replaces them. Errors: BadInput where the shot does not run, or too
/// little of its movement is known.
Expected<Project> withShakeTaken(const Project& project, int clip, const ShotMovement& shot, const Steadying& how = {});
/// The moves alone, which take a while for a long shot; and a clip with them.
Expected<Stack> steadyingMoves(const Project& project, int clip, const ShotMovement& shot, const Steadying& how = {});
Project withSteadying(const Project& project, int clip, const Stack& moves);

/// Whether a clip has been steadied; without it.
bool isSteadied(const Clip& clip);
Project withoutSteadying(const Project& project, int clip);

} // namespace virga
