#include "core/project/project_json.h"
#include "core/base/json.h"
#include "core/base/json_schema.h"
#include "core/base/parallel.h"
#include "core/project/fields.h"
#include "core/project/json_names.h"
#include "core/project/limits.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cctype>
#include <fmt/format.h>
#include <unordered_map>

namespace virga {
namespace {

using json = nlohmann::json;
namespace fs = std::filesystem;

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

void keepInOrder(Curve& curve) {
    auto& keys = curve.keys;
    std::stable_sort(keys.begin(), keys.end(), [](const Key& a, const Key& b) { return a.time < b.time; });
    keys.erase(std::unique(keys.begin(), keys.end(), [](const Key& a, const Key& b) { return b.time - a.time < 1e-6; }),
               keys.end());
}

std::shared_ptr<const UnknownFields> unknownOf(json document) {
    auto unknown = std::make_shared<UnknownFields>();
    unknown->document = std::move(document);
    return unknown;
}

constexpr std::size_t longList = 1000; // from here on it is read on all processors

// Reads fields from an object that the schema has found valid; what is not there stays as it is.
class FieldReader {
public:
    FieldReader(const json& object, const fs::path& folder) : m_object(object), m_folder(folder) {}
    template <typename T> void operator()(const Field& field, T& value) {
        if (const json* at = find(field)) read(*at, value);
    }
    void operator()(const Field& field, fs::path& path) {
        const std::string bytes = bytesFrom(m_object.value(std::string(field.name) + "Bytes", ""));
        path =
            (m_folder / fs::path(bytes.empty() ? m_object[field.name].get<std::string>() : bytes)).lexically_normal();
    }
    void ratio(const Field& field, Rational& value, Rational least, Rational most) {
        (*this)(field, value);
        value = std::clamp(value, least, most);
    }
    void rate(const Field& field, FrameRate& value) { (*this)(field, value); }

private:
    const json* find(const Field& field) const {
        const auto at = m_object.find(field.name);
        return at == m_object.end() ? nullptr : &*at;
    }
    template <typename T> void read(const json& j, T& value) {
        if constexpr (std::is_same_v<T, Move>) {
            readMove(j, value);
        } else if constexpr (HasFields<T>::value) {
            FieldReader inner(j, m_folder);
            fieldsOf(inner, value);
            if constexpr (std::is_same_v<T, Tempo>) keepInOrder(value);
            if constexpr (std::is_same_v<T, Recipe>) value.transition.link.reset(), value.unknown = unknownOf(j);
            if constexpr (std::is_same_v<T, Channel>)
                for (Curve* curve : {&value.incoming, &value.outgoing}) keepInOrder(*curve);
        } else if constexpr (std::is_enum_v<T>) {
            const auto words = wordsOf(value);
            const auto word = std::find(words.begin(), words.end(), j.get<std::string>());
            if (word != words.end()) value = T(word - words.begin());
        } else {
            readOther(j, value);
        }
    }
    template <typename T> void readOther(const json& j, T& value) { value = j.get<T>(); }
    void readOther(const json& j, Rational& value) { value = rationalFromText(j.get<std::string>()).value_or(value); }
    void readOther(const json& j, Point& p) { p = {j[0].get<double>(), j[1].get<double>()}; }
    template <typename T> void readOther(const json& j, std::optional<T>& value) {
        value.reset();
        if (!j.is_null()) read(j, value.emplace());
    }
    template <List T> void readOther(const json& j, T& values) {
        values.clear();
        if (j.size() < longList) {
            for (const json& one : j) read(one, values.emplace_back());
            return;
        }
        values.resize(j.size());
        inParallel(j.size(), [&](std::size_t i) { read(j[i], values[i]); });
    }
    void readOther(const json& j, std::map<int, double>& placed) {
        for (const json& beat : j) placed[beat["beat"]] = beat["seconds"];
    }
    void readCurve(const json& channel, const char* side, Curve& curve) {
        if (!channel.contains(side)) return;
        read(channel[side], curve.keys);
        keepInOrder(curve);
    }
    void readMove(const json& j, Move& m) {
        const std::string kind = j["kind"];
        m = makeMove(moveKindNamed(kind).value_or(MoveKind::Unknown), "");
        FieldReader inner(j, m_folder);
        fieldsOf(inner, m);
        if (m.kind == MoveKind::Unknown) {
            m.foreign = j.dump();
            return;
        }
        const MoveInfo& info = moveInfo(m.kind);
        if (const auto parameters = j.find("parameters"); parameters != j.end() && parameters->is_object())
            for (std::size_t i = 0; i < info.parameters.size(); ++i)
                m.parameters[i] = parameterFrom(*parameters, info.parameters[i]);
        for (std::size_t c = 0; c < info.channels.size(); ++c) {
            m.channels[c].outgoing.space = m.channels[c].incoming.space = spaceOf(m, int(c));
            for (const json& channel : j.value("channels", json::array())) {
                if (channel.value("name", "") != info.channels[c].name) continue;
                readCurve(channel, "outgoing", m.channels[c].outgoing);
                readCurve(channel, "incoming", m.channels[c].incoming);
            }
        }
    }

