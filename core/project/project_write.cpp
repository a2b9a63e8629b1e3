// The project as a JSON document.
#include <algorithm>
#include <fmt/format.h>

#include "core/base/printable.h"
#include "core/project/fields.h"
#include "core/project/json_names.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

using json = nlohmann::json;
namespace fs = std::filesystem;

std::string pathText(const fs::path& path, const fs::path& folder) {
    if (folder.empty()) return path.generic_string();
    const fs::path relative = path.lexically_relative(folder);
    const std::string text = relative.generic_string();
    return text.empty() || text.starts_with("../../..") ? path.generic_string() : text;
}

// A name that is not UTF-8 cannot stand in a JSON text: its odd bytes as %XX.
std::string pathBytes(const std::string& path) {
    if (isUtf8(path)) return {};
    std::string text;
    for (const unsigned char c : path)
        text += c < 0x20 || c > 0x7e || c == '%' ? fmt::format("%{:02X}", c) : std::string(1, char(c));
    return text;
}

// A parameter that is chosen among words stands in the file as its word.
json parameterValue(const ParameterInfo& info, double value) {
    if (info.look == ParameterInfo::Look::Switch) return value > 0;
    if (info.choices.empty()) return value;
    return info.choices[std::size_t(std::clamp(value, 0.0, double(info.choices.size() - 1)))];
}

// Writes fields into an object, one after another.
class FieldWriter {
public:
    FieldWriter(json& object, const fs::path& folder) : m_object(object), m_folder(folder) {}
    template <typename T> void operator()(const Field& field, const T& value) { m_object[field.name] = valueOf(value); }
    void operator()(const Field& field, const fs::path& path) {
        m_object[field.name] = pathText(path, m_folder);
        m_object[std::string(field.name) + "Bytes"] = pathBytes(pathText(path, m_folder));
    }
    void ratio(const Field& field, Rational value, Rational, Rational) { m_object[field.name] = toText(value); }
    void rate(const Field& field, FrameRate value) { m_object[field.name] = toText(value); }

private:
    template <typename T> json valueOf(const T& value) {
        if constexpr (std::is_same_v<T, Move>) {
            return moveOf(value);
        } else if constexpr (HasFields<T>::value) {
            json object = json::object();
            FieldWriter inner(object, m_folder);
            fieldsOf(inner, value);
            if constexpr (std::is_same_v<T, Recipe>)
                if (value.unknown) keepUnknown(value.unknown->document, object);
            return object;
        } else if constexpr (std::is_enum_v<T>) {
            return wordsOf(value)[std::size_t(value)];
        } else {
            return other(value);
        }
    }
    template <typename T> json other(const T& value) { return value; }
    json other(const Rational& value) { return toText(value); }
    json other(const Point& p) { return {p.x, p.y}; }
    template <typename T> json other(const std::optional<T>& value) { return value ? valueOf(*value) : json(nullptr); }
    template <List T> json other(const T& values) {
        json list = json::array();
        for (const auto& value : values) list.push_back(valueOf(value));
        return list;
    }
    json other(const std::map<int, double>& placed) {
        json list = json::array();
        for (const auto& [beat, at] : placed) list.push_back({{"beat", beat}, {"seconds", at}});
        return list;
    }
    json moveOf(const Move& m) {
        json move = json::object();
        if (m.kind == MoveKind::Unknown) { // keeps what its file had
            if (!m.foreign.empty()) move = json::parse(m.foreign, nullptr, false);
            if (!move.is_object()) move = json::object();
            move["id"] = m.id;
            move["kind"] = m.kindName;
            move["enabled"] = m.enabled;
            move["solo"] = m.solo;
            return move;
        }
        FieldWriter inner(move, m_folder);
        fieldsOf(inner, m);
        const MoveInfo& info = moveInfo(m.kind);
        json channels = json::array(), parameters = json::object();
        for (std::size_t c = 0; c < m.channels.size() && c < info.channels.size(); ++c)
            channels.push_back({{"name", info.channels[c].name},
                                {"outgoing", valueOf(m.channels[c].outgoing.keys)},
                                {"incoming", valueOf(m.channels[c].incoming.keys)}});
        for (std::size_t i = 0; i < m.parameters.size() && i < info.parameters.size(); ++i)
            parameters[std::string(info.parameters[i].name)] = parameterValue(info.parameters[i], m.parameters[i]);
        move["channels"] = std::move(channels);
        move["parameters"] = std::move(parameters);
        return move;
    }

    json& m_object;
    const fs::path& m_folder;
};

} // namespace

json documentOf(const Project& project, const fs::path& folder) {
    json document = {{"format", "virga-project"}, {"version", projectVersion}};
    FieldWriter writer(document, folder);
    fieldsOf(writer, project);
    return document;
}

std::string recipeText(const Recipe& recipe) {
    json document = {{"format", "virga-recipe"}, {"version", recipeVersion}};
    const fs::path nowhere;
    FieldWriter writer(document, nowhere);
    fieldsOf(writer, recipe);
    if (recipe.unknown) keepUnknown(recipe.unknown->document, document);
    return document.dump(2) + "\n";
}

} // namespace virga
