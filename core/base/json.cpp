#include "core/base/json.h"

#include <algorithm>
#include <fmt/format.h>

namespace virga {
namespace {

// Where the text goes deeper than is allowed; its size where it does not. Looked for before parsing, which recurses.
std::size_t tooDeepAt(std::string_view text) {
    int depth = 0;
    bool inside = false; // a string
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (inside) {
            if (c == '\\') ++i;
            if (c == '"') inside = false;
        } else if (c == '"') {
            inside = true;
        } else if (c == '[' || c == '{') {
            if (++depth > deepestJson) return i;
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return text.size();
}

std::string placeAt(std::string_view text, std::size_t at, const std::string& file) {
    const auto end = text.begin() + std::ptrdiff_t(std::min(at, text.size()));
    return fmt::format("{}, line {}", file, 1 + std::count(text.begin(), end, '\n'));
}

} // namespace

Expected<nlohmann::json> parseJson(std::string_view text, const std::string& what, const std::string& file) {
    const char* const remedy = "use a copy of it, or make it again where it came from; the file was not changed";
    if (const auto at = tooDeepAt(text); at < text.size())
        return fail(ErrorCode::Unreadable,
                    fmt::format("is not {}: its lists lie more than {} deep inside each other", what, deepestJson),
                    placeAt(text, at, file), remedy);
    try {
        return nlohmann::json::parse(text);
    } catch (const nlohmann::json::parse_error& error) {
        return fail(ErrorCode::Unreadable, fmt::format("is not {}: its text is not JSON from here on", what),
                    placeAt(text, error.byte, file), remedy);
    } catch (const nlohmann::json::out_of_range& error) { // a number beyond double: its text stands in quotes
        const std::string_view why = error.what();
        const auto from = why.find('\''), to = why.rfind('\'');
        const auto number = from < to ? why.substr(from + 1, to - from - 1) : std::string_view();
        const auto at = number.empty() ? text.npos : text.find(number);
        return fail(ErrorCode::Unreadable,
                    fmt::format("is not {}: the number {} is too large", what, number.substr(0, 40)),
                    at == text.npos ? file : placeAt(text, at, file), remedy);
    }
}

std::string jsonText(const nlohmann::json& document, int indent) {
    return document.dump(indent, ' ', false, nlohmann::json::error_handler_t::replace);
}

} // namespace virga
