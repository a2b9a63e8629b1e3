#pragma once
// How much of what a sound device was given has been heard, as a clock to show pictures by. A device tells in steps as
// large as its buffers, a sound server takes some ahead without its being heard, and at its beginning, or where it has
// nothing to play, it stands still. So the lower edge of what it tells over the last second is believed, carried on by
// the machine's clock.
#include <deque>

namespace virga {

class DeviceClock {
public:
    /// What has been heard, in seconds; never less than before. `told` is what the device says has been heard, `now`
    /// the machine's clock, both in seconds since the device was started; call it often while it plays.
    double seconds(double told, double now);

    /// How far what is told looks back, in seconds. A server's steps have to be shorter.
    static constexpr double window = 1;
    /// What the clock gives way by at most, of the time that passes, to come where the device is.
    static constexpr double slew = 0.05;
    /// Farther ahead of the device than that, in seconds, the clock stands still till the device has come up.
    static constexpr double standsStill = 0.04;

private:
    struct Low {
        double at, off;
    };
    std::deque<Low> m_lows; // what is lower than all that came after it, oldest first
    double m_off = 0;       // of the device's clock from the machine's, as it is believed
    double m_before = 0, m_heard = 0;
    bool m_begun = false;
};

} // namespace virga
