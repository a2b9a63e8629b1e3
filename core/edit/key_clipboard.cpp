// Keys as text for the clipboard, and back.
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/json.h"
#include "core/curve/curve_edit.h"
#include "core/edit/key_edits.h"
#include "core/project/json_names.h"

namespace virga {
namespace {

using json = nlohmann::json;

json handle(const Handle& h) {
    return {{"reach", h.reach}, {"rise", h.rise}};
}

struct CopiedCurve {
    MoveKind kind = MoveKind::Unknown;
    std::string channel;
    Side side = Side::Outgoing;
    int nth = 0; // of the moves of its kind in the stack
    Curve curve;
};

double numberIn(const json& j, const char* name, double otherwise) {
    const auto at = j.find(name);
    return at != j.end() && at->is_number() ? at->get<double>() : otherwise;
}

Handle handleFrom(const json& k, const char* name) {
    const auto at = k.find(name);
    if (at == k.end() || !at->is_object()) return {};
    return {std::clamp(numberIn(*at, "reach", 1.0 / 3), 0.0, 1.0), numberIn(*at, "rise", 0)};
}

std::optional<CopiedCurve> curveFrom(const json& j) {
    if (!j.is_object() || !j.contains("keys") || !j["keys"].is_array()) return std::nullopt;
    const auto word = [&](const char* name) {
        return j.contains(name) && j[name].is_string() ? j[name].get<std::string>() : std::string();
    };
    CopiedCurve copied;
    copied.kind = moveKindNamed(word("kind")).value_or(MoveKind::Unknown);
    if (word("kind") == moveInfo(MoveKind::ShotSpeed).name) copied.kind = MoveKind::ShotSpeed;
    copied.channel = word("channel");
    copied.side = word("side") == "incoming" ? Side::Incoming : Side::Outgoing;
    copied.nth = int(std::clamp(numberIn(j, "nth", 0), 0.0, 1000.0));
    for (std::size_t i = 0; i < std::size(spaceNames); ++i)
        if (word("space") == spaceNames[i]) copied.curve.space = Space(i);
    for (const json& k : j["keys"]) {
        if (!k.is_object()) return std::nullopt;
        Key key{numberIn(k, "time", NAN), numberIn(k, "value", NAN), Interpolation::Eased, handleFrom(k, "leave"),
                handleFrom(k, "arrive")};
        if (!std::isfinite(key.time) || !std::isfinite(key.value) || std::abs(key.time) > 1e9) return std::nullopt;
        if (k.contains("next") && k["next"].is_string())
            for (std::size_t i = 0; i < std::size(interpolationNames); ++i)
                if (k["next"] == interpolationNames[i]) key.next = Interpolation(i);
        copied.curve.keys.push_back(key);
    }
    auto& keys = copied.curve.keys;
    std::stable_sort(keys.begin(), keys.end(), [](const Key& a, const Key& b) { return a.time < b.time; });
    keys.erase(std::unique(keys.begin(), keys.end(),
                           [](const Key& a, const Key& b) { return b.time - a.time < smallestKeyGap / 2; }),
               keys.end());
    if (keys.empty() || keys.size() > 100000) return std::nullopt;
    return copied;
}

// The pasted keys with what the curve has outside their span; inside it and on it they replace.
Curve merged(const Curve& curve, const Curve& pasted, KeyGroup* where) {
    Curve out = curve;
    const double from = pasted.keys.front().time - smallestKeyGap / 2,
                 to = pasted.keys.back().time + smallestKeyGap / 2;
    std::erase_if(out.keys, [&](const Key& k) { return k.time >= from && k.time <= to; });
    const auto at = std::find_if(out.keys.begin(), out.keys.end(), [&](const Key& k) { return k.time > from; });
    const int first = int(at - out.keys.begin());
    out.keys.insert(at, pasted.keys.begin(), pasted.keys.end());
    for (int i = 0; i < int(pasted.keys.size()); ++i) where->push_back(first + i);
    return out;
}

int channelNamed(const MoveInfo& info, const std::string& name) {
    for (std::size_t c = 0; c < info.channels.size(); ++c)
        if (info.channels[c].name == name) return int(c);
    return -1;
}

} // namespace

std::string copiedKeys(const Project& project, const KeySet& keys) {
    json curves = json::array();
    for (const CurveKeys& g : byCurve(project, keys)) {
        const Stack& stack = *stackAt(project, g.curve.place);
        const MoveKind kind = kindAt(project, g.curve);
        const Curve& curve = curveAt(project, g.curve);
        json list = json::array();
        for (const int i : g.keys) {
            const Key& k = curve.keys[std::size_t(i)];
            list.push_back({{"time", k.time},
                            {"value", k.value},
                            {"next", interpolationNames[std::size_t(k.next)]},
                            {"leave", handle(k.leave)},
                            {"arrive", handle(k.arrive)}});
        }
        int nth = 0;
        for (int m = 0; m < g.curve.move; ++m) nth += stack[std::size_t(m)].kind == kind;
        curves.push_back({{"kind", g.curve.move == shotSpeed ? std::string(moveInfo(kind).name)
                                                             : stack[std::size_t(g.curve.move)].kindName},
                          {"channel", channelInfoAt(project, g.curve).name},
                          {"side", g.curve.side == Side::Incoming ? "incoming" : "outgoing"},
                          {"space", spaceNames[std::size_t(curve.space)]},
                          {"nth", nth},
                          {"keys", list}});
    }
    return curves.empty() ? std::string() : json{{"virgaClipboard", "keys"}, {"curves", curves}}.dump();
}

bool holdsKeys(const std::string& text) {
    const json copied = parseJson(text, "copied from Virga", "the clipboard").value_or(json());
    return copied.is_object() && copied.contains("virgaClipboard") && copied["virgaClipboard"] == "keys";
}

Expected<PastedKeys> withKeysPasted(const Project& project, const std::string& text, const PasteTarget& target) {
    std::vector<CopiedCurve> copied;
    if (const json all = parseJson(text, "copied from Virga", "the clipboard").value_or(json());
        all.is_object() && all.contains("virgaClipboard") && all["virgaClipboard"] == "keys" &&
        all.contains("curves") && all["curves"].is_array())
        for (const json& j : all["curves"]) {
            auto curve = curveFrom(j);
            if (!curve)
                return fail(ErrorCode::Unreadable, "the keys on the clipboard cannot be read", {}, "copy them again");
            copied.push_back(std::move(*curve));
        }
    if (copied.empty())
        return fail(ErrorCode::BadInput, "there are no keys on the clipboard", {}, "select keys and copy them first");
    if (!stackAt(project, target.curve.place))
        return fail(ErrorCode::BadInput, "there is no lane to paste keys to", {}, "select a cut or a clip first");
    PastedKeys out{project, {}};
    double earliest = 1e300;
    for (CopiedCurve& c : copied) {
        if (target.mirrored) {
            c.curve = mirroredAboutCut(c.curve);
            c.side = c.side == Side::Outgoing ? Side::Incoming : Side::Outgoing;
        }
        earliest = std::min(earliest, c.curve.keys.front().time);
    }
    for (CopiedCurve& c : copied) {
        CurveAddress to = target.curve;
        if (copied.size() > 1 || !hasCurve(project, to)) {
            const MoveInfo& info = moveInfo(c.kind);
            const int channel = channelNamed(info, c.channel);
            if (channel < 0)
                return fail(ErrorCode::Unsupported, "the keys are of a kind of move that is not known here", {}, {});
            to.channel = channel;
            if (hasSide(to.place, c.side)) to.side = c.side;
            to.move = c.kind == MoveKind::ShotSpeed ? shotSpeed : -1;
            if (to.move == shotSpeed) {
                to.side = c.side;
                if (!hasCurve(project, to))
                    return fail(ErrorCode::BadInput, "there is no shot here whose speed could change", {},
                                "select a clip that is not a still");
            }
            for (int wanted = c.nth; to.move == -1;) {
                int nth = 0;
                const Stack& stack = *stackAt(out.project, to.place);
                for (int m = 0; m < int(stack.size()) && to.move == -1; ++m)
                    if (stack[std::size_t(m)].kind == c.kind && nth++ == wanted) to.move = m;
                if (to.move == -1) out.project = withMoveAdded(out.project, to.place, c.kind);
            }
        } else {
            const ChannelInfo& there = channelInfoAt(project, to);
            const MoveInfo& from = moveInfo(c.kind);
            const int channel = channelNamed(from, c.channel);
            const bool sameMove = from.kind == kindAt(project, to);
            if (channel < 0 || (from.channels[std::size_t(channel)].unit != there.unit && !sameMove))
                return fail(
                    ErrorCode::BadInput,
                    "keys of " +
                        std::string(channel < 0 ? "an unknown move" : from.channels[std::size_t(channel)].label) +
                        " do not fit " + std::string(there.label) + ": they count in other units",
                    {}, "copy the shape as CSS text instead, and paste that");
        }
        Curve curve = inSpace(c.curve, curveAt(out.project, to).space);
        if (target.firstAt)
            for (Key& k : curve.keys) k.time += *target.firstAt - earliest;
        KeyGroup where;
        const Curve next = withinRange(merged(curveAt(out.project, to), curve, &where), channelInfoAt(out.project, to));
        out.project = withCurve(out.project, to, next);
        for (const int i : where) out.keys.push_back({to, i});
    }
    return out;
}

} // namespace virga
