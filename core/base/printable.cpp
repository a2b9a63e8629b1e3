#include "core/base/printable.h"

namespace virga {

std::string printable(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (const unsigned char c : text) out += c < 0x20 || c == 0x7f ? '?' : char(c);
    return out;
}

} // namespace virga