    const json& m_object;
    const fs::path& m_folder;
};

// A move's channels go by their names; those that this version does not know stay behind the others.
void keepUnknownChannels(const json& old, json& now) {
    for (const json& o : old) {
        if (!o.is_object()) continue;
        const auto same = std::find_if(now.begin(), now.end(), [&](const json& n) {
            return n == o || (n.is_object() && n.contains("name") && o.contains("name") && n["name"] == o["name"]);
        });
        if (same == now.end())
            now.push_back(o);
        else
            keepUnknown(o, *same);
    }
}

// Whether a document with a long list of clips or files is valid, told on all processors by its parts: each is all of
// the rest with some clips and files. The document is as it was afterwards. False where the lists are not long.
bool isValidInParts(json& document, const JsonSchema& schema) {
    constexpr std::size_t parts = 16;
    std::vector<json::array_t> lists;
    const std::array<const char*, 2> names{"reel", "media"};
    if (!document.is_object()) return false;
    for (const char* name : names)
        if (const auto at = document.find(name); at == document.end() || !at->is_array()) return false;
    if (document["reel"].size() < longList && document["media"].size() < longList) return false;
    lists.reserve(names.size());
    for (const char* name : names) lists.push_back(std::exchange(document[name].get_ref<json::array_t&>(), {}));
    std::atomic<bool> valid = true;
    inParallel(parts, [&](std::size_t n) {
        json part = document;
        const auto exchange = [&] {
            for (std::size_t k = 0; k < names.size(); ++k) {
                auto& some = part[names[k]].get_ref<json::array_t&>();
                const auto begin = lists[k].size() * n / parts, end = lists[k].size() * (n + 1) / parts;
                some.resize(end - begin);
                std::swap_ranges(some.begin(), some.end(), lists[k].begin() + std::ptrdiff_t(begin));
            }
        };
        exchange();
        if (!schema.allows(part)) valid = false;
        exchange();
    });
    for (std::size_t k = 0; k < names.size(); ++k) document[names[k]] = std::move(lists[k]);
    return valid;
}

Expected<void> validate(const json& document, const std::string& file, const JsonSchema& schema, const char* kind,
                        const char* todo) {
    const auto fault = schema.faultIn(document);
    if (!fault) return {};
    return fail(ErrorCode::Unreadable, fmt::format("is not a valid Virga {}: {}", kind, fault->why),
                file + (fault->place.empty() ? "" : " at " + fault->place), todo);
}

// A move and another one have nothing in common but an id that somebody wrote twice.
bool isOfSameKind(const json& a, const json& b) {
    const auto kind = [](const json& j) { return j.contains("kind") ? j["kind"] : json(); };
    return kind(a) == kind(b);
}

} // namespace

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
    } else if (old.is_array() && now.is_array() && !now.empty()) {
        const bool byPlace = old.size() == now.size();
        // By a search each, long reels took minutes. Where an id is there more than once, each belongs to its own.
        std::unordered_map<std::string_view, std::vector<const json*>> byId;
        for (const json& o : old)
            if (const auto id = o.is_object() ? o.find("id") : o.end(); id != o.end() && id->is_string())
                byId[id->get_ref<const std::string&>()].push_back(&o);
        std::unordered_map<std::string_view, std::size_t> seen;
        for (std::size_t i = 0; i < now.size(); ++i) {
            if (!now[i].is_object()) continue;
            if (!now[i].contains("id")) {
                if (byPlace) keepUnknown(old[i], now[i]);
                continue;
            }
            if (!now[i]["id"].is_string()) continue;
            const std::string id = now[i]["id"]; // what is kept may move the text
            const auto same = byId.find(id);
            if (same == byId.end()) continue;
            const std::size_t n = seen[same->first]++;
            if (n < same->second.size() && isOfSameKind(*same->second[n], now[i]))
                keepUnknown(*same->second[n], now[i]);
        }
    }
}

