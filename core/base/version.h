#pragma once
// The program's version, as CMakeLists.txt has it.
namespace virga {

/// "0.1.0"
const char* version();

} // namespace virga
