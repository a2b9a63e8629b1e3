#include "core/optical_flow/optical_flow_store.h"

#include <algorithm>
#include <fmt/format.h>
#include <vector>

#include "core/optical_flow/optical_flow_file.h"

namespace virga {

namespace fs = std::filesystem;

void FlowStore::keepIn(const fs::path& folder, std::uintmax_t mostOnDisk) {
    m_folder = folder;
    m_mostOnDisk = mostOnDisk;
    std::error_code ignored;
    if (!folder.empty()) fs::create_directories(folder, ignored);
}

fs::path FlowStore::fileOf(std::uint64_t key) const {
    return m_folder / fmt::format("{:016x}.flow", key);
}

bool FlowStore::has(std::uint64_t key) const {
    std::error_code ignored;
    return m_kept.contains(key) || (!m_folder.empty() && fs::exists(fileOf(key), ignored));
}

FlowStore::Pointer FlowStore::find(std::uint64_t key) {
    if (Pointer kept = m_kept.find(key)) return kept;
    if (m_folder.empty()) return nullptr;
    auto read = readFlow(fileOf(key));
    std::error_code ignored;
    if (!read) {
        if (read.error().code == ErrorCode::Unreadable) fs::remove(fileOf(key), ignored); // damaged: made again
        return nullptr;
    }
    fs::last_write_time(fileOf(key), fs::file_time_type::clock::now(), ignored); // used just now
    auto pair = std::make_shared<const FlowPair>(std::move(*read));
    m_kept.put(key, pair, pair->bytes());
    return pair;
}

FlowStore::Pointer FlowStore::keep(std::uint64_t key, FlowPair flow) {
    auto pair = std::make_shared<const FlowPair>(std::move(flow));
    m_kept.put(key, pair, pair->bytes());
    // A disk that is full costs time later, nothing else.
    if (!m_folder.empty() && writeFlow(fileOf(key), *pair)) holdOnDisk();
    return pair;
}

void FlowStore::holdOnDisk() {
    const std::lock_guard lock(m_disk);
    constexpr int often = 32;
    if (m_written++ % often != 0) return;
    struct File {
        fs::path path;
        fs::file_time_type used;
        std::uintmax_t bytes;
    };
    std::vector<File> files;
    std::uintmax_t all = 0;
    std::error_code error;
    for (fs::directory_iterator at(m_folder, error), end; !error && at != end; at.increment(error)) {
        if (at->path().extension() != ".flow") continue;
        std::error_code gone;
        files.push_back({at->path(), at->last_write_time(gone), at->file_size(gone)});
        if (gone)
            files.pop_back();
        else
            all += files.back().bytes;
    }
    std::sort(files.begin(), files.end(), [](const File& a, const File& b) { return a.used < b.used; });
    for (const File& file : files) {
        if (all <= m_mostOnDisk) break;
        if (fs::remove(file.path, error)) all -= file.bytes;
    }
}

} // namespace virga
