#pragma once
// Text that came from outside, fit to be shown.
#include <string>
#include <string_view>

namespace virga {

/// Control characters, which a terminal would obey, become question marks.
std::string printable(std::string_view text);

/// By RFC 3629: no overlong forms, no surrogates, nothing beyond U+10FFFF.
bool isUtf8(std::string_view text);

/// Text as UTF-8: what is none is read as ISO 8859-1, the character set of older lists.
std::string asUtf8(std::string text);

} // namespace virga
