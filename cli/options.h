#pragma once
// The command line. Results go to standard output, messages to standard error.

namespace virga::cli {

enum ExitCode { Fine = 0, Findings = 1, BadInput = 2 };

/// Parses and carries out; the process's exit code.
int run(int argc, char** argv);

} // namespace virga::cli
