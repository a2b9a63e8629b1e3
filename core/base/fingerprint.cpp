#include "core/base/fingerprint.h"

#include <fmt/format.h>
#include <fstream>
#include <map>
#include <mutex>
#include <sys/stat.h>
#include <tuple>
#include <vector>

#include "core/base/hash.h"
#include "core/base/sequence_path.h"

namespace virga {
namespace {

constexpr std::int64_t block = 1 << 16, readWhole = std::int64_t(64) << 20, blocks = 1024; // bytes, bytes, blocks

bool addFile(Hash& hash, const std::filesystem::path& path) {
    std::ifstream file(path, std::ios::binary);
    if (!file) return false;
    file.seekg(0, std::ios::end);
    const auto size = std::int64_t(file.tellg());
    if (size < 0) return false;
    hash.add(size);
    std::vector<char> bytes(block);
    for (const std::int64_t at : {std::int64_t(0), size / 2, size - block}) {
        file.clear();
        file.seekg(std::max<std::int64_t>(0, at));
        file.read(bytes.data(), block);
        hash.add(std::string_view(bytes.data(), std::size_t(file.gcount())));
    }
    return true;
}

// Of what is in one file; empty where it cannot be read.
std::string keyOfFile(const std::filesystem::path& path) {
    struct stat is {};
    if (::stat(path.c_str(), &is) != 0 || !S_ISREG(is.st_mode)) return {};
    using State = std::tuple<std::string, dev_t, ino_t, off_t, std::int64_t, std::int64_t>;
    static std::mutex mutex;
    static std::map<State, std::string> known;
    const State state{path.native(), is.st_dev, is.st_ino, is.st_size, is.st_mtim.tv_sec, is.st_mtim.tv_nsec};
    {
        const std::lock_guard lock(mutex);
        if (const auto at = known.find(state); at != known.end()) return at->second;
    }
    std::ifstream file(path, std::ios::binary);
    if (!file) return {};
    const auto size = std::int64_t(is.st_size);
    Hash hash;
    hash.add(size);
    std::vector<char> bytes(block);
    const auto add = [&](std::int64_t at) {
        file.clear();
        file.seekg(at);
        file.read(bytes.data(), block);
        hash.add(std::string_view(bytes.data(), std::size_t(file.gcount())));
    };
    if (size <= readWhole)
        for (std::int64_t at = 0; at < size; at += block) add(at);
    else
        for (std::int64_t i = 0; i < blocks; ++i) add((size - block) / (blocks - 1) * i);
    const std::string key = fmt::format("{:016x}", hash.value());
    const std::lock_guard lock(mutex);
    return known[state] = key;
}

} // namespace

std::string contentKeyOf(const std::filesystem::path& path) {
    const auto files = filesOf(path);
    if (files.size() == 1) return keyOfFile(files.front());
    Hash hash;
    for (const auto& file : files) {
        const std::string key = keyOfFile(file);
        if (key.empty()) return {};
        hash.add(std::string_view(key));
    }
    return fmt::format("{:016x}", hash.value());
}

std::string fingerprintOf(const std::filesystem::path& path) {
    Hash hash;
    const auto sequence = sequenceOf(path);
    const bool read = sequence ? addFile(hash, sequence->picture(sequence->first)) &&
                                     addFile(hash.add(sequence->count()), sequence->picture(sequence->last))
                               : addFile(hash, path);
    return read ? fmt::format("{:016x}", hash.value()) : std::string();
}

} // namespace virga
