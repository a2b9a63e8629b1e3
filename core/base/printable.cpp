#include "core/base/printable.h"

#include <fmt/format.h>

namespace virga {

namespace {

// The length of the well-formed UTF-8 sequence at a place; 0 where there is none (RFC 3629).
std::size_t utf8Length(std::string_view text, std::size_t i) {
    const auto at = [&](std::size_t k) { return k < text.size() ? unsigned(static_cast<unsigned char>(text[k])) : 0u; };
    const auto follows = [&](std::size_t k) { return (at(k) & 0xc0) == 0x80; };
    const unsigned c = at(i);
    if (c < 0x80) return 1;
    if (c >= 0xc2 && c <= 0xdf && follows(i + 1)) return 2;
    if (c >= 0xe0 && c <= 0xef && follows(i + 1) && follows(i + 2))
        return (c == 0xe0 && at(i + 1) < 0xa0) || (c == 0xed && at(i + 1) > 0x9f) ? 0 : 3;
    if (c >= 0xf0 && c <= 0xf4 && follows(i + 1) && follows(i + 2) && follows(i + 3))
        return (c == 0xf0 && at(i + 1) < 0x90) || (c == 0xf4 && at(i + 1) > 0x8f) ? 0 : 4;
    return 0;
}

char32_t codePoint(std::string_view bytes) {
    const auto low = [&](std::size_t k) { return char32_t(static_cast<unsigned char>(bytes[k]) & 0x3f); };
    const auto first = char32_t(static_cast<unsigned char>(bytes[0]));
    switch (bytes.size()) {
    case 1:
        return first;
    case 2:
        return (first & 0x1f) << 6 | low(1);
    case 3:
        return (first & 0x0f) << 12 | low(1) << 6 | low(2);
    default:
        return (first & 0x07) << 18 | low(1) << 12 | low(2) << 6 | low(3);
    }
}

// Unicode's general categories Cc, Zl and Zp, its explicit directions and marks of direction (UAX #9, section 2), the
// byte order mark, interlinear annotations and tags.
bool disturbs(char32_t c) {
    return c < 0x20 || (c >= 0x7f && c < 0xa0) || c == 0x061c || c == 0x200e || c == 0x200f ||
           (c >= 0x2028 && c <= 0x202e) || (c >= 0x2066 && c <= 0x2069) || c == 0xfeff ||
           (c >= 0xfff9 && c <= 0xfffb) || (c >= 0xe0000 && c <= 0xe007f);
}

std::string printableBut(std::string_view text, bool lines) {
    std::string out;
    out.reserve(text.size());
    for (std::size_t i = 0; i < text.size();) {
        const std::size_t n = utf8Length(text, i);
        const std::string_view one = text.substr(i, n ? n : 1);
        const bool stays = n > 0 && (!disturbs(codePoint(one)) || (lines && one == "\n"));
        if (stays)
            out += one;
        else
            out += '?';
        i += one.size();
    }
    return out;
}

} // namespace

std::string printable(std::string_view text) {
    return printableBut(text, false);
}

std::string printableLines(std::string_view text) {
    return printableBut(text, true);
}

std::string printableJson(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (std::size_t i = 0; i < text.size();) {
        const std::size_t n = utf8Length(text, i);
        const std::string_view one = text.substr(i, n ? n : 1);
        i += one.size();
        const char32_t c = n > 0 ? codePoint(one) : U'?';
        if (!disturbs(c) || one == "\n")
            out += n > 0 ? one : std::string_view("?");
        else if (c < 0x10000)
            out += fmt::format("\\u{:04x}", unsigned(c));
        else
            out += fmt::format("\\u{:04x}\\u{:04x}", 0xd800 + unsigned((c - 0x10000) >> 10),
                               0xdc00 + unsigned((c - 0x10000) & 0x3ff));
    }
    return out;
}

bool isUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const std::size_t n = utf8Length(text, i);
        if (n == 0) return false;
        i += n;
    }
    return true;
}

std::string asUtf8(std::string text) {
    if (isUtf8(text)) return text;
    std::string out;
    for (const unsigned char c : text) {
        if (c < 0x80)
            out += char(c);
        else
            out += char(0xc0 | (c >> 6)), out += char(0x80 | (c & 0x3f));
    }
    return out;
}

} // namespace virga
