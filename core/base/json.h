#pragma once
// The one gate for JSON from outside: projects, timelines, the clipboard, kept shapes. Whatever the bytes, the result
// is a document of bounded depth with finite numbers, or an error with the line.
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>

#include "core/base/error.h"

namespace virga {

/// Objects and lists inside each other at most; nothing that Virga or OpenTimelineIO writes comes near.
inline constexpr int deepestJson = 100;

/// `what` the text should be ("a Virga project") and `file` are for the message. Errors: Unreadable, with the line.
Expected<nlohmann::json> parseJson(std::string_view text, const std::string& what, const std::string& file);

/// A document as text; bytes that are not UTF-8 are replaced.
std::string jsonText(const nlohmann::json& document, int indent);

} // namespace virga
