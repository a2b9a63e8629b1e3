#include "core/motion/shutter.h"

#include <algorithm>

namespace virga {

OpenInterval openInterval(const Shutter& shutter, double frame) {
    const double angle = std::clamp(shutter.angle, 0.0, 720.0);
    const double open = frame + shutter.phase.value_or(-angle / 2) / 360;
    return {open, open + angle / 360};
}

std::vector<double> sampleTimes(OpenInterval interval, int count) {
    std::vector<double> times(std::size_t(std::max(count, 1)));
    for (std::size_t i = 0; i < times.size(); ++i) times[i] = interval.at((double(i) + 0.5) / double(times.size()));
    return times;
}

double exposureSeconds(const Shutter& shutter, FrameRate rate) {
    return shutter.angle / (360 * rate.toDouble());
}

} // namespace virga
