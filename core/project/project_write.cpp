// The project as a JSON document.
#include <algorithm>
#include <fmt/format.h>

#include "core/project/json_names.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

using json = nlohmann::json;
namespace fs = std::filesystem;

json toJson(const Shutter& s) {
    return {{"angle", s.angle}, {"phase", s.phase ? json(*s.phase) : json(nullptr)}, {"samples", s.samples}};
}
json toJson(const Handle& h) {
    return {{"reach", h.reach}, {"rise", h.rise}};
}

json toJson(const Curve& curve) {
    json keys = json::array();
    for (const Key& k : curve.keys)
        keys.push_back({{"time", k.time},
                        {"value", k.value},
                        {"next", interpolationNames[int(k.next)]},
                        {"leave", toJson(k.leave)},
                        {"arrive", toJson(k.arrive)}});
    return keys;
}

// A parameter that is chosen among words stands in the file as its word.
json parameterValue(const ParameterInfo& info, double value) {
    if (info.look == ParameterInfo::Look::Switch) return value > 0;
    if (info.choices.empty()) return value;
    return info.choices[std::size_t(std::clamp(value, 0.0, double(info.choices.size() - 1)))];
}

json toJson(const Move& m) {
    json move = json::object();
    // An unknown kind keeps what its file had.
    if (!m.foreign.empty()) move = json::parse(m.foreign, nullptr, false);
    if (!move.is_object()) move = json::object();
    move["id"] = m.id;
    move["kind"] = m.kindName;
    move["enabled"] = m.enabled;
    move["solo"] = m.solo;
    if (m.kind == MoveKind::Unknown) return move;
    const MoveInfo& info = moveInfo(m.kind);
    json channels = json::array(), parameters = json::object();
    for (std::size_t c = 0; c < m.channels.size() && c < info.channels.size(); ++c)
        channels.push_back({{"name", info.channels[c].name},
                            {"outgoing", toJson(m.channels[c].outgoing)},
                            {"incoming", toJson(m.channels[c].incoming)}});
    for (std::size_t i = 0; i < m.parameters.size() && i < info.parameters.size(); ++i)
        parameters[std::string(info.parameters[i].name)] = parameterValue(info.parameters[i], m.parameters[i]);
    move["even"] = m.even;
    move["holds"] = m.holds;
    move["clock"] = m.clock;
    move["anchor"] = {m.anchor.x, m.anchor.y};
    move["channels"] = std::move(channels);
    move["parameters"] = std::move(parameters);
    return move;
}

json toJson(const Stack& stack) {
    json moves = json::array();
    for (const Move& m : stack) moves.push_back(toJson(m));
    return moves;
}

json point(const Point& p) {
    return {p.x, p.y};
}

json toJson(const Crop& c) {
    return {{"left", c.left}, {"top", c.top}, {"right", c.right}, {"bottom", c.bottom}};
}

json toJson(const Transition& t) {
    return {{"moves", toJson(t.moves)},
            {"overlap", {{"before", t.overlap.before}, {"after", t.overlap.after}}},
            {"top", t.top == Side::Outgoing ? "outgoing" : "incoming"},
            {"shutter", t.shutter ? toJson(*t.shutter) : json(nullptr)},
            {"ignored", t.ignored}};
}

json toJson(const Clip& c) {
    return {{"id", c.id},
            {"media", c.mediaId},
            {"name", c.name},
            {"sourceIn", toText(c.sourceIn)},
            {"length", c.length},
            {"speed", toText(c.speed)},
            {"fit", nameOf(c.fit)},
            {"crop", toJson(c.crop)},
            {"placement",
             {{"scale", c.placement.scale},
              {"position", point(c.placement.position)},
              {"anchor", point(c.placement.anchor)}}},
            {"edges", c.edges ? json(nameOf(*c.edges)) : json(nullptr)},
            {"shutter", c.shutter ? toJson(*c.shutter) : json(nullptr)},
            {"gain", c.gain},
            {"muted", c.muted},
            {"deinterlace", c.deinterlace},
            {"drift", toJson(c.drift)},
            {"transition", toJson(c.transition)}};
}

