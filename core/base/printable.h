#pragma once
// Text that came from outside, fit to be shown.
#include <string>
#include <string_view>

namespace virga {

/// The text in one line that shows itself and does nothing else: controls that a terminal obeys (C0, C1, DEL), line and
/// paragraph separators, marks that turn the direction of writing, tags, and bytes that are no UTF-8 become question
/// marks.
std::string printable(std::string_view text);
/// The same, but line feeds stay: for texts of several lines that this program joined.
std::string printableLines(std::string_view text);

/// A JSON text whose strings hold nothing that disturbs: such characters stand as \u escapes, which mean the same (RFC
/// 8259).
std::string printableJson(std::string_view text);

/// By RFC 3629: no overlong forms, no surrogates, nothing beyond U+10FFFF.
bool isUtf8(std::string_view text);

/// Text as UTF-8: what is none is read as ISO 8859-1, the character set of older lists.
std::string asUtf8(std::string text);

} // namespace virga
