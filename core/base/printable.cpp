#include "core/base/printable.h"

namespace virga {

std::string printable(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (const unsigned char c : text) out += c < 0x20 || c == 0x7f ? '?' : char(c);
    return out;
}

bool isUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto at = [&](std::size_t k) {
            return k < text.size() ? unsigned(static_cast<unsigned char>(text[k])) : 0u;
        };
        const auto follows = [&](std::size_t k) { return (at(k) & 0xc0) == 0x80; };
        const unsigned c = at(i);
        if (c < 0x80) {
            ++i;
        } else if (c >= 0xc2 && c <= 0xdf && follows(i + 1)) {
            i += 2;
        } else if (c >= 0xe0 && c <= 0xef && follows(i + 1) && follows(i + 2)) {
            if ((c == 0xe0 && at(i + 1) < 0xa0) || (c == 0xed && at(i + 1) > 0x9f)) return false;
            i += 3;
        } else if (c >= 0xf0 && c <= 0xf4 && follows(i + 1) && follows(i + 2) && follows(i + 3)) {
            if ((c == 0xf0 && at(i + 1) < 0x90) || (c == 0xf4 && at(i + 1) > 0x8f)) return false;
            i += 4;
        } else {
            return false;
        }
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
