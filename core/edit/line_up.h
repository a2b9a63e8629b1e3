#pragma once
// Subjects at a cut: where they lie in the last frame before it and in the first one after it, and putting the second
// onto the first.
#include "core/base/error.h"
#include "core/plan/plan.h"

namespace virga {

/// A subject in the frame, in its pixels.
struct SubjectSeen {
    Point at{0, 0};
    double radius = 0;
    double angle = 0; // degrees, clockwise
};
/// The subject of the clip on a side of a cut, in the frame beside the cut; empty where none is set, or it is not seen.
std::optional<SubjectSeen> subjectAt(const Project& project, int cut, Side side);

/// The same of a clip in any frame that it is on screen in.
std::optional<SubjectSeen> subjectAt(const Project& project, int clip, Side side, std::int64_t frame);

/// The subject set by a place in that frame, of that radius and angle. Where it was followed, its spot at that frame is
/// set by hand, and the others stay. Unchanged where nothing lies there.
Project withSubject(const Project& project, int cut, Side side, const SubjectSeen& seen);

Project withSubject(const Project& project, int clip, Side side, std::int64_t frame, const SubjectSeen& seen);

/// The incoming clip scaled, turned and placed so that its subject lies on the outgoing one's; the anchors
/// of the cut's moves put there. Solved with the moves as they are. Errors: BadInput where a subject is missing, or no
/// scale and place do it.
Expected<Project> withSubjectsLinedUp(const Project& project, int cut);

} // namespace virga
