#pragma once
// When the shutter of a frame is open. Frame n is on screen for [n, n + 1); the shutter is open for
// [n + phase/360, n + phase/360 + angle/360]. The exposure in seconds is angle / (360 * rate).
#include <optional>
#include <vector>

#include "core/base/rational.h"

namespace virga {

struct Shutter {
    double angle = 180;          // degrees, 0 to 720; 0 is a still exposure
    std::optional<double> phase; // degrees; unset is -angle / 2, centred on the frame's own time
    int samples = 0;             // per frame; 0 is as many as the movement needs
    bool operator==(const Shutter&) const = default;
};

struct OpenInterval {
    double open = 0, close = 0; // in frames
    double at(double fraction) const { return open + (close - open) * fraction; }
    bool operator==(const OpenInterval&) const = default;
};

OpenInterval openInterval(const Shutter& shutter, double frame);

double exposureSeconds(const Shutter& shutter, FrameRate rate);

} // namespace virga
