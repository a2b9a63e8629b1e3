#pragma once
// A flag that asks long work to stop. Copies share the flag; it may be set and read from any thread.
#include <atomic>
#include <memory>

namespace virga {

class Cancel {
public:
    Cancel() : m_flag(std::make_shared<std::atomic<bool>>(false)) {}
    void request() const { m_flag->store(true, std::memory_order_relaxed); }
    bool requested() const { return m_flag->load(std::memory_order_relaxed); }

private:
    std::shared_ptr<std::atomic<bool>> m_flag;
};

} // namespace virga
