#include "core/project/project_json.h"
#include "core/project/json_names.h"
#include "core/project/limits.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

namespace virga {
namespace {

using json = nlohmann::json;
namespace fs = std::filesystem;

template <typename Enum, std::size_t N>
Enum enumNamed(const std::string_view (&names)[N], const std::string& name, Enum otherwise) {
    const auto at = std::find(std::begin(names), std::end(names), name);
    return at == std::end(names) ? otherwise : Enum(at - std::begin(names));
}

// ---- reading

Rational rationalIn(const json& object, const char* key, Rational otherwise = 0) {
    const auto at = object.find(key);
    if (at == object.end() || !at->is_string()) return otherwise;
    return rationalFromText(at->get<std::string>()).value_or(otherwise);
}

Point pointIn(const json& object, const char* key, Point otherwise) {
    const auto at = object.find(key);
    return at == object.end() ? otherwise : Point((*at)[0].get<double>(), (*at)[1].get<double>());
}

Shutter shutterFrom(const json& j) {
    Shutter s;
    s.angle = j.value("angle", 180.0);
    if (j.contains("phase") && j["phase"].is_number()) s.phase = j["phase"].get<double>();
    s.samples = j.value("samples", 0);
    return s;
}

std::optional<Shutter> optionalShutter(const json& j) {
    if (!j.contains("shutter") || !j["shutter"].is_object()) return std::nullopt;
    return shutterFrom(j["shutter"]);
}

Handle handleFrom(const json& key, const char* name) {
    if (!key.contains(name)) return {};
    return {key[name].value("reach", 1.0 / 3), key[name].value("rise", 0.0)};
}

Curve curveFrom(const json& j, Space space) {
    Curve curve;
    curve.space = space;
    for (const json& k : j)
        curve.keys.push_back({k["time"].get<double>(), k["value"].get<double>(),
                              enumNamed(interpolationNames, k.value("next", "eased"), Interpolation::Eased),
                              handleFrom(k, "leave"), handleFrom(k, "arrive")});
    std::stable_sort(curve.keys.begin(), curve.keys.end(), [](const Key& a, const Key& b) { return a.time < b.time; });
    curve.keys.erase(std::unique(curve.keys.begin(), curve.keys.end(),
                                 [](const Key& a, const Key& b) { return b.time - a.time < 1e-6; }),
                     curve.keys.end());
    return curve;
}

// Out of range, or of another kind than it should be: as it is at first.
double parameterFrom(const json& parameters, const ParameterInfo& info) {
    const auto at = parameters.find(info.name);
    if (at == parameters.end()) return info.initial;
    if (at->is_boolean()) return at->get<bool>() ? 1 : 0;
    if (at->is_string()) {
        const auto word = std::find(info.choices.begin(), info.choices.end(), at->get<std::string>());
        return word == info.choices.end() ? info.initial : double(word - info.choices.begin());
    }
    return at->is_number() ? std::clamp(at->get<double>(), info.lowest, info.highest) : info.initial;
}

Move moveFrom(const json& j) {
    const std::string kindName = j["kind"];
    Move m = makeMove(moveKindNamed(kindName).value_or(MoveKind::Unknown), j["id"]);
    m.kindName = kindName;
    m.enabled = j.value("enabled", true);
    m.solo = j.value("solo", false);
    if (m.kind == MoveKind::Unknown) {
        m.foreign = j.dump();
        return m;
    }
    const MoveInfo& info = moveInfo(m.kind);
    m.even = j.value("even", info.evenAtFirst);
    m.holds = j.value("holds", false);
    m.clock = j.value("clock", 0.0);
    m.anchor = pointIn(j, "anchor", m.anchor);
    if (const auto parameters = j.find("parameters"); parameters != j.end() && parameters->is_object())
        for (std::size_t i = 0; i < info.parameters.size(); ++i)
            m.parameters[i] = parameterFrom(*parameters, info.parameters[i]);
    for (std::size_t c = 0; c < info.channels.size(); ++c) {
        m.channels[c].outgoing.space = m.channels[c].incoming.space = spaceOf(m, int(c));
        for (const json& channel : j.value("channels", json::array())) {
            if (channel.value("name", "") != info.channels[c].name) continue;
            if (channel.contains("outgoing"))
                m.channels[c].outgoing = curveFrom(channel["outgoing"], spaceOf(m, int(c)));
            if (channel.contains("incoming"))
                m.channels[c].incoming = curveFrom(channel["incoming"], spaceOf(m, int(c)));
        }
    }
    return m;
}

Stack stackFrom(const json& moves) {
    Stack stack;
    for (const json& j : moves) stack.push_back(moveFrom(j));
    return stack;
}

Crop cropFrom(const json& j) {
    return {j.value("left", 0.0), j.value("top", 0.0), j.value("right", 0.0), j.value("bottom", 0.0)};
}

Clip clipFrom(const json& j) {
    Clip c;
    c.id = j["id"];
    c.mediaId = j["media"];
    c.name = j.value("name", "");
    c.sourceIn = rationalIn(j, "sourceIn");
    c.length = j["length"];
    c.speed = std::clamp(rationalIn(j, "speed", 1), slowestSpeed, fastestSpeed);
    if (j.contains("crop")) c.crop = cropFrom(j["crop"]);
    if (j.contains("placement")) {
        const json& p = j["placement"];
        c.placement.scale = p.value("scale", 1.0);
        c.placement.position = pointIn(p, "position", c.placement.position);
        c.placement.anchor = pointIn(p, "anchor", c.placement.anchor);
    }
    c.fit = enumNamed(fitNames, j.value("fit", "fill"), Fit::Fill);
    if (j.contains("edges") && j["edges"].is_string()) c.edges = edgesNamed(j["edges"].get<std::string>());
    c.shutter = optionalShutter(j);
    c.gain = j.value("gain", 1.0);
    c.muted = j.value("muted", false);
    c.deinterlace = j.value("deinterlace", true);
    c.drift = stackFrom(j.value("drift", json::array()));
    if (j.contains("transition")) {
        const json& t = j["transition"];
        c.transition.moves = stackFrom(t.value("moves", json::array()));
        c.transition.shutter = optionalShutter(t);
        if (t.contains("overlap"))
            c.transition.overlap = {t["overlap"].value("before", std::int64_t(0)),
                                    t["overlap"].value("after", std::int64_t(0))};
        c.transition.top = t.value("top", "incoming") == "outgoing" ? Side::Outgoing : Side::Incoming;
        c.transition.ignored = t.value("ignored", std::vector<std::string>());
    }
    return c;
}

// Bytes from text in which some stand as %XX; empty where that is not so.
std::string bytesFrom(const std::string& text) {
    std::string bytes;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] != '%') {
            bytes += text[i];
            continue;
        }
        if (i + 2 >= text.size() || !std::isxdigit(static_cast<unsigned char>(text[i + 1])) ||
            !std::isxdigit(static_cast<unsigned char>(text[i + 2])))
            return {};
        const auto byte = std::stoi(text.substr(i + 1, 2), nullptr, 16);
        if (byte == 0) return {};
        bytes += char(byte);
        i += 2;
    }
    return bytes;
}

