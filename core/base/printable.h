#pragma once
// Text that came from outside, fit to be shown.
#include <string>
#include <string_view>

namespace virga {

/// Control characters, which a terminal would obey, become question marks.
std::string printable(std::string_view text);

} // namespace virga
