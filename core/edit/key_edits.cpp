#include "core/edit/key_edits.h"

#include <cmath>

#include <algorithm>

#include "core/curve/curve_edit.h"

namespace virga {

std::vector<CurveKeys> byCurve(const Project& project, const KeySet& keys) {
    std::vector<CurveKeys> groups;
    std::size_t last = 0; // keys of a curve mostly follow each other
    for (const KeyAddress& k : keys) {
        if (!hasCurve(project, k.curve) || k.key < 0 || k.key >= int(curveAt(project, k.curve).keys.size())) continue;
        if (last >= groups.size() || groups[last].curve != k.curve) {
            const auto at =
                std::find_if(groups.begin(), groups.end(), [&](const CurveKeys& g) { return g.curve == k.curve; });
            last = std::size_t(at - groups.begin());
            if (at == groups.end()) groups.push_back({k.curve, {}});
        }
        groups[last].keys.push_back(k.key);
    }
    for (CurveKeys& g : groups) {
        std::sort(g.keys.begin(), g.keys.end());
        g.keys.erase(std::unique(g.keys.begin(), g.keys.end()), g.keys.end());
    }
    return groups;
}

KeySet keysOf(const Project& project, const CurveAddress& at) {
    KeySet keys;
    if (hasCurve(project, at))
        for (int i = 0; i < int(curveAt(project, at).keys.size()); ++i) keys.push_back({at, i});
    return keys;
}

KeySet keysOfLane(const Project& project, StackPlace place, int move, int channel) {
    KeySet keys = keysOf(project, {place, move, channel, Side::Outgoing});
    const KeySet more = keysOf(project, {place, move, channel, Side::Incoming});
    keys.insert(keys.end(), more.begin(), more.end());
    return keys;
}

KeySet keysOfStack(const Project& project, StackPlace place) {
    KeySet keys;
    if (const Stack* stack = stackAt(project, place))
        for (int m = 0; m < int(stack->size()); ++m)
            for (int c = 0; c < int((*stack)[std::size_t(m)].channels.size()); ++c) {
                const KeySet more = keysOfLane(project, place, m, c);
                keys.insert(keys.end(), more.begin(), more.end());
            }
    return keys;
}

Project withGroupsChanged(const Project& project, const KeySet& keys, const GroupChange& change) {
    std::vector<std::pair<CurveAddress, Curve>> changed;
    for (const CurveKeys& g : byCurve(project, keys))
        changed.push_back({g.curve, withinRange(change(curveAt(project, g.curve), g.keys, g.curve),
                                                channelInfoAt(project, g.curve))});
    return withCurves(project, changed);
}

Project withKeysRemoved(const Project& project, const KeySet& keys) {
    return withGroupsChanged(project, keys, [](const Curve& curve, const KeyGroup& group, const CurveAddress&) {
        Curve out = curve;
        for (auto i = group.rbegin(); i != group.rend(); ++i) out = withKeyRemoved(out, *i);
        return out;
    });
}

Project withValueAt(const Project& project, const CurveAddress& at, double time, double value) {
    if (!hasCurve(project, at)) return project;
    const ChannelInfo& info = channelInfoAt(project, at);
    Curve curve = curveAt(project, at);
    int key = -1;
    double nearest = 0.5;
    for (int i = 0; i < int(curve.keys.size()); ++i)
        if (const double off = std::abs(curve.keys[std::size_t(i)].time - time); off < nearest) nearest = off, key = i;
    if (key < 0) curve = withKeyAdded(curve, time, info.neutral, &key);
    return withCurve(
        project, at,
        withKeyMoved(curve, key, curve.keys[std::size_t(key)].time, std::clamp(value, info.lowest, info.highest)));
}

Curve withinRange(Curve curve, const ChannelInfo& info) {
    for (int i = 0; i < int(curve.keys.size()); ++i) {
        const Key& k = curve.keys[std::size_t(i)];
        if (k.value < info.lowest || k.value > info.highest)
            curve = withKeyMoved(curve, i, k.time, std::clamp(k.value, info.lowest, info.highest));
    }
    return curve;
}

Project withOtherSideMirrored(const Project& project, const CurveAddress& from, bool turned) {
    if (!hasCurve(project, from) || from.place.kind == StackPlace::Drift) return project;
    CurveAddress to = from;
    to.side = from.side == Side::Outgoing ? Side::Incoming : Side::Outgoing;
    Curve curve = mirroredAboutCut(curveAt(project, from));
    if (turned) curve = flipped(curve, channelInfoAt(project, from).neutral);
    return withCurve(project, to, withinRange(curve, channelInfoAt(project, to)));
}

} // namespace virga
