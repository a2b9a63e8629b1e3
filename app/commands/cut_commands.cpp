#include "app/commands/cut_commands.h"

#include "app/document/words.h"

#include "core/flow/carry_on.h"

namespace virga {
namespace {

QString applyExpected(Document& document, const QString& name, Expected<Project> next) {
    if (!next) return QString::fromStdString(describe(next.error()));
    document.apply(name, std::move(*next));
    return {};
}

} // namespace

void applyRecipe(Document& document, int cut, const Recipe& recipe, bool opposite) {
    document.apply(QObject::tr("recipe %1").arg(QString::fromStdString(recipe.label)),
                   withRecipe(*document.project(), cut, recipe, opposite));
}

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

void ignoreFinding(Document& document, int cut, const std::string& name) {
    Transition transition = transitionAt(*document.project(), cut);
    transition.ignored.push_back(name);
    document.apply(QObject::tr("ignore finding"), withTransition(*document.project(), cut, transition));
}

QString applyFix(Document& document, const Fix& fix) {
    return applyExpected(document, QString::fromStdString(fix.label).toLower(), fix.apply(*document.project()));
}

QString matchSpeed(Document& document, int cut, int move, int channel, bool keepValues) {
    return applyExpected(document, QObject::tr("match speed"),
                         withSpeedMatched(*document.project(), cut, move, channel, keepValues));
}

QString matchAll(Document& document, int cut) {
    return applyExpected(document, QObject::tr("match all speeds"), withAllMatched(*document.project(), cut, true));
}

} // namespace virga
