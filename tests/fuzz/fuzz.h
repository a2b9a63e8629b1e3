#pragma once
// What the fuzzers share. Each program hands bytes that nobody chose to one gate of Virga and holds what comes out to
// what the gate promises: a project that can be saved and read again, or an error that says where. libFuzzer (LLVM)
// makes the bytes; tools/fuzz runs all of them.
#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/error.h"
#include "core/project/project.h"

namespace virga::fuzz {

inline std::string_view text(const std::uint8_t* data, std::size_t size) {
    return {reinterpret_cast<const char*>(data), size};
}

/// Ends the program, which the fuzzer then reports with the bytes that led there.
void require(bool holds, const char* what, const std::string& detail = {});

/// What every error must have: words, and no byte that a terminal would obey.
void requireTold(const Error& error);

/// What every project that came in through a gate must stand: being saved and read back as it is, being planned at its
/// first, last and middle frames, being checked for its movement where it is short, and having a clip split.
void requireSound(const Project& project);

/// FFmpeg's own messages are many; 0.
int quietMedia();

/// The bytes as a file in memory (Linux memfd) while it lives; nothing is written to a disk.
class MemoryFile {
public:
    MemoryFile(const std::uint8_t* data, std::size_t size);
    ~MemoryFile();
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;
    std::filesystem::path path() const;

private:
    int m_descriptor = -1;
};

} // namespace virga::fuzz
