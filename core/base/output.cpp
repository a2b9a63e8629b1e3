#include "core/base/output.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cctype>
#include <csignal>
#include <cstring>
#include <fmt/format.h>
#include <limits.h>
#include <sys/stat.h>
#include <unistd.h>

#include "core/base/file.h"
#include "core/base/sequence_path.h"

namespace virga {
namespace fs = std::filesystem;
namespace {

// Names of files being written, where a signal handler may read them.
struct Slot {
    std::atomic<int> state{0}; // 0 free, 1 being filled, 2 valid
    char path[PATH_MAX] = {};
};
std::array<Slot, 64> slots;

extern "C" void endAfterRemoving(int signal) {
    for (Slot& slot : slots)
        if (slot.state.load() == 2) ::unlink(slot.path);
    ::signal(signal, SIG_DFL);
    ::raise(signal);
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

PartFile::PartFile(const fs::path& target) : m_path(temporaryBeside(target)) {
    removeLeftovers(target);
    std::error_code ec;
    const std::string whole = fs::absolute(m_path, ec).string(); // the working folder may change
    if (ec || whole.size() >= PATH_MAX) return;
    for (std::size_t i = 0; i < slots.size(); ++i) {
        int free = 0;
        if (!slots[i].state.compare_exchange_strong(free, 1)) continue;
        std::memcpy(slots[i].path, whole.c_str(), whole.size() + 1);
        slots[i].state = 2;
        m_slot = int(i);
        break;
    }
}

PartFile::~PartFile() {
    std::error_code ignored;
    fs::remove(m_path, ignored);
    if (m_slot >= 0) slots[std::size_t(m_slot)].state = 0;
}

void removePartFilesWhenEnded() {
    struct sigaction action {};
    action.sa_handler = endAfterRemoving;
    sigemptyset(&action.sa_mask);
    action.sa_flags = int(SA_RESETHAND);
    for (const int signal : {SIGTERM, SIGINT, SIGHUP}) ::sigaction(signal, &action, nullptr);
}

} // namespace virga
