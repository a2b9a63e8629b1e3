#pragma once
// The flow check: does the movement carry on? Findings about cuts and clips in plain words with numbers, each with
// fixes that are edits; and what is fine. Measures plans only; reads no file. May run on any thread. What a project
// takes for a mistake is told by its limits (core/project/flow_limits.h). A check goes over what an edit has touched,
// and takes the rest from the check before.
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/plan/clip_facts.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga {

enum class Severity { Breaks, WorthALook };

/// What a finding is about: a clip of the reel, the cut before one, or an overlay. Told by its id, so that it is found
/// again, or missed, after the reel has changed.
struct FlowPlace {
    enum Kind { Cut, Clip, Overlay } kind = Cut;
    std::string id; // of the clip; of the one after the cut; of the overlay's clip
    bool operator==(const FlowPlace&) const = default;
};
/// The number of the cut, the clip or the overlay; empty where it is gone.
std::optional<int> indexOf(const Project& project, const FlowPlace& place);
/// The reel frame from which its frames are counted. REQUIRES: it is there.
std::int64_t originOf(const Project& project, const FlowPlace& place);

struct Fix {
    std::string label;                                      // on the button
    std::function<Expected<Project>(const Project&)> apply; // an edit; its error says why it cannot be met
    bool safe =
        false; // keeps what the editor made but for the fault itself; how much that is, core/check/fix_change.h tells
};

struct Finding {
    std::string name; // stable, for "ignore here" and scripts: "turns-back:Zoom"
    Severity severity = Severity::Breaks;
    FlowPlace place;
    std::int64_t frame = 0; // counted from the place, where to look
    double weight = 0;      // among findings of its severity: more is graver
    std::string title;      // one line
    std::string detail;     // numbers
    std::vector<Fix> fixes; // the best first
};
/// What a finding is one of: its name without what it is about.
std::string kindOf(const Finding& finding);

struct CutFlow {
    std::vector<Finding> findings;    // the gravest first; without the ignored ones
    std::vector<std::string> fine;    // what was checked and holds
    double speedOut = 0, speedIn = 0; // seen speeds of frames -1 and 0, % of the frame width per frame
};

struct ClipFlow {
    std::vector<Finding> findings;
    ClipFacts facts;
};

struct ReelFlow {
    std::shared_ptr<const Project> project;     // that was checked
    std::shared_ptr<const ShotMovements> shots; // and what was known of its shots' own movement
    std::vector<std::shared_ptr<const CutFlow>> cuts;
    std::vector<std::shared_ptr<const ClipFlow>> clips;
    std::vector<std::shared_ptr<const ClipFlow>> overlays;
    int measured = 0; // clips that were not taken from the check before

    /// Every finding, the gravest first; valid as long as the cuts, clips and overlays are.
    std::vector<const Finding*> all() const;
    // What depends on no other clips than its neighbours, kept for the next check.
    std::vector<std::shared_ptr<const CutFlow>> ownOfCuts;
    std::vector<std::shared_ptr<const ClipFlow>> ownOfClips;
};

/// All of a reel. Clips and cuts whose surroundings are as they were `before` are taken over. Where it is cancelled the
/// answer is empty. Where the project says so, cuts are judged with what the shots do by themselves, as far as `shots`
/// knows it.
ReelFlow flowOfReel(std::shared_ptr<const Project> project, const ReelFlow& before = {}, const Cancel& cancel = {},
                    std::shared_ptr<const ShotMovements> shots = nullptr);
ReelFlow flowOfReel(const Project& project);

/// What is found at one cut, without what depends on the rest of the reel.
CutFlow flowAtCut(const Project& project, int cut, const std::shared_ptr<const ShotMovements>& shots = nullptr);

/// What a clip shows of bare edges and copies away from its cuts' moves; empty where nothing is found.
std::optional<Finding> edgesOfShot(const Project& project, int clip);

} // namespace virga
