#include "app/commands/cut_commands.h"

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

void addMove(Document& document, StackPlace place, MoveKind kind) {
    const auto& info = moveInfo(kind);
    document.apply(QObject::tr("add %1").arg(QString::fromUtf8(info.label.data(), int(info.label.size())).toLower()),
                   withMoveAdded(*document.project(), place, kind));
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
    document.apply(even ? QObject::tr("even zoom") : QObject::tr("plain zoom"),
                   withMoveChanged(*document.project(), place, move, *changed));
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
