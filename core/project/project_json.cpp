#include "core/project/project_json.h"

#include <algorithm>
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

constexpr std::string_view edgeNames[] = {"empty", "hold", "repeat", "mirror"};
constexpr std::string_view fitNames[] = {"fill", "fit", "stretch"};
constexpr std::string_view interpolationNames[] = {"hold", "linear", "eased"};

template <typename Enum, std::size_t N>
Enum enumNamed(const std::string_view (&names)[N], const std::string& name, Enum otherwise) {
    const auto at = std::find(std::begin(names), std::end(names), name);
    return at == std::end(names) ? otherwise : Enum(at - std::begin(names));
}

// ---- writing

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

json toJson(const Stack& stack) {
    json moves = json::array();
    for (const Move& m : stack) {
        json channels = json::array();
        const auto& info = moveInfo(m.kind).channels;
        for (std::size_t c = 0; c < m.channels.size(); ++c)
            channels.push_back({{"name", c < info.size() ? json(info[c].name) : json("")},
                                {"outgoing", toJson(m.channels[c].outgoing)},
                                {"incoming", toJson(m.channels[c].incoming)}});
        json move = {{"id", m.id},
                     {"kind", m.kindName},
                     {"enabled", m.enabled},
                     {"even", m.even},
                     {"anchor", {m.anchor.x, m.anchor.y}}};
        if (m.kind != MoveKind::Unknown) move["channels"] = channels; // an unknown kind keeps what its file had
        moves.push_back(move);
    }
    return moves;
}

std::string pathText(const fs::path& path, const fs::path& folder) {
    const fs::path relative = path.lexically_relative(folder);
    const std::string text = relative.generic_string();
    return text.empty() || text.starts_with("../../..") ? path.generic_string() : text;
}

// ---- reading

