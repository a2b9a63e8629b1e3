#include "core/base/output.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cctype>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <limits.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>
#include <utility>

#include "core/base/file.h"
#include "core/base/sequence_path.h"

namespace virga {
namespace fs = std::filesystem;
namespace {

// Names of files and folders being written, where a signal handler may read them.
enum SlotState { Free, BeingFilled, HoldsFile, HoldsFolder };
struct Slot {
    std::atomic<int> state{Free};
    char path[PATH_MAX] = {};
};
std::array<Slot, 64> slots;

// The index of a slot with this name; −1 where all are taken.
int slotFor(const fs::path& path, SlotState kind) {
    std::error_code ec;
    const std::string whole = fs::absolute(path, ec).string(); // the working folder may change
    if (ec || whole.size() >= PATH_MAX) return -1;
    for (std::size_t i = 0; i < slots.size(); ++i) {
        int free = Free;
        if (!slots[i].state.compare_exchange_strong(free, BeingFilled)) continue;
        std::memcpy(slots[i].path, whole.c_str(), whole.size() + 1);
        slots[i].state = kind;
        return int(i);
    }
    return -1;
}

void giveBack(int slot) {
    if (slot >= 0) slots[std::size_t(slot)].state = Free;
}

// Only calls that a signal handler may make (signal-safety(7)), and getdents64, which takes no memory of its own.
void removeFolder(const char* path) {
    const int folder = ::open(path, O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC);
    if (folder < 0) return;
    alignas(8) static char entries[1 << 14];
    constexpr int mostRounds = 100000;
    for (int round = 0; round < mostRounds; ++round) {
        const long got = ::syscall(SYS_getdents64, folder, entries, sizeof entries);
        if (got <= 0) break;
        for (long at = 0; at < got;) { // d_ino 8, d_off 8, d_reclen 2, d_type 1, d_name
            unsigned short length = 0;
            std::memcpy(&length, entries + at + 16, sizeof length);
            ::unlinkat(folder, entries + at + 19, 0); // "." and ".." are folders and stay
            at += length;
        }
    }
    ::close(folder);
    ::rmdir(path);
}

extern "C" void endAfterRemoving(int signal) {
    for (Slot& slot : slots) {
        const int state = slot.state.load();
        if (state == HoldsFile) ::unlink(slot.path);
        if (state == HoldsFolder) removeFolder(slot.path);
    }
    ::signal(signal, SIG_DFL);
    sigset_t only;
    sigemptyset(&only);
    sigaddset(&only, signal);
    ::sigprocmask(SIG_UNBLOCK, &only, nullptr);
    ::raise(signal);
    ::_exit(128 + signal); // the first process of a container is not ended by a signal alone
}

// A lock on what was just made; false where a sweep took it away meanwhile.
bool lockNew(int descriptor) {
    while (::flock(descriptor, LOCK_EX) != 0)
        if (errno != EINTR) return true; // a file system without locks
    struct stat is {};
    return ::fstat(descriptor, &is) == 0 && is.st_nlink > 0;
}

std::string kindsText(const std::vector<std::string>& kinds) {
    std::string text;
    for (std::size_t i = 0; i < kinds.size(); ++i)
        text += (i == 0 ? "" : i + 1 == kinds.size() ? " or " : ", ") + kinds[i];
    return text;
}

// Whether a path is one of a sequence's pictures, told by its name and folder.
bool isPictureOf(const SequencePath& s, const fs::path& path) {
    std::error_code ec;
    const fs::path folder = s.folder.empty() ? fs::path(".") : s.folder;
    const fs::path own = path.has_parent_path() ? path.parent_path() : fs::path(".");
    if (!fs::equivalent(folder, own, ec)) return false;
    const std::string name = path.filename().string();
    if (!name.starts_with(s.before) || !name.ends_with(s.after)) return false;
    if (name.size() < s.before.size() + s.after.size()) return false;
    const std::string number = name.substr(s.before.size(), name.size() - s.before.size() - s.after.size());
    if (number.empty() || number.size() > 18 || number.find_first_not_of("0123456789") != number.npos) return false;
    const long n = std::stol(number);
    return n >= s.first && n <= s.last && s.picture(n).filename() == path.filename();
}

bool isSame(const fs::path& input, const fs::path& path) {
    std::error_code ec;
    if (const auto s = sequenceOf(input)) {
        if (isPictureOf(*s, path)) return true;
        const fs::path real = fs::weakly_canonical(path, ec);
        return !ec && isPictureOf(*s, real);
    }
    return fs::equivalent(input, path, ec) && !ec;
}

} // namespace

std::string endingOf(const fs::path& path) {
    std::string ending = path.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(), [](unsigned char c) { return char(std::tolower(c)); });
    return ending;
}

