#pragma once
// Telling files apart by content without reading all of it: two copies of one recording have the same fingerprint.
#include <filesystem>
#include <string>

namespace virga {

/// 16 hex digits from the file's size and 64 KiB at its start, middle and end (of a sequence, of its first and last
/// picture); empty where it cannot be read. Not for security.
std::string fingerprintOf(const std::filesystem::path& path);

/// 16 hex digits from all of a file's bytes, or, where it is larger than 64 MiB, from its size and 1,024 blocks of 64
/// KiB spread evenly over it; of a sequence, from all its pictures. Empty where it cannot be read. The key of a file
/// that did not change since (by size, time and inode) is remembered.
std::string contentKeyOf(const std::filesystem::path& path);

} // namespace virga
