#pragma once
// Text for manual pages, as man(7) wants it.
#include <string>

namespace virga {

/// Plain text as roff has it: no dot or quote in front of a line, dashes that stay dashes, line ends that stay.
std::string roff(const std::string& text);

} // namespace virga
