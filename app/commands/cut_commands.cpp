#include "app/commands/cut_commands.h"

#include "app/document/words.h"

#include "core/edit/carry_on.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/edits.h"

namespace virga {
namespace {

QString applyExpected(Document& document, const QString& name, Expected<Project> next) {
    if (!next) return QString::fromStdString(describe(next.error()));
    document.apply(name, std::move(*next));
    return {};
}

} // namespace

void clearTransition(Document& document, int cut) {
    document.apply(QObject::tr("remove the cut's moves"), withTransition(*document.project(), cut, {}));
}

namespace {

QString addingOf(MoveKind kind) {
    const std::string_view name = moveInfo(kind).label;
    return QObject::tr("add %1").arg(textOf(name).toLower());
}

} // namespace

void addMove(Document& document, StackPlace place, MoveKind kind) {
    document.apply(addingOf(kind), withMoveAdded(*document.project(), place, kind));
}

void addUsualMove(Document& document, StackPlace place, MoveKind kind) {
    document.apply(addingOf(kind), withUsualMove(*document.project(), place, kind));
}

void removeMove(Document& document, StackPlace place, int move) {
    document.apply(QObject::tr("remove move"), withoutMove(*document.project(), place, move));
}

namespace {

// A move that is there, to be changed.
std::optional<Move> moveAt(const Document& document, StackPlace place, int move) {
    const Stack* stack = stackAt(*document.project(), place);
    if (!stack || move < 0 || move >= int(stack->size())) return std::nullopt;
    return (*stack)[std::size_t(move)];
}

} // namespace

void setMoveEnabled(Document& document, StackPlace place, int move, bool enabled) {
    auto changed = moveAt(document, place, move);
    if (!changed) return;
    changed->enabled = enabled;
    document.apply(enabled ? QObject::tr("turn move on") : QObject::tr("turn move off"),
                   withMoveChanged(*document.project(), place, move, *changed));
}

void setMoveSolo(Document& document, StackPlace place, int move, bool solo) {
    document.apply(solo ? QObject::tr("solo move") : QObject::tr("end solo"),
                   withSolo(*document.project(), place, move, solo));
}

void moveInStack(Document& document, StackPlace place, int from, int to) {
    document.apply(QObject::tr("reorder moves"), withMoveReordered(*document.project(), place, from, to));
}

void setEvenZoom(Document& document, StackPlace place, int move, bool even) {
    auto changed = moveAt(document, place, move);
    if (!changed) return;
    changed->even = even;
    const std::string_view name = moveInfo(changed->kind).even;
    document.apply(even ? textOf(name) : QObject::tr("plain interpolation"),
                   withMoveChanged(*document.project(), place, move, *changed));
}

void setHolds(Document& document, StackPlace place, int move, bool holds) {
    auto changed = moveAt(document, place, move);
    if (!changed) return;
    changed->holds = holds;
    document.apply(holds ? QObject::tr("hold at the ends") : QObject::tr("run on at the ends"),
                   withMoveChanged(*document.project(), place, move, *changed));
}

void setMoveParameter(Document& document, StackPlace place, int move, int parameter, double value) {
    auto changed = moveAt(document, place, move);
    if (!changed || parameter < 0 || parameter >= int(changed->parameters.size())) return;
    changed->parameters[std::size_t(parameter)] = value;
    const std::string_view name = moveInfo(changed->kind).parameters[std::size_t(parameter)].label;
    document.apply(
        QObject::tr("change %1").arg(textOf(name)), withMoveChanged(*document.project(), place, move, *changed),
        QStringLiteral("parameter-%1-%2-%3").arg(place.index + 100000 * place.kind).arg(move).arg(parameter));
}

void setMoveAnchor(Document& document, StackPlace place, int move, int axis, double value) {
    auto changed = moveAt(document, place, move);
    if (!changed) return;
    (axis == 0 ? changed->anchor.x : changed->anchor.y) = value;
    document.apply(QObject::tr("move the anchor"), withMoveChanged(*document.project(), place, move, *changed),
                   QStringLiteral("anchor-%1-%2-%3").arg(place.index + 100000 * place.kind).arg(move).arg(axis));
}

void setSideValues(Document& document, const CurveAddress& at, double start, double end) {
    const auto project = document.project();
    document.apply(QObject::tr("change value"),
                   withSideValues(*project, at, start, end, usualFrames(*project, at.place, at.side)),
                   QStringLiteral("values-%1-%2-%3-%4")
                       .arg(at.place.index + 100000 * at.place.kind)
                       .arg(at.move)
                       .arg(at.channel)
                       .arg(int(at.side)));
}

void setCurve(Document& document, const CurveAddress& at, const Curve& curve, const QString& name,
              const QString& mergeKey) {
    document.apply(name, withCurve(*document.project(), at, curve), mergeKey);
}

void ignoreFinding(Document& document, const Finding& finding, bool everywhere) {
    Project next = *document.project();
    if (everywhere) {
        next.settings.ignored.push_back(kindOf(finding));
    } else {
        const auto index = indexOf(next, finding.place);
        if (!index) return;
        if (finding.place.kind == FlowPlace::Cut)
            next.reel[std::size_t(*index) + 1].transition.ignored.push_back(finding.name);
        else if (finding.place.kind == FlowPlace::Clip)
            next.reel[std::size_t(*index)].ignored.push_back(finding.name);
        else
            next.overlays[std::size_t(*index)].clip.ignored.push_back(finding.name);
    }
    document.apply(QObject::tr("ignore finding"), std::move(next));
}

QString applyFix(Document& document, const Fix& fix) {
    return applyExpected(document, QString::fromStdString(fix.label).toLower(), fix.apply(*document.project()));
}

void applyMended(Document& document, const Mended& mended) {
    document.apply(QObject::tr("mend all that is safe"), mended.project);
}

QString applyProposal(Document& document, const Proposal& proposal) {
    return applyExpected(document, QObject::tr("continue the movement"), withProposal(*document.project(), proposal));
}

void applyPlan(Document& document, const std::vector<Proposal>& proposals) {
    Project next = *document.project();
    for (const Proposal& p : proposals)
        if (auto with = withProposal(next, p)) next = std::move(*with);
    document.apply(QObject::tr("plan moves"), std::move(next));
}

void setFlowLimits(Document& document, const FlowLimits& limits) {
    Settings settings = document.project()->settings;
    settings.flow = limits;
    document.apply(QObject::tr("limits of the flow check"), withSettings(*document.project(), settings));
}

void reportAgain(Document& document) {
    Project next = *document.project();
    next.settings.ignored.clear();
    for (Clip& clip : next.reel) clip.ignored.clear(), clip.transition.ignored.clear();
    document.apply(QObject::tr("report all findings again"), std::move(next));
}

QString matchSpeed(Document& document, int cut, int move, int channel, bool keepValues) {
    return applyExpected(document, QObject::tr("match speed"),
                         withSpeedMatched(*document.project(), cut, move, channel, keepValues));
}

QString matchAll(Document& document, int cut) {
    return applyExpected(document, QObject::tr("match all speeds"),
                         withAllMatched(*document.project(), cut, Match::ByHandle, document.judgedShots().get()));
}

void clearCurves(Document& document, const std::vector<CurveAddress>& curves, const QString& name) {
    Project next = *document.project();
    for (const CurveAddress& at : curves) next = withCurve(next, at, Curve());
    document.apply(name, std::move(next));
}

void pullSpeed(Document& document, Project pulled, double frame) {
    document.apply(QObject::tr("pull speed"), std::move(pulled), QStringLiteral("pull-all-%1").arg(frame));
}

void zoomOnPicture(Document& document, Project zoomed) {
    document.apply(QObject::tr("zoom on the picture"), std::move(zoomed),
                   QStringLiteral("picture-wheel-%1").arg(document.playhead()));
}

void setCutShutter(Document& document, int cut, const Shutter& shutter, const QString& name) {
    Transition t = transitionAt(*document.project(), cut);
    t.shutter = shutter;
    document.apply(name, withTransition(*document.project(), cut, t), "shutter-cut");
}

void setCutEdges(Document& document, int cut, EdgeFill edges) {
    document.apply(QObject::tr("edges at cut"), withEdgesAt(*document.project(), cut, edges));
}

void setPieceEdges(Document& document, EdgeFill edges) {
    Project next = *document.project();
    next.settings.edges = edges;
    for (Clip& clip : next.reel) clip.edges.reset();
    document.apply(QObject::tr("edges"), std::move(next));
}

void putMatched(Document& document, const CurvesMatched& matched) {
    if (!matched.done.empty()) document.apply(QObject::tr("match frames and curves"), matched.project);
}

} // namespace virga
