#pragma once
// What users do to a cut, each as one named, undoable step.
#include "app/document/document.h"
#include "core/check/at_rate.h"
#include "core/check/mend.h"
#include "core/edit/move_edits.h"
#include "core/recipe/chain.h"

namespace virga {

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
void clearCurves(Document& document, const std::vector<CurveAddress>& curves, const QString& name);
/// A stack as pulling its speed at a frame leaves it; a zoom as the wheel over the picture does. Several in a row at
/// one place become one step.
void pullSpeed(Document& document, Project pulled, double frame);
void zoomOnPicture(Document& document, Project zoomed);
void setCutShutter(Document& document, int cut, const Shutter& shutter, const QString& name);
void setCutEdges(Document& document, int cut, EdgeFill edges);
/// Of the whole piece: clips with an edge fill of their own follow it again.
void setPieceEdges(Document& document, EdgeFill edges);
/// A finding not to be reported: about its own cut or clip, or as a kind in the whole project.
void ignoreFinding(Document& document, const Finding& finding, bool everywhere = false);

/// Applies a fix as one step; an empty text, or why it could not be met.
QString applyFix(Document& document, const Fix& fix);
/// What mending found to do, as one step.
void applyMended(Document& document, const Mended& mended);
/// A proposal of moves for a cut, as one step; an empty text, or why it could not be met.
QString applyProposal(Document& document, const Proposal& proposal);
/// Several at once, as one step; those whose cuts are gone are left out.
void applyPlan(Document& document, const std::vector<Proposal>& proposals);
/// The limits of the flow check, and what is not reported.
void setFlowLimits(Document& document, const FlowLimits& limits);
void reportAgain(Document& document);
/// The channel's incoming side given the outgoing side's speed, by its first handle or its first value; an empty text,
/// or why it could not be met.
QString matchSpeed(Document& document, int cut, int move, int channel, bool keepValues = true);
QString matchAll(Document& document, int cut);
/// What matching at the rate of a result has done.
void putMatched(Document& document, const CurvesMatched& matched);

} // namespace virga
