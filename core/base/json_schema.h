#pragma once
// Checks a JSON document against a JSON Schema (draft 7, json-schema.org).
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>

namespace virga {

/// A schema, read once. Safe to use from several threads at once.
class JsonSchema {
public:
    explicit JsonSchema(const nlohmann::json& rules);
    ~JsonSchema();
    JsonSchema(const JsonSchema&) = delete;
    JsonSchema& operator=(const JsonSchema&) = delete;

    struct Fault {
        std::string place; // in the document, as a JSON pointer (RFC 6901) such as /reel/0/length; empty: the whole
        std::string why;   // a clause for people, without a full stop
    };
    bool allows(const nlohmann::json& document) const;
    /// Of several faults the one that lies deepest.
    std::optional<Fault> faultIn(const nlohmann::json& document) const;

private:
    struct Rules;
    std::unique_ptr<Rules> m_rules;
};

} // namespace virga
