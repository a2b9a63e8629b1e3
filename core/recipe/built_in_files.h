#pragma once
// The recipe files of core/recipe/built_in, compiled in by core/recipe/CMakeLists.txt.
#include <span>
#include <string_view>

namespace virga {

struct BuiltInFile {
    std::string_view name, text;
};

std::span<const BuiltInFile> builtInFiles();

} // namespace virga