json toJson(const Tempo& t) {
    json placed = json::array();
    for (const auto& [beat, at] : t.placed) placed.push_back({{"beat", beat}, {"seconds", at}});
    return {{"beatsPerMinute", t.beatsPerMinute},
            {"firstBeat", toText(t.firstBeat)},
            {"beatsPerBar", t.beatsPerBar},
            {"placed", placed}};
}

json toJson(const Music& m) {
    return {{"id", m.id},
            {"media", m.mediaId},
            {"start", m.start},
            {"sourceIn", toText(m.sourceIn)},
            {"length", m.length},
            {"gain", m.gain},
            {"fadeIn", m.fadeIn},
            {"fadeOut", m.fadeOut},
            {"tempo", m.tempo ? toJson(*m.tempo) : json(nullptr)}};
}

json toJson(const Adjustment& a) {
    return {{"id", a.id},         {"name", a.name},           {"start", a.start},
            {"length", a.length}, {"moves", toJson(a.moves)}, {"bars", a.bars ? json(*a.bars) : json(nullptr)}};
}

std::string pathText(const fs::path& path, const fs::path& folder) {
    if (folder.empty()) return path.generic_string();
    const fs::path relative = path.lexically_relative(folder);
    const std::string text = relative.generic_string();
    return text.empty() || text.starts_with("../../..") ? path.generic_string() : text;
}

bool isUtf8(const std::string& text) {
    try {
        (void)json(text).dump();
        return true;
    } catch (const json::exception&) {
        return false;
    }
}

// A name that is not UTF-8 cannot stand in a JSON text: its odd bytes as %XX.
std::string pathBytes(const std::string& path) {
    if (isUtf8(path)) return {};
    std::string text;
    for (const unsigned char c : path)
        text += c < 0x20 || c > 0x7e || c == '%' ? fmt::format("%{:02X}", c) : std::string(1, char(c));
    return text;
}

json toJson(const Media& m, const fs::path& folder) {
    return {{"id", m.id},
            {"path", pathText(m.path, folder)},
            {"pathBytes", pathBytes(pathText(m.path, folder))},
            {"width", m.size.width},
            {"height", m.size.height},
            {"pixelAspect", toText(m.pixelAspect)},
            {"rate", toText(m.rate)},
            {"duration", toText(m.duration)},
            {"still", m.still},
            {"sound", m.sound},
            {"interlaced", m.interlaced},
            {"colour", m.colour},
            {"fingerprint", m.fingerprint},
            {"timecode", toText(m.timecode)},
            {"bars", m.bars ? toJson(*m.bars) : json(nullptr)}};
}

} // namespace

json documentOf(const Project& project, const fs::path& folder) {
    json media = json::array(), reel = json::array(), overlays = json::array(), adjustments = json::array(),
         music = json::array(), markers = json::array();
    for (const Media& m : project.media) media.push_back(toJson(m, folder));
    for (const Clip& c : project.reel) reel.push_back(toJson(c));
    for (const Overlay& o : project.overlays) {
        json overlay = toJson(o.clip);
        overlay["start"] = o.start;
        overlay["row"] = o.row;
        overlays.push_back(std::move(overlay));
    }
    for (const Adjustment& a : project.adjustments) adjustments.push_back(toJson(a));
    for (const Music& m : project.music) music.push_back(toJson(m));
    for (const Marker& m : project.markers) markers.push_back({{"id", m.id}, {"frame", m.frame}, {"name", m.name}});
    const Settings& s = project.settings;
    return {{"format", "virga-project"},
            {"version", projectVersion},
            {"name", project.name},
            {"settings",
             {{"width", s.size.width},
              {"height", s.size.height},
              {"rate", toText(s.rate)},
              {"shutter", toJson(s.shutter)},
              {"edges", nameOf(s.edges)},
              {"copies", s.copies},
              {"startFrame", s.startFrame ? json(*s.startFrame) : json(nullptr)}}},
            {"media", media},
            {"reel", reel},
            {"overlays", overlays},
            {"adjustments", adjustments},
            {"music", music},
            {"markers", markers},
            {"notes", project.notes}};
}

} // namespace virga
