#pragma once
// Flow between neighbouring pictures of sources, found once: kept in memory and, where a folder is given, on disk, both
// bounded in bytes; what was longest unused goes first. Safe for any number of threads.
#include <array>
#include <filesystem>

#include "core/base/bounded_cache.h"
#include "core/optical_flow/optical_flow_pair.h"

namespace virga {

class FlowStore {
public:
    explicit FlowStore(std::size_t mostBytes = std::size_t(96) << 20) : m_kept(mostBytes) {}

    /// Where flow is kept on disk, and how much of it; an empty path: nowhere. To be said before others ask.
    void keepIn(const std::filesystem::path& folder, std::uintmax_t mostOnDisk);

    using Pointer = std::shared_ptr<const FlowPair>;
    /// What is known by a key, or null.
    Pointer find(std::uint64_t key);
    /// The same, without reading it.
    bool has(std::uint64_t key) const;
    /// What is known, else what `make` finds; of several threads that ask for the same one makes it.
    template <typename Make> Pointer findOrMake(std::uint64_t key, const Make& make) {
        if (Pointer known = find(key)) return known;
        const std::lock_guard lock(m_making[key % m_making.size()]);
        if (Pointer known = find(key)) return known;
        return keep(key, make());
    }
    std::size_t bytes() const { return m_kept.bytes(); }
    void setMost(std::size_t bytes) { m_kept.setMost(bytes); }

private:
    Pointer keep(std::uint64_t key, FlowPair flow);
    std::filesystem::path fileOf(std::uint64_t key) const;
    void holdOnDisk();

    BoundedCache<FlowPair> m_kept;
    std::filesystem::path m_folder;
    std::uintmax_t m_mostOnDisk = 0;
    std::mutex m_disk;
    int m_written = 0; // since the folder was looked through
    std::array<std::mutex, 16> m_making;
};

} // namespace virga
