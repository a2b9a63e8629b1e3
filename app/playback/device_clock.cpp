#include "app/playback/device_clock.h"

#include <algorithm>
#include <utility>

namespace virga {

double DeviceClock::seconds(double told, double now) {
    const double off = told - now;
    if (!m_begun) {
        if (told <= 0) return 0;
        m_begun = true;
        m_off = -now; // from nothing on: what was taken at once waits to be heard
        m_before = now;
    }
    while (!m_lows.empty() && m_lows.back().off >= off) m_lows.pop_back();
    m_lows.push_back({now, off});
    while (m_lows.front().at < now - window) m_lows.pop_front();
    const double most = slew * (now - std::exchange(m_before, now)), away = m_lows.front().off - m_off;
    m_off += away < -standsStill ? away : std::clamp(away, -most, most);
    return m_heard = std::max(m_heard, now + m_off);
}

} // namespace virga
