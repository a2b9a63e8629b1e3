#pragma once
// What users do to how fast shots run, each as one named, undoable step.
#include "app/document/document.h"
#include "core/edit/speed_edits.h"

namespace virga {

/// Ramps on one side of a cut or on both; a null one leaves its side. What is the matter, or nothing.
QString rampAtCut(Document& document, int cut, const Ramp* out, const Ramp* in, Keeps keeps = Keeps::Length);
void removeRamps(Document& document, int cut);

/// The picture at the playhead held for some frames.
void holdFrame(Document& document, std::int64_t frames);
/// The chosen clips run backwards.
void runChosenBackwards(Document& document);
/// What is seen at the playhead comes to be seen on another frame of the reel: the next beat, the one before, or any.
/// What went wrong, or nothing.
QString landMoment(Document& document, std::int64_t reelFrame);
QString landOnBeat(Document& document, int step);

/// The chosen clips, or the overlay, changed one by one.
void changeChosenClips(Document& document, const QString& name, const std::function<Clip(const Project&, Clip)>& change,
                       const QString& mergeKey = {});

} // namespace virga
