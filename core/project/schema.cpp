// The published schema of project files, made of the lists of fields.
#include <cmath>
#include <fmt/format.h>

#include "core/project/fields.h"
#include "core/project/json_names.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

using json = nlohmann::json;

constexpr int longestRational = 40;

// Describes fields one after another.
class SchemaWriter {
public:
    template <typename T> void operator()(const Field& field, const T& value) { put(field, of(field, value)); }
    void operator()(const Field& field, const std::filesystem::path&) {
        put(field, {{"type", "string"}, {"minLength", 1}, {"maxLength", longestText}});
        properties[std::string(field.name) + "Bytes"] = {
            {"type", "string"},
            {"maxLength", 3 * longestText},
            {"description",
             "the path with every byte that is not plain ASCII as %XX, where it is not UTF-8; empty otherwise"}};
    }
    void ratio(const Field& field, const Rational&, Rational, Rational) { put(field, reference("rational")); }
    void rate(const Field& field, const FrameRate&) { put(field, reference("rational")); }

    json object() const {
        json object = {{"type", "object"}, {"properties", properties}};
        if (!required.empty()) object["required"] = required;
        return object;
    }
    static json reference(const std::string& name) { return {{"$ref", "#/definitions/" + name}}; }

    json properties = json::object(), required = json::array();

private:
    void put(const Field& field, json described) {
        if (field.told) {
            // Beside a reference a description would not count in draft 7.
            if (described.contains("$ref")) described = {{"allOf", json::array({described})}};
            described["description"] = field.told;
        }
        properties[field.name] = std::move(described);
        if (field.needed) required.push_back(field.name);
    }
    static json number(const char* type, const Field& field) {
        json described = {{"type", type}};
        const auto bound = [&](const char* name, double value) {
            if (!std::isfinite(value)) return;
            if (value == std::floor(value) && std::abs(value) < 1e15)
                described[name] = std::int64_t(value);
            else
                described[name] = value;
        };
        bound("minimum", field.least);
        bound("maximum", field.most);
        return described;
    }
    template <typename T> static json of(const Field& field, const T& value) {
        if constexpr (std::is_same_v<T, bool>) {
            return {{"type", "boolean"}};
        } else if constexpr (std::is_integral_v<T>) {
            return number("integer", field);
        } else if constexpr (std::is_floating_point_v<T>) {
            return number("number", field);
        } else if constexpr (std::is_enum_v<T>) {
            json words = json::array();
            for (const std::string_view word : wordsOf(value)) words.push_back(word);
            return {{"enum", words}};
        } else if constexpr (HasFields<T>::value) {
            return reference(nameOf(value));
        } else {
            return other(field, value);
        }
    }
    static json other(const Field& field, const std::string&) {
        json described = {{"type", "string"}};
        if (field.needed && std::string_view(field.name) != "media") described["minLength"] = 1; // a gap has no media
        return described;
    }
    static json other(const Field&, const Rational&) { return reference("rational"); }
    static json other(const Field&, const Point&) { return reference("point"); }
    static json other(const Field&, const std::map<int, double>&) { return reference("placedBeats"); }
    template <typename T> static json other(const Field& field, const std::optional<T>&) {
        return {{"anyOf", json::array({of(field, T()), json{{"type", "null"}}})}};
    }
    template <List T> static json other(const Field& field, const T&) {
        return {{"type", "array"}, {"items", of(field, typename T::value_type())}};
    }

public:
    static const char* nameOf(const SubjectSpot&) { return "subjectSpot"; }
    static const char* nameOf(const Colour&) { return "colour"; }
    static const char* nameOf(const Subject&) { return "subject"; }
    static const char* nameOf(const Crop&) { return "crop"; }
    static const char* nameOf(const Shutter&) { return "shutter"; }
    static const char* nameOf(const Placement&) { return "placement"; }
    static const char* nameOf(const Overlap&) { return "overlap"; }
    static const char* nameOf(const Handle&) { return "handle"; }
    static const char* nameOf(const Key&) { return "key"; }
    static const char* nameOf(const Channel&) { return "keysOfBothSides"; }
    static const char* nameOf(const Move&) { return "move"; }
    static const char* nameOf(const Ramp&) { return "ramp"; }
    static const char* nameOf(const RecipeUse&) { return "recipeUse"; }
    static const char* nameOf(const RecipeLink&) { return "recipeLink"; }
    static const char* nameOf(const Recipe&) { return "recipe"; }
    static const char* nameOf(const Transition&) { return "transition"; }
    static const char* nameOf(const Guess&) { return "guess"; }
    static const char* nameOf(const FoundShot&) { return "foundShot"; }
    static const char* nameOf(const Pin&) { return "pin"; }
    static const char* nameOf(const Clip&) { return "clip"; }
    static const char* nameOf(const Overlay&) { return "overlay"; }
    static const char* nameOf(const Adjustment&) { return "adjustment"; }
    static const char* nameOf(const Marker&) { return "marker"; }
    static const char* nameOf(const Tempo&) { return "tempo"; }
    static const char* nameOf(const Music&) { return "music"; }
    static const char* nameOf(const Media&) { return "media"; }
    static const char* nameOf(const Settings&) { return "settings"; }
    static const char* nameOf(const FlowLimits&) { return "flowLimits"; }
    static const char* nameOf(const Heard&) { return "heard"; }
};

