#pragma once
// Carrying a movement on to the next cut: the same kinds, directions, axes and speeds, fitted to its two shots.
#include <string>

#include "core/project/project.h"

namespace virga {

/// The last cut before `cut` with moves that move the picture; -1 where there is none.
int movingCutBefore(const Project& project, int cut);

/// What a cut does, in a few words, by the channel that moves most at it: "slide y goes down"; empty where nothing
/// moves.
std::string movementText(const Project& project, int cut);

/// The moves of one cut in place of another's, each side shortened where its shot is shorter. Overlap and shutter of
/// the other stay.
Project withMovesFrom(const Project& project, int from, int to);

/// The moves of the moving cut before it. Unchanged where there is none.
Project withMoveContinued(const Project& project, int cut);

} // namespace virga
