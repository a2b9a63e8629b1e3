#include "app/commands/key_commands.h"

#include <algorithm>
#include <cmath>

#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"

namespace virga {
namespace {

void change(Document& document, const QString& name, const KeySet& keys, const GroupChange& how,
            const QString& mergeKey = {}) {
    document.apply(name, withGroupsChanged(*document.project(), keys, how), mergeKey);
}

QString mergeKeyOf(const char* what, const KeySet& keys) {
    QString text = QString::fromLatin1(what);
    for (const KeyAddress& k : keys)
        text += QStringLiteral("|%1-%2-%3-%4-%5-%6")
                    .arg(int(k.curve.place.kind))
                    .arg(k.curve.place.index)
                    .arg(k.curve.move)
                    .arg(k.curve.channel)
                    .arg(int(k.curve.side))
                    .arg(k.key);
    return text;
}

double timeOf(const Curve& curve, int key) {
    return curve.keys[std::size_t(key)].time;
}

} // namespace

void deleteKeys(Document& document, const KeySet& keys) {
    document.apply(keys.size() > 1 ? QObject::tr("delete keys") : QObject::tr("delete key"),
                   withKeysRemoved(*document.project(), keys));
}

void nudgeKeys(Document& document, const KeySet& keys, double frames, double steps) {
    const auto project = document.project();
    change(
        document, keys.size() > 1 ? QObject::tr("move keys") : QObject::tr("move key"), keys,
        [&](const Curve& curve, const KeyGroup& group, const CurveAddress& at) {
            const ChannelInfo& info = channelInfoAt(*project, at);
            Curve out = frames == 0 ? curve : withGroupMoved(curve, group, frames, 0);
            if (steps != 0)
                for (const int i : group) {
                    const double value = out.keys[std::size_t(i)].value + steps * info.step;
                    out = withKeyMoved(out, i, timeOf(out, i),
                                       std::clamp(std::round(value * 1e6) / 1e6, info.lowest, info.highest));
                }
            return out;
        },
        mergeKeyOf("nudge", keys));
}

void setKeyValues(Document& document, const KeySet& keys, double value) {
    change(
        document, keys.size() > 1 ? QObject::tr("change keys") : QObject::tr("change key"), keys,
        [&](const Curve& curve, const KeyGroup& group, const CurveAddress&) {
            Curve out = curve;
            for (const int i : group) out = withKeyMoved(out, i, timeOf(out, i), value);
            return out;
        },
        mergeKeyOf("type-value", keys));
}

void setKeyTime(Document& document, const KeyAddress& key, double time) {
    change(
        document, QObject::tr("change key"), {key},
        [&](const Curve& curve, const KeyGroup& group, const CurveAddress&) {
            return withKeyMoved(curve, group.front(), time, curve.keys[std::size_t(group.front())].value);
        },
        mergeKeyOf("type-time", {key}));
}

void reverseKeys(Document& document, const KeySet& keys) {
    change(document, QObject::tr("reverse in time"), keys,
           [](const Curve& c, const KeyGroup& g, const CurveAddress&) { return reversed(c, g); });
}

void flipKeys(Document& document, const KeySet& keys) {
    const auto project = document.project();
    change(document, QObject::tr("flip in value"), keys,
           [&](const Curve& c, const KeyGroup& g, const CurveAddress& at) {
               return flippedGroup(c, g, channelInfoAt(*project, at).neutral);
           });
}

void stretchKeys(Document& document, const KeySet& keys, double factor) {
    change(document, factor > 1 ? QObject::tr("stretch") : QObject::tr("shrink"), keys,
           [&](const Curve& c, const KeyGroup& g, const CurveAddress& at) {
               return stretched(c, g, timeOf(c, at.side == Side::Outgoing ? g.back() : g.front()), factor);
           });
}

void spreadKeys(Document& document, const KeySet& keys) {
    const auto project = document.project();
    change(document, QObject::tr("spread to the whole clip"), keys,
           [&](const Curve& c, const KeyGroup& g, const CurveAddress& at) {
               const SideSpan span = sideSpan(*project, at.place, at.side);
               return spread(c, g, span.from, span.to);
           });
}

void endKeysPastCut(Document& document, const KeySet& keys) {
    change(document, QObject::tr("last key past the cut"), keys,
           [](const Curve& c, const KeyGroup&, const CurveAddress& at) {
               return at.side == Side::Outgoing ? endingPastCut(c) : c;
           });
}

void evenOutKeys(Document& document, const KeySet& keys) {
    change(document, QObject::tr("even out"), keys,
           [](const Curve& c, const KeyGroup& g, const CurveAddress&) { return evenedOut(c, g); });
}

void smoothKeys(Document& document, const KeySet& keys) {
    change(document, QObject::tr("smooth"), keys,
           [](const Curve& c, const KeyGroup& g, const CurveAddress&) { return smoothed(c, g); });
}

void mirrorKeys(Document& document, const KeySet& keys, bool carryOn) {
    Project next = *document.project();
    for (const CurveKeys& g : byCurve(next, keys)) next = withOtherSideMirrored(next, g.curve, carryOn);
    document.apply(carryOn ? QObject::tr("carry on at the other side") : QObject::tr("mirror to the other side"),
                   std::move(next));
}

std::vector<Stretch> stretchesOf(const Project& project, const KeySet& keys) {
    std::vector<Stretch> stretches;
    for (const CurveKeys& g : byCurve(project, keys)) {
        const Curve& curve = curveAt(project, g.curve);
        const int last = int(curve.keys.size()) - 1;
        if (last < 1) continue;
        if (g.keys.size() == 1) {
            const KeyRun run = runAround(curve, std::min(g.keys.front(), last - 1));
            stretches.push_back({g.curve, run.first, run.last});
            continue;
        }
        // Later keys first: what is laid on a stretch changes the numbers of those behind it only.
        for (std::size_t i = g.keys.size() - 1; i > 0; --i) {
            const KeyRun run = runAround(curve, g.keys[i] - 1);
            if (!stretches.empty() && stretches.back().curve == g.curve && stretches.back().first <= run.first)
                continue; // the same run once more
            stretches.push_back({g.curve, run.first, run.last});
        }
    }
    return stretches;
}

Project withEasingOn(const Project& project, const std::vector<Stretch>& stretches, const Easing& easing) {
    Project out = project;
    for (const Stretch& s : stretches)
        if (hasCurve(out, s.curve))
            out = withCurve(
                out, s.curve,
                withinRange(withEasing(curveAt(out, s.curve), s.first, s.last, easing), channelInfoAt(out, s.curve)));
    return out;
}

void setEasing(Document& document, const std::vector<Stretch>& stretches, const Easing& easing, const QString& name) {
    document.apply(name, withEasingOn(*document.project(), stretches, easing));
}

Expected<KeySet> pasteKeys(Document& document, const std::string& text, const PasteTarget& target) {
    auto pasted = withKeysPasted(*document.project(), text, target);
    if (!pasted) return tl::unexpected(pasted.error());
    document.apply(QObject::tr("paste keys"), std::move(pasted->project));
    return pasted->keys;
}

} // namespace virga
