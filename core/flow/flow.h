#pragma once
// The flow check: does the movement carry on through a cut? Findings in plain words with numbers, each with fixes that
// are edits; and what is fine. Measures plans only; reads no file. May run on any thread.
#include <functional>
#include <string>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

enum class Severity { Breaks, WorthALook };

struct Fix {
    std::string label;                                      // on the button
    std::function<Expected<Project>(const Project&)> apply; // an edit; its error says why it cannot be met
};

struct Finding {
    std::string name; // stable, for "ignore here" and scripts: "turns-back:Zoom"
    Severity severity = Severity::Breaks;
    int cut = -1;
    std::int64_t frame = 0; // from the cut, where to look
    std::string title;      // one line
    std::string detail;     // numbers
    std::vector<Fix> fixes; // the best first
};

struct CutFlow {
    std::vector<Finding> findings;    // the gravest first; without the ignored ones
    std::vector<std::string> fine;    // what was checked and holds
    double speedOut = 0, speedIn = 0; // seen speeds of frames -1 and 0, % of the frame width per frame
};

struct FlowLimits {
    double still = 0.02;    // % of the frame width per frame: slower is standing still
    double step = 1.15;     // a larger ratio of the two speeds is a finding
    double graveStep = 1.6; // a larger one breaks the illusion
    double copies = 0.1;    // a smaller share of copies is not counted
    double copySpeed = 2;   // % of the frame width per frame: copies that fly past faster are what the fill is for
    int copyFrames = 2;     // copies may be seen for so many frames (common practice)
};

CutFlow flowAtCut(const Project& project, int cut, const FlowLimits& limits = {});
/// All cuts of a reel, in their order; fewer where it is cancelled.
std::vector<CutFlow> flowOfReel(const Project& project, const FlowLimits& limits = {}, const Cancel& cancel = {});

} // namespace virga
