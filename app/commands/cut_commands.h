#pragma once
// What users do to a cut, each as one named, undoable step.
#include "app/document/document.h"
#include "core/edit/move_edits.h"
#include "core/flow/flow.h"
#include "core/recipe/recipe.h"

namespace virga {

void applyRecipe(Document& document, int cut, const Recipe& recipe, bool opposite);
void clearTransition(Document& document, int cut);
void addMove(Document& document, StackPlace place, MoveKind kind);
/// With its kind's usual amount (withUsualMove).
void addUsualMove(Document& document, StackPlace place, MoveKind kind);
void removeMove(Document& document, StackPlace place, int move);
void setMoveEnabled(Document& document, StackPlace place, int move, bool enabled);
void setMoveSolo(Document& document, StackPlace place, int move, bool solo);
void moveInStack(Document& document, StackPlace place, int from, int to);
void setEvenZoom(Document& document, StackPlace place, int move, bool even);
void setHolds(Document& document, StackPlace place, int move, bool holds);
void setMoveParameter(Document& document, StackPlace place, int move, int parameter, double value);
/// Across (0) or down (1), in fractions of the frame.
void setMoveAnchor(Document& document, StackPlace place, int move, int axis, double value);
void setSideValues(Document& document, const CurveAddress& at, double start, double end);
void setCurve(Document& document, const CurveAddress& at, const Curve& curve, const QString& name,
              const QString& mergeKey = {});
void ignoreFinding(Document& document, int cut, const std::string& name);

/// Applies a fix as one step; an empty text, or why it could not be met.
QString applyFix(Document& document, const Fix& fix);
/// The channel's incoming side given the outgoing side's speed, by its first handle or its first value; an empty text,
/// or why it could not be met.
QString matchSpeed(Document& document, int cut, int move, int channel, bool keepValues = true);
QString matchAll(Document& document, int cut);

} // namespace virga
