#pragma once
// Inside core/check only: the single checks. Each adds what it finds, or what it found to be fine.
#include "core/check/flow.h"
#include "core/plan/cut_match.h"

namespace virga {

/// What all checks of a cut share.
struct CutContext {
    const Project& project;
    const ReelIndex& index;
    int cut;
    const ClipFacts& out;
    const ClipFacts& in;

    const FlowLimits& limits;
    const Transition& transition;
    FlowPlace place;
    std::int64_t at;                            // the cut's reel frame
    std::shared_ptr<const ShotMovements> shots; // null: moves alone are judged
    CutVelocities velocities;
    bool turnsBack = false; // found by checkDirections

    CutContext(const Project& project, const ReelIndex& index, int cut, const ClipFacts& out, const ClipFacts& in,
               std::shared_ptr<const ShotMovements> shots = nullptr);
    /// Of a frame counted from the cut.
    const FrameFacts& facts(std::int64_t frame) const {
        return frame < 0 ? out.at(out.length() + frame) : in.at(frame);
    }
    /// Whether anything moves on either side.
    bool moves() const;
    /// A finding about this cut.
    Finding finding(std::string name, Severity severity, std::int64_t frame, std::string title,
                    std::string detail) const;
};

/// A finding about a clip, and what the clip is called in it.
Finding clipFinding(const Project& project, int clip, std::string name, Severity severity, std::int64_t frame,
                    std::string title, std::string detail);
std::string calledInFindings(const Project& project, int clip);

/// "−1", "0", "+3": a frame counted from the cut.
std::string frameText(std::int64_t frame);
/// "1 frame", "12 frames".
std::string framesText(std::int64_t count);

// directions.cpp
void checkDirections(CutContext& context, CutFlow& flow);
void checkSpeed(const CutContext& context, CutFlow& flow);
void checkTrips(const CutContext& context, CutFlow& flow);
void checkEndKeys(const CutContext& context, CutFlow& flow);
// curves.cpp
void checkReached(const CutContext& context, CutFlow& flow);
void checkOvershoot(const CutContext& context, CutFlow& flow);
void checkOutside(const CutContext& context, CutFlow& flow);
void checkHitch(const CutContext& context, CutFlow& flow);
// pictures.cpp
void checkEdges(const CutContext& context, CutFlow& flow);
void checkStrobing(const CutContext& context, CutFlow& flow);
void checkBars(const CutContext& context, CutFlow& flow);
// joints.cpp
void checkLeftOver(const CutContext& context, CutFlow& flow);
void checkSpare(const CutContext& context, CutFlow& flow);
void checkStack(const CutContext& context, CutFlow& flow);
// shots.cpp
void checkSubjects(const CutContext& context, CutFlow& flow);
void checkShotsAgree(const CutContext& context, CutFlow& flow);
void checkPan(const CutContext& context, CutFlow& flow);
// shot_speed.cpp
void checkRamp(const CutContext& context, CutFlow& flow);
void checkRampBlur(const CutContext& context, CutFlow& flow);
// shot_edges.cpp and clips.cpp
void checkShotEdges(const Project& project, int clip, ClipFlow& flow);
void checkOverlayEdges(const Project& project, int overlay, ClipFlow& flow);
void checkMagnified(const Project& project, int clip, ClipFlow& flow);
void checkDrift(const Project& project, int clip, ClipFlow& flow);
void checkSource(const Project& project, int clip, ClipFlow& flow);
void checkGuessed(const Project& project, int clip, ClipFlow& flow);
// foreign.cpp
void checkForeign(const Project& project, int clip, ClipFlow& flow);

/// What depends on the reel as a whole.
struct ReelContext {
    const Project& project;
    const ReelIndex& index;
    std::vector<const ClipFacts*> facts;
    std::int64_t firstMove = -1, lastMove = -1; // reel frames between which the reel moves
    bool onBeats = false;                       // most cuts lie on beats
    ReelContext(const Project& project, const ReelIndex& index,
                const std::vector<std::shared_ptr<const ClipFlow>>& clips);
};
void checkBeat(const ReelContext& reel, int cut, std::vector<Finding>& findings);
void checkStill(const ReelContext& reel, int clip, std::vector<Finding>& findings);
void checkLittle(const ReelContext& reel, int clip, std::vector<Finding>& findings);

/// A fix of a cut or a clip that is found again by its id, and says so where it is gone.
Fix fixOf(std::string label, const FlowPlace& place, std::function<Expected<Project>(const Project&, int)> edit,
          bool safe = false);

bool isIgnored(const Finding& finding, const Project& project, const std::vector<std::string>& here);

} // namespace virga
