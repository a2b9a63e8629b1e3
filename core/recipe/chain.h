#pragma once
// A plan of moves for a whole reel, as proposals to accept cut by cut. The plan is scored as a whole: every cut goes on
// from the one before, or turns back on an accent; every few cuts a phrase begins, and with it another way to move;
// strong moves fall on strong beats and where the music is loud; no recipe comes twice within three cuts; the shots'
// own movement is followed where it is known; what the check would find is avoided. The same seed makes the same plan,
// another one another of the good ones. It may take a second: may run on any thread.
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/check/flow.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga {

struct Proposal {
    FlowPlace cut;
    std::string label;     // "Plunge", "Quarter turn, goes on", "as cut 2: slide y goes down"
    double weight = 1;     // of its beat: 2 on a bar's first, 1 on another, 0.5 off the beat
    Transition transition; // what it would be
    EdgeFill edgesOut = EdgeFill::Mirror, edgesIn = EdgeFill::Mirror; // what would fill the edges of both its shots
};

struct ChainOptions {
    std::uint32_t seed = 1;
    bool overExisting = false;                            // also for cuts that have moves
    std::shared_ptr<const ShotMovements> shots = nullptr; // known: moves go on from where the shots go by themselves
    std::vector<double> loudness = {}; // of the music behind each cut, in LU above its whole; empty: not known
};

/// Proposals for the cuts of a reel, in their order; none for a cut at which nothing fits.
std::vector<Proposal> chainOf(const Project& project, const ChainOptions& options = {});

/// The proposal put in its cut's place. Errors: BadInput where the cut is gone.
Expected<Project> withProposal(const Project& project, const Proposal& proposal);

/// All of them, and every shot that would stand still given a creeping drift, and tilts handed from clip to clip.
Project withChain(const Project& project, const ChainOptions& options = {});

/// The proposal that continues the cut before, for one cut; empty where none moves before it.
std::optional<Proposal> continuationOf(const Project& project, int cut);

} // namespace virga
