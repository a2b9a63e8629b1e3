#include "core/base/json_schema.h"

#include <fmt/format.h>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

namespace virga {
namespace {

using Document = valijson::adapters::NlohmannJsonAdapter;

// What the schema's checker says, in words for people.
std::string plainWords(const std::string& said) {
    const auto quoted = [&]() -> std::string {
        const auto from = said.find('\''), to = said.rfind('\'');
        return from != said.npos && to > from ? said.substr(from + 1, std::min<std::size_t>(to - from - 1, 60)) : "";
    };
    const auto has = [&](const char* words) { return said.find(words) != said.npos; };
    if (has("anyOf")) return "a value here is none of those that are allowed";
    if (has("fewer than 1 character")) return "the text here is empty";
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

// Of two errors at one place, whether the first says more: that a number is too large says more than that none of
// several alternatives fits, or that it is not "null".
bool saysMore(const std::string& one, const std::string& other) {
    const auto rank = [](const std::string& said) {
        const auto has = [&](const char* words) { return said.find(words) != said.npos; };
        return has("anyOf") ? 1 : has("child schema") ? 0 : has("'type'") ? 2 : 3;
    };
    return rank(one) >= rank(other);
}

} // namespace

struct JsonSchema::Rules {
    nlohmann::json text; // kept as long as the schema that was made of it
    valijson::Schema schema;

    bool allow(const nlohmann::json& document, valijson::ValidationResults* results) const {
        return valijson::Validator().validate(schema, Document(document), results);
    }
};

JsonSchema::JsonSchema(const nlohmann::json& rules) : m_rules(std::make_unique<Rules>()) {
    m_rules->text = rules;
    valijson::SchemaParser().populateSchema(Document(m_rules->text), m_rules->schema);
}

JsonSchema::~JsonSchema() = default;

bool JsonSchema::allows(const nlohmann::json& document) const {
    return m_rules->allow(document, nullptr);
}

std::optional<JsonSchema::Fault> JsonSchema::faultIn(const nlohmann::json& document) const {
    valijson::ValidationResults results;
    if (m_rules->allow(document, &results)) return std::nullopt;
    // The last error raised first is the most general; the deepest context says most about the place.
    valijson::ValidationResults::Error error, deepest;
    while (results.popError(error))
        if (error.context.size() > deepest.context.size() ||
            (error.context.size() == deepest.context.size() && saysMore(error.description, deepest.description)))
            deepest = error;
    Fault fault{.place = {}, .why = plainWords(deepest.description)};
    for (std::size_t i = 1; i < deepest.context.size(); ++i) {
        std::string part = deepest.context[i]; // "[reel]" or "[0]"
        if (part.size() > 2 && part.front() == '[') part = part.substr(1, part.size() - 2);
        fault.place += "/" + part;
    }
    return fault;
}

} // namespace virga
