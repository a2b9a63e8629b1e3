#pragma once
// What users do to single clips, overlays, adjustments and markers, each as one named, undoable step.
#include <functional>

#include "app/document/document.h"
#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"

namespace virga {

/// A clip of the reel, or an overlay.
struct ClipTarget {
    bool overlay = false;
    int index = -1;
    bool operator==(const ClipTarget&) const = default;
};
/// What an edit of a clip is for: the selected overlay or clip, otherwise the clip under the playhead.
ClipTarget chosenTarget(const Document& document);
/// Empty where there is none.
const Clip* clipOf(const Project& project, ClipTarget target);

void setClipLength(Document& document, ClipTarget target, std::int64_t frames);
/// All selected clips, where the target is one of the reel; changes with one key become one step.
void changeClips(Document& document, ClipTarget target, const QString& name, const std::function<void(Clip&)>& change,
                 const QString& mergeKey = {});
/// How an overlay comes (Side::Incoming) or goes.
void setEntrance(Document& document, int overlay, Side side, Entrance entrance, int frames);
/// The edge of all selected clips.
void trimSelection(Document& document, Edge edge, std::int64_t frames);
/// Copies of clips, in their order, before clip `place`; they are selected.
void copyClips(Document& document, const std::vector<int>& clips, int place);

/// REQUIRES: it is selected.
void changeAdjustment(Document& document, const QString& name, const std::function<void(Adjustment&)>& change,
                      const QString& mergeKey = {});
void renameMarker(Document& document, int marker, const QString& name);
void moveMarker(Document& document, int marker, std::int64_t frame);

/// The subjects of the clips at a cut; what is not given stays. Empty where the cut's clips are not the ones of
/// `found` any more: nothing was changed then.
struct FoundSubjects {
    Snapshot found; // the project that they were found in
    std::optional<Subject> out, in;
};
bool setSubjects(Document& document, int cut, const FoundSubjects& subjects, const QString& name);
/// Why it could not be done, or nothing.
QString lineUpSubjects(Document& document, int cut);

} // namespace virga
