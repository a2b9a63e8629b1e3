#include "core/base/file_lock.h"

#include <cerrno>
#include <chrono>
#include <ctime>
#include <fcntl.h>
#include <fmt/chrono.h>
#include <fmt/format.h>
#include <pwd.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <vector>

#include "core/base/json.h"

namespace virga {
namespace fs = std::filesystem;
namespace {

std::string machineName() {
    char name[256] = {};
    ::gethostname(name, sizeof name - 1);
    return name;
}

std::string userName() {
    passwd entry{}, *found = nullptr;
    std::vector<char> text(1 << 14);
    if (::getpwuid_r(::getuid(), &entry, text.data(), text.size(), &found) == 0 && found) return found->pw_name;
    return std::to_string(::getuid());
}

void write(int descriptor) {
    const std::time_t now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    const std::string text = jsonText({{"virga", "lock"},
                                       {"machine", machineName()},
                                       {"user", userName()},
                                       {"process", long(::getpid())},
                                       {"since", fmt::format("{:%Y-%m-%dT%H:%M:%SZ}", fmt::gmtime(now))}},
                                      2) +
                             "\n";
    if (::ftruncate(descriptor, 0) == 0) (void)!::pwrite(descriptor, text.data(), text.size(), 0);
}

LockOwner ownerIn(int descriptor) {
    std::string text(4096, '\0');
    const auto got = ::pread(descriptor, text.data(), text.size(), 0);
    LockOwner owner;
    if (got <= 0) return owner;
    text.resize(std::size_t(got));
    const auto json = parseJson(text, "a lock", {});
    if (!json || !json->is_object()) return owner;
    const auto word = [&](const char* name) {
        const auto at = json->find(name);
        return at != json->end() && at->is_string() ? at->get<std::string>() : std::string();
    };
    owner.machine = word("machine"), owner.user = word("user"), owner.since = word("since");
    if (const auto at = json->find("process"); at != json->end() && at->is_number_integer())
        owner.process = at->get<long>();
    return owner;
}

} // namespace

fs::path FileLock::placeFor(const fs::path& file) {
    // A long name is cut: with what is added it must still be a name.
    constexpr std::size_t longest = 200;
    return file.parent_path() / ("." + file.filename().string().substr(0, longest) + ".lock");
}

std::unique_ptr<FileLock> FileLock::take(const fs::path& file, LockOwner* owner) {
    const fs::path path = placeFor(file);
    const auto unlocked = [] { return std::unique_ptr<FileLock>(new FileLock({}, -1)); };
    constexpr int tries = 20;
    for (int i = 0; i < tries; ++i) {
        const int descriptor = ::open(path.c_str(), O_RDWR | O_CREAT | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC, 0644);
        if (descriptor < 0) return unlocked();
        struct stat mine {
        }, there{};
        if (::fstat(descriptor, &mine) != 0 || !S_ISREG(mine.st_mode)) {
            ::close(descriptor);
            return unlocked();
        }
        if (::flock(descriptor, LOCK_EX | LOCK_NB) != 0) {
            const bool held = errno == EWOULDBLOCK;
            if (held && owner) *owner = ownerIn(descriptor);
            ::close(descriptor);
            return held ? nullptr : unlocked();
        }
        // The one who had it may have removed the file meanwhile: the lock must be on the one that is there.
        if (::stat(path.c_str(), &there) == 0 && there.st_ino == mine.st_ino && there.st_dev == mine.st_dev) {
            write(descriptor);
            return std::unique_ptr<FileLock>(new FileLock(path, descriptor));
        }
        ::close(descriptor);
    }
    return unlocked();
}

FileLock::~FileLock() {
    if (m_descriptor < 0) return;
    ::unlink(m_path.c_str()); // while it is still held
    ::close(m_descriptor);
}

} // namespace virga
