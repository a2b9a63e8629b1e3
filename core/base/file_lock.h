#pragma once
// An advisory lock that says who works on a file: flock on a hidden file beside it, ".NAME.lock", which holds the
// machine, the user, the process and the time in words. The kernel lets go of it when its process ends, however it
// ends.
#include <filesystem>
#include <memory>
#include <string>

#include "core/base/error.h"

namespace virga {

/// Who holds a lock, as far as the file says.
struct LockOwner {
    std::string machine, user, since; // "", where it is not known; since: ISO 8601, UTC
    long process = 0;
};

class FileLock {
public:
    /// Takes the lock on a file, which need not be there. Null where somebody else holds it, this process included;
    /// then `owner` says who. A lock where none can be made (a folder that may not be written to, a file system without
    /// locks) is held by nobody and keeps nobody out.
    static std::unique_ptr<FileLock> take(const std::filesystem::path& file, LockOwner* owner = nullptr);
    /// Lets go of it and removes its file.
    ~FileLock();
    FileLock(const FileLock&) = delete;
    FileLock& operator=(const FileLock&) = delete;

    static std::filesystem::path placeFor(const std::filesystem::path& file);

private:
    FileLock(std::filesystem::path path, int descriptor) : m_path(std::move(path)), m_descriptor(descriptor) {}
    std::filesystem::path m_path;
    int m_descriptor;
};

} // namespace virga