template <typename T> json objectOf() {
    SchemaWriter writer;
    const T plain{};
    fieldsOf(writer, plain);
    return writer.object();
}

template <typename... T> void define(json& definitions) {
    ((definitions[SchemaWriter::nameOf(T{})] = objectOf<T>()), ...);
}

} // namespace

namespace {

// What recipes and projects have in common.
json commonDefinitions() {
    json definitions;
    define<Shutter, Overlap, Handle, Key, Move, Ramp, RecipeUse, RecipeLink, Transition>(definitions);
    definitions["rational"] = {
        {"type", "string"}, {"maxLength", longestRational}, {"pattern", "^-?[0-9]{1,18}(/0*[1-9][0-9]{0,17})?$"}};
    definitions["point"] = {{"type", "array"},
                            {"items", {{"type", "number"}, {"minimum", -farthestPlace}, {"maximum", farthestPlace}}},
                            {"minItems", 2},
                            {"maxItems", 2}};
    definitions["curve"] = {{"type", "array"}, {"maxItems", mostKeys}, {"items", SchemaWriter::reference("key")}};
    json& move = definitions["move"]["properties"];
    move["channels"] = {{"type", "array"},
                        {"items",
                         {{"type", "object"},
                          {"properties",
                           {{"name", {{"type", "string"}}},
                            {"outgoing", SchemaWriter::reference("curve")},
                            {"incoming", SchemaWriter::reference("curve")}}}}}};
    move["parameters"] = {{"type", "object"},
                          {"description", "by name: a number, or one of the words that the kind knows"}};
    return definitions;
}

constexpr auto conventions = "Fields that are not named here are allowed everywhere and survive a load and save. "
                             "Frames are counted at the {}'s rate, key times from the cut; rationals are written "
                             "\"n/d\" or \"n\".";

template <typename T> json documentSchema(const char* name, int version) {
    json schema = objectOf<T>();
    schema["$schema"] = "http://json-schema.org/draft-07/schema#";
    schema["title"] = fmt::format("Virga {}, version {}", name, version);
    schema["description"] = fmt::format(conventions, name);
    schema["properties"]["format"] = {{"const", fmt::format("virga-{}", name)}};
    schema["properties"]["version"] = {{"type", "integer"}, {"minimum", 1}};
    for (const char* needed : {"format", "version"}) schema["required"].push_back(needed);
    schema["definitions"] = commonDefinitions();
    return schema;
}

} // namespace

std::string recipeSchemaText() {
    return documentSchema<Recipe>("recipe", recipeVersion).dump(2) + "\n";
}

json projectSchema() {
    json schema = documentSchema<Project>("project", projectVersion);
    json& definitions = schema["definitions"];
    define<SubjectSpot, Subject, Colour, Crop, Placement, Channel, Guess, FoundShot, Pin, Clip, Overlay, Adjustment,
           Marker, Tempo, Music, Media, FlowLimits, Heard, Settings, Recipe>(definitions);
    definitions["crop"]["description"] = "fractions of the source's width and height";
    definitions["placedBeats"] = {
        {"type", "array"},
        {"maxItems", 100000},
        {"items",
         {{"type", "object"},
          {"required", {"beat", "seconds"}},
          {"properties",
           {{"beat", {{"type", "integer"}, {"minimum", -1000000}, {"maximum", 1000000}}},
            {"seconds", {{"type", "number"}, {"minimum", -100000}, {"maximum", 1000000}}}}}}}};
    return schema;
}

} // namespace virga
