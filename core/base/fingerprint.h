#pragma once
// Telling files apart by content without reading all of it: two copies of one recording have the same fingerprint.
#include <filesystem>
#include <string>

namespace virga {

/// 16 hex digits from the file's size and 64 KiB at its start, middle and end (of a sequence, of its first and last
/// picture); empty where it cannot be read. Not for security.
std::string fingerprintOf(const std::filesystem::path& path);

} // namespace virga
