#include "core/base/file.h"

#include <algorithm>
#include <atomic>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <mutex>
#include <pwd.h>
#include <set>
#include <sstream>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <vector>

#include "core/base/hash.h"
#include "core/base/output.h"

namespace virga {
namespace fs = std::filesystem;

Expected<void> mayRead(const fs::path& path) {
    const std::string name = path.string();
    struct stat is {};
    if (::stat(path.c_str(), &is) != 0) {
        const int why = errno;
        if (why == EACCES)
            return fail(ErrorCode::Unreadable, "its folder may not be entered", name, "check the folder's permissions");
        if (why == ELOOP)
            return fail(ErrorCode::Unreadable, "this is a link that leads back to itself", name,
                        "name the file itself");
        if (why == ENAMETOOLONG)
            return fail(ErrorCode::Unreadable, "the name is too long for a file", name.substr(0, 80) + "…",
                        "check the name");
        return fail(ErrorCode::NotFound, "there is no such file", name, "look for it where it was moved to");
    }
    if (S_ISDIR(is.st_mode))
        return fail(ErrorCode::Unreadable, "this is a folder, not a file", name, "name a file inside it");
    if (!S_ISREG(is.st_mode))
        return fail(ErrorCode::Unreadable, "this is a pipe or a device, not a file", name, "copy it to a file first");
    if (::access(path.c_str(), R_OK) != 0)
        return fail(ErrorCode::Unreadable, "it may not be read", name, "check its permissions");
    return {};
}

Expected<std::string> readFile(const fs::path& path, std::size_t limit) {
    if (auto may = mayRead(path); !may) return tl::unexpected(may.error());
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

namespace {

// Told by its name: a folder may be shared by many machines, and what another one is writing is no leftover here.
std::string thisMachine() {
    char name[256] = {};
    ::gethostname(name, sizeof name - 1);
    return std::to_string(Hash().add(std::string_view(name)).value() % 1000000000);
}

fs::path folderOf(const fs::path& path) {
    return path.has_parent_path() ? path.parent_path() : fs::path(".");
}

// Once for each folder that this process writes in.
void sweepOnce(const fs::path& path) {
    static std::mutex mutex;
    static std::set<fs::path> swept;
    {
        const std::lock_guard lock(mutex);
        if (!swept.insert(folderOf(path)).second) return;
    }
    removeLeftovers(path);
}

} // namespace

fs::path temporaryBeside(const fs::path& path) {
    static std::atomic<unsigned> counter{0};
    sweepOnce(path);
    // A long name is cut: with its number it must still be a name.
    const std::string stem = path.stem().string().substr(0, 80);
    return path.parent_path() / fmt::format(".{}.{}-{}-{}.part{}", stem, thisMachine(), ::getpid(), counter++,
                                            path.extension().string().substr(0, 20));
}

void removeLeftovers(const fs::path& path) {
    // ".NAME.MACHINE-PROCESS-COUNT.part.KIND"
    const auto isOfThisMachine = [here = thisMachine()](const std::string& name) {
        const auto part = name.rfind(".part");
        if (!name.starts_with('.') || part == name.npos || part == 0) return false;
        const auto dot = name.rfind('.', part - 1);
        if (dot == name.npos || dot == 0) return false;
        std::vector<std::string> numbers;
        std::istringstream parts(name.substr(dot + 1, part - dot - 1));
        for (std::string digits; std::getline(parts, digits, '-');) {
            if (digits.empty() || digits.size() > 10 || digits.find_first_not_of("0123456789") != digits.npos)
                return false;
            numbers.push_back(digits);
        }
        return numbers.size() == 3 && numbers[0] == here;
    };
    // Held while it is removed: one that was only just made and not held yet is missed by its maker then, and made
    // anew.
    const auto removeUnheld = [](const fs::path& file) {
        const int fd = ::open(file.c_str(), O_RDONLY | O_NONBLOCK | O_NOFOLLOW | O_CLOEXEC);
        if (fd < 0) return; // not ours to judge
        std::error_code ignored;
        if (::flock(fd, LOCK_EX | LOCK_NB) == 0) fs::remove_all(file, ignored); // a file, or a folder of pictures
        ::close(fd);
    };
    std::error_code ec;
    for (fs::directory_iterator at(folderOf(path), ec), end; !ec && at != end; at.increment(ec)) {
        if (isOfThisMachine(at->path().filename().string())) removeUnheld(at->path());
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

namespace {

// Into a part file. Errors: WriteFailed.
Expected<void> writeAll(const PartFile& part, std::string_view bytes, const fs::path& path) {
    const int file = part.descriptor();
    if (file < 0)
        return fail(ErrorCode::WriteFailed, fmt::format("cannot write here ({})", std::strerror(part.whyNot())),
                    path.string(), "choose another folder");
    std::size_t done = 0;
    while (done < bytes.size()) {
        const auto n = ::write(file, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0)
            return fail(ErrorCode::WriteFailed, fmt::format("could not be written ({})", std::strerror(errno)),
                        path.string(), "free some space, or choose another folder");
        done += std::size_t(n);
    }
    return {};
}

} // namespace

Expected<void> writeFileAtomically(const fs::path& path, std::string_view bytes) {
    const PartFile part(path);
    struct stat old {};
    if (part.descriptor() >= 0 && ::stat(path.c_str(), &old) == 0)
        ::fchmod(part.descriptor(), old.st_mode & 07777); // keep the permissions it had
    if (auto done = writeAll(part, bytes, path); !done) return done;
    return putInPlace(part.path(), path);
}

Expected<bool> createFileAtomically(const fs::path& path, std::string_view bytes) {
    const PartFile part(path);
    if (auto done = writeAll(part, bytes, path); !done) return tl::unexpected(done.error());
    ::fsync(part.descriptor());
    if (::link(part.path().c_str(), path.c_str()) == 0) return true;
    if (errno == EEXIST) return false;
    // A file system without second names: the rename is told to replace nothing.
    if (::renameat2(AT_FDCWD, part.path().c_str(), AT_FDCWD, path.c_str(), RENAME_NOREPLACE) == 0) return true;
    if (errno == EEXIST) return false;
    return fail(ErrorCode::WriteFailed, fmt::format("could not be put in place ({})", std::strerror(errno)),
                path.string(), "check the permissions of the folder");
}

fs::path wholePath(const fs::path& path) {
    std::error_code ec;
    const fs::path absolute = fs::absolute(path, ec);
    if (ec) return path;
    const auto up = [](const fs::path& part) { return part == ".."; };
    if (std::none_of(absolute.begin(), absolute.end(), up)) return absolute.lexically_normal();
    const fs::path folder = fs::weakly_canonical(absolute.parent_path(), ec);
    return ec ? absolute.lexically_normal() : (folder / absolute.filename()).lexically_normal();
}

fs::path userFolder(const char* variable, const char* inHome) {
    if (const char* named = std::getenv(variable); named && fs::path(named).is_absolute()) return named;
    if (const char* home = std::getenv("HOME"); home && fs::path(home).is_absolute()) return fs::path(home) / inHome;
    passwd entry{}, *found = nullptr;
    std::vector<char> text(1 << 14);
    if (::getpwuid_r(::getuid(), &entry, text.data(), text.size(), &found) == 0 && found &&
        fs::path(found->pw_dir).is_absolute())
        return fs::path(found->pw_dir) / inHome;
    return {};
}

} // namespace virga
