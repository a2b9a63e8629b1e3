#pragma once
// Edits of chosen keys, of one curve or of many together. Keys that are not there are left out.
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/curve/key_group.h"
#include "core/edit/move_edits.h"

namespace virga {

struct KeyAddress {
    CurveAddress curve;
    int key = -1;
    bool operator==(const KeyAddress&) const = default;
};
using KeySet = std::vector<KeyAddress>;

/// The chosen keys of each curve, ascending and once each.
struct CurveKeys {
    CurveAddress curve;
    KeyGroup keys;
};
std::vector<CurveKeys> byCurve(const Project& project, const KeySet& keys);

/// All keys of one side, of a channel's both sides, or of a whole stack.
KeySet keysOf(const Project& project, const CurveAddress& at);
KeySet keysOfLane(const Project& project, StackPlace place, int move, int channel);
KeySet keysOfStack(const Project& project, StackPlace place);

/// Each curve that has chosen keys changed by a function of the curve, its chosen keys and its address.
using GroupChange = std::function<Curve(const Curve&, const KeyGroup&, const CurveAddress&)>;
Project withGroupsChanged(const Project& project, const KeySet& keys, const GroupChange& change);

Project withKeysRemoved(const Project& project, const KeySet& keys);

/// A value on one side at a time: the key within half a frame of it is changed, its curve keeping its shape, or one is
/// added there. Kept within the channel's range.
Project withValueAt(const Project& project, const CurveAddress& at, double time, double value);

/// Values clamped to what their channel allows.
Curve withinRange(Curve curve, const ChannelInfo& info);

/// The chosen keys copied to the other side, mirrored about the cut, so that the movement carries on: it leaves as it
/// came in. `turned`: about its value at rest as well. What the other side had is replaced. Only for places with two
/// sides that meet.
Project withOtherSideMirrored(const Project& project, const CurveAddress& from, bool turned);

/// Chosen keys as JSON text for the clipboard: their curves' kinds, channels and sides, times from the sides' own zero.
std::string copiedKeys(const Project& project, const KeySet& keys);
bool holdsKeys(const std::string& text);

/// Where keys are pasted. Keys of one curve go to the target's curve, whatever side they came from, where their unit is
/// the target's; keys of several, and those whose target is no curve, go to the channels of their names on their own
/// sides, moves that are missing are added.
struct PasteTarget {
    CurveAddress curve;
    std::optional<double> firstAt; // the side's own time for the earliest key; unset: as copied
    bool mirrored = false;         // reversed in time about 0 and, for many, onto the other side
};
struct PastedKeys {
    Project project;
    KeySet keys;
};
/// Keys at the very times of pasted ones are replaced. Errors: BadInput where the text holds no keys, or what is the
/// matter with the target.
Expected<PastedKeys> withKeysPasted(const Project& project, const std::string& text, const PasteTarget& target);

} // namespace virga
