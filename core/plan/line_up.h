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
};
/// The subject of the clip on a side of a cut, in the frame beside the cut; empty where none is set, or it is not seen.
std::optional<SubjectSeen> subjectAt(const Project& project, int cut, Side side);

/// The subject set by a place in that frame, of that radius. Unchanged where nothing lies there.
Project withSubject(const Project& project, int cut, Side side, SubjectSeen seen);

/// The incoming clip scaled and placed so that its subject lies on the outgoing one's, in place and size; the anchors
/// of the cut's moves put there. Solved with the moves as they are. Errors: BadInput where a subject is missing, or no
/// scale and place do it.
Expected<Project> withSubjectsLinedUp(const Project& project, int cut);

} // namespace virga
