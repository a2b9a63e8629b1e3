#pragma once
// Where stacks of moves stand in a project, and the axes that their key times are counted on.
#include "core/project/project.h"

namespace virga {

/// A stack of moves in a project, and by it an axis of frames: from the cut, or from the first frame of what it belongs
/// to.
struct StackPlace {
    enum Kind { Cut, Drift, Overlay, Adjustment };
    Kind kind = Cut;
    int index = -1;
    StackPlace() = default;
    StackPlace(int cut) : index(cut) {} // NOLINT: a cut's number stands for its stack
    StackPlace(Kind k, int i) : kind(k), index(i) {}
    bool operator==(const StackPlace&) const = default;
};

/// The moves at a place, or null.
const Stack* stackAt(const Project& project, StackPlace place);
/// The same to be changed.
Stack* ownStackAt(Project& project, StackPlace place);
/// The reel frame that is 0 on the place's axis.
std::int64_t originOf(const Project& project, StackPlace place);
/// A clip's drift has no outgoing side.
bool hasSide(StackPlace place, Side side);
/// A side's own frame 0 on the place's axis: an overlay's and an adjustment's outgoing side counts from its end.
double sideOrigin(const Project& project, StackPlace place, Side side);
/// From where to where a side is on screen, in its own frames: the whole clip before or after a cut, or all of a clip,
/// an overlay or an adjustment.
struct SideSpan {
    double from = 0, to = 0;
};
SideSpan sideSpan(const Project& project, StackPlace place, Side side);

} // namespace virga
