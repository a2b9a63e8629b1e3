#pragma once
// A thread that shall do its loops alone; see parallel.h.

namespace virga {

/// While one lives, loops of its thread run on that thread alone: small work in the background leaves the other cores
/// to what is waited for.
class OneThread {
public:
    OneThread() : m_before(isOn()) { isOn() = true; }
    ~OneThread() { isOn() = m_before; }
    OneThread(const OneThread&) = delete;
    OneThread& operator=(const OneThread&) = delete;
    static bool& isOn() {
        thread_local bool on = false;
        return on;
    }

private:
    bool m_before;
};

} // namespace virga
