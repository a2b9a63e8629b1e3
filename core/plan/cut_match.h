#pragma once
// How a cut's moves carry the screen on as it is seen: frame -1 against frame 0, speed and direction of every point
// together, and the rates at which the incoming side would do it. Rates are changes over a frame (changeOver) in each
// channel's space.
#include "core/base/error.h"
#include "core/plan/seen_speed.h"

namespace virga {

/// What the last frame before a cut and the first one after it show.
struct CutVelocities {
    Velocities out, in;
    double speedOut = 0, speedIn = 0; // seen speeds, % of the frame's width per frame
    double difference = 0;            // the largest of a point, likewise: 0 where speed and direction carry on
    Velocities ownOut{}, ownIn{};     // what of it the shots do by themselves, where that is asked for and known
    bool ownKnown = false;
    bool subjectOut = false, subjectIn = false; // what moves in a shot may be its subject: it is left out
};
CutVelocities velocitiesAtCut(const Project& project, int cut);
/// The same, for who asks for many cuts; with `shots` what the shots do by themselves counts. REQUIRES: the project's
/// own index.
CutVelocities velocitiesAtCut(const Project& project, const ReelIndex& index, int cut,
                              const ShotMovements* shots = nullptr);

/// For every channel of every move of a cut the rate over frame 0 that its incoming side needs, so that with its values
/// as they are the picture goes on as it went over frame -1, everywhere on the screen. Of all answers the one that is
/// nearest to each channel's own outgoing rate; channels that stand still on both sides are used only where the others
/// do not suffice. A channel that moves nothing (a fade, a finishing move, a move that is off) keeps its incoming rate.
/// With `shots` what the shots do by themselves is part of what goes on. Errors: BadInput with what is missing.
Expected<std::vector<std::vector<double>>> matchingRates(const Project& project, int cut,
                                                         const ShotMovements* shots = nullptr);

} // namespace virga
