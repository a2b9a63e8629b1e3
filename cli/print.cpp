#include "cli/print.h"

#include <cerrno>
#include <cstdio>
#include <cstring>

namespace virga::cli {
namespace {

int outFailed = 0, errorFailed = 0; // errno of the first failure

void write(std::FILE* file, int* failed, std::string_view text) {
    if (*failed != 0) return;
    if (std::fwrite(text.data(), 1, text.size(), file) < text.size()) *failed = errno ? errno : EIO;
}

} // namespace

void writeOut(std::string_view text) {
    write(stdout, &outFailed, text);
}

void writeError(std::string_view text) {
    write(stderr, &errorFailed, text);
}

void sayJson(std::string_view text) {
    writeOut(printableJson(text) + "\n");
}

std::string outputFailure() {
    if (std::fflush(stdout) != 0 && outFailed == 0) outFailed = errno ? errno : EIO;
    if (std::fflush(stderr) != 0 && errorFailed == 0) errorFailed = errno ? errno : EIO;
    if (outFailed != 0) return fmt::format("standard output cannot be written ({})", std::strerror(outFailed));
    if (errorFailed != 0) return fmt::format("standard error cannot be written ({})", std::strerror(errorFailed));
    return {};
}

} // namespace virga::cli
