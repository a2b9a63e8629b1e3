#pragma once
// Text for manual pages, as man(7) wants it.
#include <string>
#include <string_view>

namespace virga {

/// Plain text as roff has it: no dot or quote in front of a line, dashes that stay dashes, line ends that stay.
std::string roff(const std::string& text);

/// The first line of a command's page, with the program's version. `command` is escaped already.
std::string roffTitle(std::string_view command);

} // namespace virga