Media mediaFrom(const json& j, const fs::path& folder) {
    Media m;
    m.id = j["id"];
    const std::string bytes = bytesFrom(j.value("pathBytes", ""));
    m.path = (folder / fs::path(bytes.empty() ? j["path"].get<std::string>() : bytes)).lexically_normal();
    m.size = {j.value("width", 0), j.value("height", 0)};
    m.pixelAspect = rationalIn(j, "pixelAspect", 1);
    if (m.pixelAspect <= Rational(0)) m.pixelAspect = 1;
    m.rate = rationalIn(j, "rate", 25);
    m.duration = rationalIn(j, "duration");
    m.still = j.value("still", false);
    m.sound = j.value("sound", false);
    m.interlaced = j.value("interlaced", false);
    m.colour = j.value("colour", "");
    m.fingerprint = j.value("fingerprint", "");
    m.timecode = rationalIn(j, "timecode");
    if (j.contains("bars") && j["bars"].is_object()) m.bars = cropFrom(j["bars"]);
    return m;
}

// A file that was written by hand may have beats placed out of their order; those are left to the grid.
void keepInOrder(Tempo& tempo) {
    for (auto at = tempo.placed.begin(); at != tempo.placed.end();) {
        const bool ordered = at == tempo.placed.begin() || (std::prev(at)->second < at->second);
        at = ordered ? std::next(at) : tempo.placed.erase(at);
    }
    for (auto at = tempo.placed.begin(); at != tempo.placed.end();) {
        const bool ordered = beatTime(tempo, at->first - 1) < at->second && at->second < beatTime(tempo, at->first + 1);
        at = ordered ? std::next(at) : tempo.placed.erase(at);
    }
}

