#pragma once
// Hands values from one thread to another, a few at a time: who is ahead waits. For one giver and one taker.
#include <condition_variable>
#include <deque>
#include <mutex>
#include <optional>

namespace virga {

template <typename Value> class BoundedQueue {
public:
    explicit BoundedQueue(std::size_t most) : m_most(most) {}

    /// Waits while it is full. False, and nothing given, once it is closed.
    bool give(Value value) {
        std::unique_lock lock(m_mutex);
        m_changed.wait(lock, [this] { return m_values.size() < m_most || m_closed; });
        if (m_closed) return false;
        m_values.push_back(std::move(value));
        m_changed.notify_all();
        return true;
    }
    /// Waits while it is empty. Nothing once it is closed and empty.
    std::optional<Value> take() {
        std::unique_lock lock(m_mutex);
        m_changed.wait(lock, [this] { return !m_values.empty() || m_closed; });
        if (m_values.empty()) return std::nullopt;
        std::optional<Value> value(std::move(m_values.front()));
        m_values.pop_front();
        m_changed.notify_all();
        return value;
    }
    /// No more is given; what is there can still be taken.
    void close() {
        const std::lock_guard lock(m_mutex);
        m_closed = true;
        m_changed.notify_all();
    }

private:
    std::mutex m_mutex;
    std::condition_variable m_changed;
    std::deque<Value> m_values;
    std::size_t m_most;
    bool m_closed = false;
};

} // namespace virga
