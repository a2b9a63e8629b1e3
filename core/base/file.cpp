#include "core/base/file.h"

#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace virga {
namespace fs = std::filesystem;

Expected<std::string> readFile(const fs::path& path, std::size_t limit) {
    std::error_code ec;
    const auto status = fs::status(path, ec);
    if (!fs::exists(status)) return fail(ErrorCode::NotFound, "there is no such file", path.string(), "check the name");
    if (fs::is_directory(status))
        return fail(ErrorCode::Unreadable, "this is a folder, not a file", path.string(), "name a file inside it");
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return fail(ErrorCode::Unreadable, fmt::format("cannot be opened ({})", std::strerror(errno)), path.string(),
                    "check its permissions");
    std::string bytes;
    char block[1 << 16];
    while (in.read(block, sizeof block) || in.gcount() > 0) {
        bytes.append(block, std::size_t(in.gcount()));
        if (bytes.size() > limit)
            return fail(ErrorCode::Unreadable, fmt::format("is larger than {} MiB", limit >> 20), path.string(),
                        "this is hardly the right file");
    }
    return bytes;
}

fs::path temporaryBeside(const fs::path& path) {
    static std::atomic<unsigned> counter{0};
    return path.parent_path() /
           fmt::format(".{}.{}-{}.part{}", path.stem().string(), ::getpid(), counter++, path.extension().string());
}

void removeLeftovers(const fs::path& path) {
    const std::string before = "." + path.stem().string() + ".", after = ".part" + path.extension().string();
    std::error_code ec;
    for (fs::directory_iterator at(path.parent_path(), ec), end; !ec && at != end; at.increment(ec)) {
        const std::string name = at->path().filename().string();
        if (!name.starts_with(before) || !name.ends_with(after)) continue;
        const long process = std::atol(name.c_str() + before.size());
        if (process > 0 && ::kill(pid_t(process), 0) != 0 && errno == ESRCH) {
            std::error_code ignored;
            fs::remove(at->path(), ignored);
        }
    }
}

Expected<void> putInPlace(const fs::path& temporary, const fs::path& path) {
    const auto failed = [&](const char* what) {
        const int reason = errno;
        std::error_code ignored;
        fs::remove(temporary, ignored);
        return fail(ErrorCode::WriteFailed, fmt::format("{} ({})", what, std::strerror(reason)), path.string(),
                    "check the free space and the permissions of the folder");
    };
    const int file = ::open(temporary.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) return failed("what was written cannot be read back");
    const bool synced = ::fsync(file) == 0;
    ::close(file);
    if (!synced) return failed("could not be written to disk");
    if (::rename(temporary.c_str(), path.c_str()) != 0) return failed("could not be put in place");
    const auto folder = path.has_parent_path() ? path.parent_path() : fs::path(".");
    if (const int dir = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); dir >= 0) {
        ::fsync(dir); // makes the rename itself durable; a failure here leaves a complete file all the same
        ::close(dir);
    }
    return {};
}

Expected<void> writeFileAtomically(const fs::path& path, std::string_view bytes) {
    const auto temporary = temporaryBeside(path);
    const int file = ::open(temporary.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0644);
    if (file < 0)
        return fail(ErrorCode::WriteFailed, fmt::format("cannot write here ({})", std::strerror(errno)), path.string(),
                    "choose another folder");
    struct stat old {};
    if (::stat(path.c_str(), &old) == 0) ::fchmod(file, old.st_mode & 07777); // keep the permissions it had
    std::size_t done = 0;
    while (done < bytes.size()) {
        const auto n = ::write(file, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) {
            const int reason = errno;
            ::close(file);
            ::unlink(temporary.c_str());
            return fail(ErrorCode::WriteFailed, fmt::format("could not be written ({})", std::strerror(reason)),
                        path.string(), "free some space, or choose another folder");
        }
        done += std::size_t(n);
    }
    ::close(file);
    return putInPlace(temporary, path);
}

} // namespace virga