std::string_view nameOf(EdgeFill edges) {
    return edgeNames[int(edges)];
}
std::string_view nameOf(Fit fit) {
    return fitNames[int(fit)];
}
std::string_view nameOf(Heading heading) {
    return headingNames[int(heading)];
}
std::optional<Heading> headingNamed(std::string_view name) {
    const auto at = std::find(std::begin(headingNames), std::end(headingNames), name);
    if (at == std::end(headingNames)) return std::nullopt;
    return Heading(at - std::begin(headingNames));
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
    static const JsonSchema schema(projectSchema());
    constexpr auto todo = "mend this place in a text editor, or open the autosave beside it; the file was not changed";
    if (!isValidInParts(document, schema)) // the place of a mistake is told by the whole
        if (auto valid = validate(document, file, schema, "project", todo); !valid)
            return tl::unexpected(valid.error());
    Project project;
    FieldReader reader(document, folder);
    fieldsOf(reader, project);
    if (!isUsableRate(project.settings.rate))
        return fail(ErrorCode::Unreadable, "the frame rate is not between 1 and 1000", file + " at /settings/rate",
                    "write a rate such as 25 or 30000/1001");
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
    project.unknown = unknownOf(std::move(document));
    return project;
}

Expected<Recipe> recipeFromText(std::string_view text, const std::string& file) {
    constexpr auto todo = "mend this place in a text editor; the file was not changed";
    auto document = parseJson(text, "a Virga recipe", file);
    if (!document) return tl::unexpected(document.error());
    if (document->is_object() && document->value("format", json()) == "virga-recipe" &&
        document->value("version", json()).is_number_integer() && (*document)["version"] > recipeVersion)
        return fail(ErrorCode::Unsupported,
                    fmt::format("was saved by a newer Virga (recipe version {}, this one knows {})",
                                (*document)["version"].get<long>(), recipeVersion),
                    file, "open it with that version; the file was not changed");
    static const JsonSchema schema(json::parse(recipeSchemaText()));
    if (auto valid = validate(*document, file, schema, "recipe", todo); !valid) return tl::unexpected(valid.error());
    Recipe recipe;
    const fs::path nowhere;
    FieldReader reader(*document, nowhere);
    fieldsOf(reader, recipe);
    recipe.transition.link.reset();
    recipe.unknown = unknownOf(std::move(*document));
    if (!isUsableRate(recipe.rate))
        return fail(ErrorCode::Unreadable, "the frame rate is not between 1 and 1000", file + " at /rate", todo);
    return withinLimits(recipe);
}

} // namespace virga