Music musicFrom(const json& j) {
    Music m;
    m.id = j["id"];
    m.mediaId = j["media"];
    m.start = j.value("start", std::int64_t(0));
    m.sourceIn = rationalIn(j, "sourceIn");
    m.length = j.value("length", std::int64_t(0));
    m.gain = j.value("gain", 1.0);
    m.fadeIn = j.value("fadeIn", std::int64_t(0));
    m.fadeOut = j.value("fadeOut", std::int64_t(0));
    if (j.contains("tempo") && j["tempo"].is_object()) {
        const json& t = j["tempo"];
        m.tempo = Tempo{t.value("beatsPerMinute", 120.0), rationalIn(t, "firstBeat"), t.value("beatsPerBar", 4), {}};
        for (const json& beat : t.value("placed", json::array())) m.tempo->placed[beat["beat"]] = beat["seconds"];
        keepInOrder(*m.tempo);
    }
    return m;
}

Overlay overlayFrom(const json& j) {
    Overlay o;
    o.clip = clipFrom(j);
    o.start = j.value("start", std::int64_t(0));
    o.row = j.value("row", 0);
    return o;
}

Adjustment adjustmentFrom(const json& j) {
    Adjustment a;
    a.id = j["id"];
    a.name = j.value("name", "");
    a.start = j.value("start", std::int64_t(0));
    a.length = j["length"];
    if (j.contains("bars") && j["bars"].is_number()) a.bars = j["bars"].get<double>();
    a.moves = stackFrom(j.value("moves", json::array()));
    return a;
}

Marker markerFrom(const json& j) {
    return {j["id"], j["frame"], j.value("name", "")};
}

void keepUnknown(const json& old, json& now);

// A move's channels go by their names; those that this version does not know stay behind the others.
void keepUnknownChannels(const json& old, json& now) {
    for (const json& o : old) {
        if (!o.is_object()) continue;
        const auto same = std::find_if(now.begin(), now.end(), [&](const json& n) {
            return n.is_object() && n.contains("name") && o.contains("name") && n["name"] == o["name"];
        });
        if (same == now.end())
            now.push_back(o);
        else
            keepUnknown(o, *same);
    }
}

// Puts back what the document that was read had and the new one does not know. Everything known is always written, so a
// missing field is an unknown one. Objects in lists are the same when their ids are; without ids, when lists are
// equally long.
void keepUnknown(const json& old, json& now) {
    if (old.is_object() && now.is_object()) {
        for (const auto& [key, value] : old.items()) {
            if (!now.contains(key))
                now[key] = value;
            else if (key == "channels" && value.is_array() && now[key].is_array())
                keepUnknownChannels(value, now[key]);
            else
                keepUnknown(value, now[key]);
        }
    } else if (old.is_array() && now.is_array()) {
        const bool byPlace = old.size() == now.size();
        for (std::size_t i = 0; i < now.size(); ++i) {
            if (!now[i].is_object()) continue;
            if (!now[i].contains("id")) {
                if (byPlace) keepUnknown(old[i], now[i]);
                continue;
            }
            for (const json& o : old)
                if (o.is_object() && o.contains("id") && o["id"] == now[i]["id"]) keepUnknown(o, now[i]);
        }
    }
}

// What the schema's checker says, in words for people.
std::string plainWords(const std::string& said) {
    const auto quoted = [&]() -> std::string {
        const auto from = said.find('\''), to = said.rfind('\'');
        return from != said.npos && to > from ? said.substr(from + 1, std::min<std::size_t>(to - from - 1, 60)) : "";
    };
    const auto has = [&](const char* words) { return said.find(words) != said.npos; };
    if (has("required")) return fmt::format("\"{}\" is missing here", quoted());
    if (has("type")) return "a value here is of the wrong kind";
    if (has("maximum") || has("less than")) return "a number here is too large";
    if (has("minimum") || has("greater than")) return "a number here is too small";
    if (has("pattern") || has("regex")) return "a value here is not a number or a fraction such as 25 or 30000/1001";
    if (has("enum") || has("const")) return "a word here is none of those that are allowed";
    if (has("no more than") || has("too many") || has("characters")) return "there is too much here";
    if (has("no fewer than") || has("at least")) return "there is too little here";
    return "a value here is not what it should be";
}

