#include "core/motion/shutter.h"

#include <algorithm>

namespace virga {

OpenInterval openInterval(const Shutter& shutter, double frame) {
    const double angle = std::clamp(shutter.angle, 0.0, 720.0);
    const double open = frame + shutter.phase.value_or(-angle / 2) / 360;
    return {open, open + angle / 360};
}

double exposureSeconds(const Shutter& shutter, FrameRate rate) {
    return shutter.angle / (360 * rate.toDouble());
}

} // namespace virga
