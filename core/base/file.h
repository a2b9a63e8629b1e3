#pragma once
// Reading and writing whole files so that nothing is ever half there: writing goes beside the target, is synced, and is
// renamed over it. Every function may be called from any thread.
#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/error.h"

namespace virga {

/// Whether a path is a regular file that may be read. Errors: NotFound; Unreadable, saying what it is instead: a
/// folder, pipe, device, a link that leads round in a circle, a file without permission.
Expected<void> mayRead(const std::filesystem::path& path);

/// The bytes of a file. Errors: as mayRead; Unreadable when it is larger than `limit` bytes.
Expected<std::string> readFile(const std::filesystem::path& path, std::size_t limit = std::size_t(64) << 20);

/// Replaces (or creates) a file in one step; on an error the old file is untouched and nothing is left beside it.
Expected<void> writeFileAtomically(const std::filesystem::path& path, std::string_view bytes);

/// Creates a file in one step where there is none. False where there is something by that name already; that is left as
/// it is. Of several programs that create one name at once exactly one succeeds.
Expected<bool> createFileAtomically(const std::filesystem::path& path, std::string_view bytes);

/// A folder by the XDG Base Directory Specification 0.8: an environment variable's where it is an absolute path, else
/// one in the user's home, which the user database names where HOME does not. Empty where there is no home at all.
std::filesystem::path userFolder(const char* variable, const char* inHome);

/// Absolute and without "." and "..", by which two ways to one file are the same text. Where ".." stands in it, links
/// before it are followed as the system follows them.
std::filesystem::path wholePath(const std::filesystem::path& path);

/// The name used for a file while it is being written: in the same folder, hidden, unlike any other process's. The
/// first time that a process writes in a folder, leftovers there are removed.
std::filesystem::path temporaryBeside(const std::filesystem::path& path);

/// Removes temporaries, named as above by this machine, that nobody holds a lock on: what programs that are gone left
/// half written in a file's folder. Locks decide (flock), not process numbers: those mean nothing across containers.
void removeLeftovers(const std::filesystem::path& path);

/// Syncs `temporary` to disk and renames it to `path`. Errors: WriteFailed (then `temporary` is removed).
Expected<void> putInPlace(const std::filesystem::path& temporary, const std::filesystem::path& path);

} // namespace virga
