#pragma once
// Fixes: edits that make the movement at a cut carry on.
#include "core/base/error.h"
#include "core/edit/move_edits.h"
#include "core/plan/shot_movement.h"

namespace virga {

/// The incoming side of one channel turned round about its rest.
Project withIncomingTurned(const Project& project, int cut, int move, int channel);

/// The incoming side of one channel given the outgoing side's rate as it is seen (changeOver). With `keepValues` its
/// first handle is solved, otherwise its first value; a side without movement gets one of `usualFrames`. Errors:
/// BadInput where it cannot be met.
Expected<Project> withSpeedMatched(const Project& project, int cut, int move, int channel, bool keepValues);

/// What a match changes and meets.
enum class Match {
    ByHandle, // first handles, where the values suffice, else first values
    ByValue,  // first values
    Curves    // as ByHandle, and the speeds at the cut itself are met too: a result of a higher rate shows them. An
              // outgoing side that gets much faster within its last frame is levelled there (levelledAtCut)
};

/// The incoming side's speeds solved together, so that speed and direction of every point of the screen carry on
/// through the cut (matchingRates). With `shots` what the shots do by themselves counts. Errors: BadInput with what is
/// missing or which channel cannot.
Expected<Project> withAllMatched(const Project& project, int cut, Match match, const ShotMovements* shots = nullptr);

/// The incoming side of one channel with the outgoing side's speeds in reverse order (mirroredProfile); as long as it
/// is, or as a new one would be. Errors: BadInput where the outgoing side stands still.
Expected<Project> withProfileMirrored(const Project& project, int cut, int move, int channel);
/// The same of every channel that moves the picture. Errors: also where a value would leave its channel's range.
Expected<Project> withAllMirrored(const Project& project, int cut);
/// The other way round: outgoing sides that mirror the incoming ones. Errors: likewise.
Expected<Project> withDepartureMade(const Project& project, int cut);

/// Where only the incoming side moves: it comes in over the outgoing shot, which stays beneath it for as long (common
/// practice: a slide over). Errors: BadInput where that shot has too few spare frames.
Expected<Project> withIncomingOverlapped(const Project& project, int cut);

} // namespace virga