Expected<void> validate(const json& document, const std::string& file) {
    static const auto schema = [] {
        auto made = std::make_unique<valijson::Schema>();
        static const json text = json::parse(projectSchemaText);
        valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(text), *made);
        return made;
    }();
    valijson::Validator validator;
    valijson::ValidationResults results;
    if (validator.validate(*schema, valijson::adapters::NlohmannJsonAdapter(document), &results)) return {};
    // The last error raised first is the most general; the deepest context says most about the place.
    valijson::ValidationResults::Error error, deepest;
    while (results.popError(error))
        if (error.context.size() >= deepest.context.size()) deepest = error;
    std::string place;
    for (std::size_t i = 1; i < deepest.context.size(); ++i) {
        std::string part = deepest.context[i]; // "[reel]" or "[0]"
        if (part.size() > 2 && part.front() == '[') part = part.substr(1, part.size() - 2);
        place += "/" + part;
    }
    const std::string why = plainWords(deepest.description);
    return fail(ErrorCode::Unreadable, "is not a valid Virga project: " + why,
                file + (place.empty() ? "" : " at " + place),
                "mend this place in a text editor, or open the autosave beside it; the file was not changed");
}

} // namespace

std::string_view nameOf(EdgeFill edges) {
    return edgeNames[int(edges)];
}
std::string_view nameOf(Fit fit) {
    return fitNames[int(fit)];
}
std::optional<EdgeFill> edgesNamed(std::string_view name) {
    const auto at = std::find(std::begin(edgeNames), std::end(edgeNames), name);
    if (at == std::end(edgeNames)) return std::nullopt;
    return EdgeFill(at - std::begin(edgeNames));
}

json toJson(const Project& project, const fs::path& folder) {
    json document = documentOf(project, folder);
    if (project.unknown) keepUnknown(project.unknown->document, document);
    return document;
}

Expected<Project> fromJson(json document, const fs::path& folder, const std::string& file) {
    if (document.is_object() && document.contains("format") && document["format"] == "virga-project" &&
        document.contains("version") && document["version"].is_number_integer() && document["version"] > projectVersion)
        return fail(ErrorCode::Unsupported,
                    fmt::format("was saved by a newer Virga (file version {}, this one knows {})",
                                document["version"].get<long>(), projectVersion),
                    file, "open it with that version; the file was not changed");
    if (auto valid = validate(document, file); !valid) return tl::unexpected(valid.error());
    Project project;
    project.name = document.value("name", "");
    const json& s = document["settings"];
    project.settings.size = {s["width"].get<int>(), s["height"].get<int>()};
    project.settings.rate = rationalIn(s, "rate", 25);
    if (!isUsableRate(project.settings.rate))
        return fail(ErrorCode::Unreadable, "the frame rate is not between 1 and 1000", file + " at /settings/rate",
                    "write a rate such as 25 or 30000/1001");
    if (s.contains("shutter")) project.settings.shutter = shutterFrom(s["shutter"]);
    project.settings.edges = edgesNamed(s.value("edges", "mirror")).value_or(EdgeFill::Mirror);
    project.settings.copies = s.value("copies", 0);
    if (s.contains("startFrame") && s["startFrame"].is_number_integer()) project.settings.startFrame = s["startFrame"];
    for (const json& m : document["media"]) project.media.push_back(mediaFrom(m, folder));
    for (const json& c : document["reel"]) project.reel.push_back(clipFrom(c));
    for (const json& m : document.value("music", json::array())) project.music.push_back(musicFrom(m));
    for (const json& o : document.value("overlays", json::array())) project.overlays.push_back(overlayFrom(o));
    for (const json& a : document.value("adjustments", json::array())) project.adjustments.push_back(adjustmentFrom(a));
    for (const json& m : document.value("markers", json::array())) project.markers.push_back(markerFrom(m));
    project.notes = document.value("notes", std::vector<std::string>());
    const auto lacks = [&](const Clip& clip, std::string_view list, std::size_t i) {
        return fail(ErrorCode::Unreadable,
                    fmt::format("a clip names the media \"{}\", which is not in the list", clip.mediaId),
                    fmt::format("{} at /{}/{}/media", file, list, i),
                    "mend this place in a text editor; the file was not changed");
    };
    for (std::size_t i = 0; i < project.reel.size(); ++i)
        if (!project.reel[i].isGap() && !findMedia(project, project.reel[i].mediaId))
            return lacks(project.reel[i], "reel", i);
    for (std::size_t i = 0; i < project.overlays.size(); ++i)
        if (!findMedia(project, project.overlays[i].clip.mediaId))
            return lacks(project.overlays[i].clip, "overlays", i);
    // What the schema cannot say: fractions beyond what a piece may hold.
    std::vector<std::string> beyond;
    Project held = withinLimits(project, &beyond);
    if (!beyond.empty())
        return fail(ErrorCode::Unreadable, "is not a valid Virga project: " + beyond.front(), file,
                    "mend this place in a text editor; the file was not changed");
    project = std::move(held);
    auto unknown = std::make_shared<UnknownFields>();
    unknown->document = std::move(document);
    project.unknown = std::move(unknown);
    return project;
}

} // namespace virga
