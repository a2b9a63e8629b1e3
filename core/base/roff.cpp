#include "core/base/roff.h"

#include "core/base/version.h"

namespace virga {

std::string roff(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\\')
            out += "\\e";
        else if (c == '-')
            out += "\\-";
        else if ((c == '.' || c == '\'') && (i == 0 || text[i - 1] == '\n'))
            out += std::string("\\&") + c;
        else if (c == '\n')
            out += "\n.br\n";
        else
            out += c;
    }
    return out;
}

std::string roffTitle(std::string_view command) {
    return ".TH " + std::string(command) + " 1 \"\" \"Virga " + version() + "\" \"User Commands\"\n";
}

} // namespace virga