Rational rationalIn(const json& object, const char* key, Rational otherwise = 0) {
    const auto at = object.find(key);
    if (at == object.end() || !at->is_string()) return otherwise;
    return rationalFromText(at->get<std::string>()).value_or(otherwise);
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

Stack stackFrom(const json& moves) {
    Stack stack;
    for (const json& j : moves) {
        const std::string kindName = j["kind"];
        Move m = makeMove(moveKindNamed(kindName).value_or(MoveKind::Unknown), j["id"]);
        m.kindName = kindName;
        m.enabled = j.value("enabled", true);
        m.even = j.value("even", true);
        if (j.contains("anchor")) m.anchor = Point(j["anchor"][0].get<double>(), j["anchor"][1].get<double>());
        const auto& info = moveInfo(m.kind).channels;
        for (std::size_t c = 0; c < info.size(); ++c) {
            m.channels[c].outgoing.space = m.channels[c].incoming.space = spaceOf(m, int(c));
            for (const json& channel : j.value("channels", json::array())) {
                if (channel.value("name", "") != info[c].name) continue;
                if (channel.contains("outgoing"))
                    m.channels[c].outgoing = curveFrom(channel["outgoing"], spaceOf(m, int(c)));
                if (channel.contains("incoming"))
                    m.channels[c].incoming = curveFrom(channel["incoming"], spaceOf(m, int(c)));
            }
        }
        stack.push_back(std::move(m));
    }
    return stack;
}

Clip clipFrom(const json& j) {
    Clip c;
    c.id = j["id"];
    c.mediaId = j["media"];
    c.name = j.value("name", "");
    c.sourceIn = rationalIn(j, "sourceIn");
    c.length = j["length"];
    c.fit = enumNamed(fitNames, j.value("fit", "fill"), Fit::Fill);
    if (j.contains("edges") && j["edges"].is_string()) c.edges = edgesNamed(j["edges"].get<std::string>());
    c.shutter = optionalShutter(j);
    c.gain = j.value("gain", 1.0);
    c.muted = j.value("muted", false);
    c.drift = stackFrom(j.value("drift", json::array()));
    if (j.contains("transition")) {
        const json& t = j["transition"];
        c.transition.moves = stackFrom(t.value("moves", json::array()));
        c.transition.shutter = optionalShutter(t);
        c.transition.ignored = t.value("ignored", std::vector<std::string>());
    }
    return c;
}

Media mediaFrom(const json& j, const fs::path& folder) {
    Media m;
    m.id = j["id"];
    m.path = (folder / fs::path(j["path"].get<std::string>())).lexically_normal();
    m.size = {j.value("width", 0), j.value("height", 0)};
    m.pixelAspect = rationalIn(j, "pixelAspect", 1);
    if (m.pixelAspect <= Rational(0)) m.pixelAspect = 1;
    m.rate = rationalIn(j, "rate", 25);
    m.duration = rationalIn(j, "duration");
    m.still = j.value("still", false);
    m.sound = j.value("sound", false);
    return m;
}

Music musicFrom(const json& j) {
    Music m;
    m.id = j["id"];
    m.mediaId = j["media"];
    m.start = j.value("start", std::int64_t(0));
    m.sourceIn = rationalIn(j, "sourceIn");
    m.gain = j.value("gain", 1.0);
    if (j.contains("tempo") && j["tempo"].is_object()) {
        const json& t = j["tempo"];
        m.tempo = Tempo{t.value("beatsPerMinute", 120.0), rationalIn(t, "firstBeat"), t.value("beatsPerBar", 4)};
    }
    return m;
}

// Puts back what the document that was read had and the new one does not know. Everything known is always written, so a
// missing field is an unknown one. Objects in lists are the same when their ids are; without ids, when lists are
// equally long.
void keepUnknown(const json& old, json& now) {
    if (old.is_object() && now.is_object()) {
        for (const auto& [key, value] : old.items()) {
            if (!now.contains(key))
                now[key] = value;
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
    std::string why = deepest.description;
    while (!why.empty() && (why.back() == '.' || why.back() == '\n')) why.pop_back();
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
    json media = json::array(), reel = json::array(), music = json::array();
    for (const Media& m : project.media)
        media.push_back({{"id", m.id},
                         {"path", pathText(m.path, folder)},
                         {"width", m.size.width},
                         {"height", m.size.height},
                         {"pixelAspect", toText(m.pixelAspect)},
                         {"rate", toText(m.rate)},
                         {"duration", toText(m.duration)},
                         {"still", m.still},
                         {"sound", m.sound}});
    for (const Clip& c : project.reel) {
        json transition = {{"moves", toJson(c.transition.moves)},
                           {"shutter", c.transition.shutter ? toJson(*c.transition.shutter) : json(nullptr)},
                           {"ignored", c.transition.ignored}};
        reel.push_back({{"id", c.id},
                        {"media", c.mediaId},
                        {"name", c.name},
                        {"sourceIn", toText(c.sourceIn)},
                        {"length", c.length},
                        {"fit", nameOf(c.fit)},
                        {"edges", c.edges ? json(nameOf(*c.edges)) : json(nullptr)},
                        {"shutter", c.shutter ? toJson(*c.shutter) : json(nullptr)},
                        {"gain", c.gain},
                        {"muted", c.muted},
                        {"drift", toJson(c.drift)},
                        {"transition", transition}});
    }
    for (const Music& m : project.music) {
        json tempo = nullptr;
        if (m.tempo)
            tempo = {{"beatsPerMinute", m.tempo->beatsPerMinute},
                     {"firstBeat", toText(m.tempo->firstBeat)},
                     {"beatsPerBar", m.tempo->beatsPerBar}};
        music.push_back({{"id", m.id},
                         {"media", m.mediaId},
                         {"start", m.start},
                         {"sourceIn", toText(m.sourceIn)},
                         {"gain", m.gain},
                         {"tempo", tempo}});
    }
    const Settings& s = project.settings;
    json document = {{"format", "virga-project"},
                     {"version", projectVersion},
                     {"name", project.name},
                     {"settings",
                      {{"width", s.size.width},
                       {"height", s.size.height},
                       {"rate", toText(s.rate)},
                       {"shutter", toJson(s.shutter)},
                       {"edges", nameOf(s.edges)}}},
                     {"media", media},
                     {"reel", reel},
                     {"music", music}};
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
    for (const json& m : document["media"]) project.media.push_back(mediaFrom(m, folder));
    for (const json& c : document["reel"]) project.reel.push_back(clipFrom(c));
    for (const json& m : document.value("music", json::array())) project.music.push_back(musicFrom(m));
    for (std::size_t i = 0; i < project.reel.size(); ++i)
        if (!findMedia(project, project.reel[i].mediaId))
            return fail(ErrorCode::Unreadable,
                        fmt::format("a clip names the media \"{}\", which is not in the list", project.reel[i].mediaId),
                        fmt::format("{} at /reel/{}/media", file, i),
                        "mend this place in a text editor; the file was not changed");
    auto unknown = std::make_shared<UnknownFields>();
    unknown->document = std::move(document);
    project.unknown = std::move(unknown);
    return project;
}

} // namespace virga
