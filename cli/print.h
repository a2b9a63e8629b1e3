#pragma once
// What virga-cli prints: results on standard output, messages on standard error. Texts among the arguments (names,
// paths, messages) may come from a stranger's file: each is shown in one line that the terminal cannot obey; see
// printable().
#include <filesystem>
#include <string>
#include <string_view>
#include <type_traits>

#include <fmt/format.h>

#include "core/base/printable.h"

namespace virga::cli {

/// What stands for an argument of a format: texts and paths printable, all else as it is.
template <class T> auto asPrinted(const T& value) {
    if constexpr (std::is_same_v<T, std::filesystem::path>)
        return printable(value.string());
    else if constexpr (std::is_convertible_v<const T&, std::string_view>)
        return printable(value);
    else
        return value;
}
template <class T> using Printed = decltype(asPrinted(std::declval<const T&>()));

/// Writes bytes as they are. A failure is kept for outputFailure().
void writeOut(std::string_view text);
void writeError(std::string_view text);

template <class... Args> void say(fmt::format_string<Printed<Args>...> format, const Args&... args) {
    writeOut(fmt::format(format, asPrinted(args)...));
}
template <class... Args> void warn(fmt::format_string<Printed<Args>...> format, const Args&... args) {
    writeError(fmt::format(format, asPrinted(args)...));
}

/// Prints a JSON document and a line feed. What a terminal would obey stands as \u escapes, which mean the same.
void sayJson(std::string_view text);

/// After all was printed: what was lost because standard output or error is full or closed. Empty if nothing was.
std::string outputFailure();

} // namespace virga::cli
