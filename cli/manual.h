#pragma once
// The command line's own description as a manual page and as completion for a shell: one source for all three.
#include <string>

namespace CLI {
class App;
}

namespace virga::cli {

/// In the man macros of groff_man(7).
std::string manualPage(const CLI::App& app);
/// For bash: commands, then each command's options, their values where they are a list, else files.
std::string bashCompletion(const CLI::App& app);

} // namespace virga::cli
