#pragma once
// A cache bounded in bytes that forgets what was longest not asked for. Safe for any number of threads.
#include <cstdint>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

namespace virga {

template <typename Value> class BoundedCache {
public:
    using Pointer = std::shared_ptr<const Value>;
    explicit BoundedCache(std::size_t mostBytes) : m_most(mostBytes) {}

    /// What is kept under the key, or null.
    Pointer find(std::uint64_t key) {
        const std::lock_guard lock(m_mutex);
        const auto at = m_index.find(key);
        if (at == m_index.end()) return nullptr;
        m_order.splice(m_order.begin(), m_order, at->second);
        return at->second->value;
    }
    bool contains(std::uint64_t key) const {
        const std::lock_guard lock(m_mutex);
        return m_index.contains(key);
    }
    /// Keeps a value; one larger than the whole cache is not kept.
    void put(std::uint64_t key, Pointer value, std::size_t bytes) {
        const std::lock_guard lock(m_mutex);
        if (bytes > m_most) return;
        if (const auto at = m_index.find(key); at != m_index.end()) remove(at->second);
        m_order.push_front({key, std::move(value), bytes});
        m_index[key] = m_order.begin();
        m_bytes += bytes;
        while (m_bytes > m_most) remove(std::prev(m_order.end()));
    }
    /// Another limit; what is beyond it is forgotten at once.
    void setMost(std::size_t bytes) {
        const std::lock_guard lock(m_mutex);
        m_most = bytes;
        while (m_bytes > m_most) remove(std::prev(m_order.end()));
    }
    std::size_t most() const {
        const std::lock_guard lock(m_mutex);
        return m_most;
    }
    /// Raises the limit, where it is lower.
    void holdAtLeast(std::size_t bytes) {
        const std::lock_guard lock(m_mutex);
        if (bytes > m_most) m_most = bytes;
    }
    void clear() {
        const std::lock_guard lock(m_mutex);
        m_order.clear();
        m_index.clear();
        m_bytes = 0;
    }
    std::size_t bytes() const {
        const std::lock_guard lock(m_mutex);
        return m_bytes;
    }

private:
    struct Entry {
        std::uint64_t key;
        Pointer value;
        std::size_t bytes;
    };
    void remove(typename std::list<Entry>::iterator entry) {
        m_bytes -= entry->bytes;
        m_index.erase(entry->key);
        m_order.erase(entry);
    }
    mutable std::mutex m_mutex;
    std::list<Entry> m_order; // latest first
    std::unordered_map<std::uint64_t, typename std::list<Entry>::iterator> m_index;
    std::size_t m_most, m_bytes = 0;
};

} // namespace virga
