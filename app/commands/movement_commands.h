#pragma once
// What users do with movement that was read from pictures, each as one named, undoable step.
#include "app/document/document.h"
#include "core/edit/carrying_cuts.h"
#include "core/edit/steady.h"

namespace virga {

/// Whether speeds are shown and judged with what the shots do by themselves.
void setWithShots(Document& document, bool on);
/// By moves that were found in the background (steadyingMoves).
void takeShakeOff(Document& document, int clip, const Stack& moves);
void dropSteadying(Document& document, int clip);
/// An empty text, or why it could not be done.
QString putCut(Document& document, int cut, const CarryingCut& choice);
void setHeard(Document& document, const Heard& heard, const QString& mergeKey = {});

} // namespace virga