Expected<void> mayWrite(const fs::path& path, const Output& output) {
    const std::string name = path.string();
    if (path.empty() || path.filename().empty())
        return fail(ErrorCode::BadInput, "a file's name is missing", name, "give the file to write");
    if (path.filename().string().size() > NAME_MAX || name.size() >= PATH_MAX)
        return fail(ErrorCode::BadInput, "the name is too long", name.substr(0, 80) + "…", "choose a shorter one");
    if (std::find(output.kinds.begin(), output.kinds.end(), endingOf(path)) == output.kinds.end())
        return fail(
            ErrorCode::BadInput, fmt::format("{} ends in {}", output.what, kindsText(output.kinds)), name,
            fmt::format("call it {}", fs::path(path).replace_extension(output.kinds.front()).filename().string()));
    for (const fs::path& input : output.inputs)
        if (isSame(input, path))
            return fail(ErrorCode::BadInput, "it is made from this file, which would be lost", name,
                        "choose another name");
    struct stat is {};
    if (::lstat(path.c_str(), &is) != 0) {
        std::error_code ec;
        const fs::path folder = path.has_parent_path() ? path.parent_path() : fs::path(".");
        if (!fs::is_directory(folder, ec))
            return fail(ErrorCode::NotFound, "there is no such folder", folder.string(),
                        "make it first, or choose another folder");
        return {};
    }
    const auto refuse = [&](const char* why, const char* remedy) {
        return fail(ErrorCode::BadInput, why, name, remedy);
    };
    if (S_ISDIR(is.st_mode)) return refuse("this is a folder", "name a file inside it");
    if (S_ISLNK(is.st_mode))
        return refuse("this is a link to another file, and would be replaced by a file of its own",
                      "name the file itself, or another");
    if (!S_ISREG(is.st_mode)) return refuse("this is a device or a pipe, not a file", "choose another name");
    if ((is.st_mode & (S_IWUSR | S_IWGRP | S_IWOTH)) == 0 || ::access(path.c_str(), W_OK) != 0)
        return refuse("this file is protected against writing", "choose another name, or lift its protection");
    if (output.onlyOwnKind && is.st_size > 0 && output.isOwn && !output.isOwn(path))
        return fail(ErrorCode::BadInput,
                    fmt::format("there is a file of another kind by this name, not {}", output.what), name,
                    "choose another name, or say --force to replace it");
    return {};
}

PartFile::PartFile(const fs::path& target) {
    removeLeftovers(target);
    constexpr int tries = 8;
    for (int i = 0; i < tries && m_descriptor < 0; ++i) {
        m_path = temporaryBeside(target);
        m_descriptor = ::open(m_path.c_str(), O_RDWR | O_CREAT | O_EXCL | O_CLOEXEC, 0644);
        m_whyNot = m_descriptor < 0 ? errno : 0;
        if (m_descriptor >= 0 && !lockNew(m_descriptor)) ::close(std::exchange(m_descriptor, -1));
        if (m_whyNot != 0 && m_whyNot != EEXIST) return;
    }
    if (m_descriptor >= 0) m_slot = slotFor(m_path, HoldsFile);
}

PartFile::~PartFile() {
    std::error_code ignored;
    if (m_descriptor >= 0) fs::remove(m_path, ignored);
    if (m_descriptor >= 0) ::close(m_descriptor);
    giveBack(m_slot);
}

PartFolder::PartFolder(const fs::path& target) {
    removeLeftovers(target);
    constexpr int tries = 8;
    for (int i = 0; i < tries && m_descriptor < 0; ++i) {
        m_path = temporaryBeside(target);
        m_whyNot = ::mkdir(m_path.c_str(), 0755) == 0 ? 0 : errno;
        if (m_whyNot == EEXIST) continue;
        if (m_whyNot != 0) return;
        m_descriptor = ::open(m_path.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
        if (m_descriptor >= 0 && !lockNew(m_descriptor)) ::close(std::exchange(m_descriptor, -1));
    }
    if (m_descriptor >= 0) m_slot = slotFor(m_path, HoldsFolder);
}

PartFolder::~PartFolder() {
    std::error_code ignored;
    if (m_descriptor >= 0) fs::remove_all(m_path, ignored);
    if (m_descriptor >= 0) ::close(m_descriptor);
    giveBack(m_slot);
}

void openMissingStreams() {
    for (const int stream : {STDIN_FILENO, STDOUT_FILENO, STDERR_FILENO})
        if (::fcntl(stream, F_GETFD) < 0 && errno == EBADF) // open() gives the lowest free number: this one
            if (::open("/dev/null", O_RDONLY) != stream) std::abort();
}

void removePartFilesWhenEnded() {
    struct sigaction action {};
    action.sa_handler = endAfterRemoving;
    sigemptyset(&action.sa_mask);
    action.sa_flags = int(SA_RESETHAND);
    for (const int signal : {SIGTERM, SIGINT, SIGHUP, SIGPIPE, SIGXFSZ}) ::sigaction(signal, &action, nullptr);
}

} // namespace virga
