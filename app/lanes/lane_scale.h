#pragma once
// Frames from the cut to pixels across, values to pixels down, and what lies under a point of a lane. Plain data;
// tested without a window.
#include <optional>
#include <vector>

#include "core/motion/move.h"

namespace virga {

struct FrameScale {
    double zeroX = 520; // pixel of frame 0: the cut
    double pixelsPerFrame = 36;

    double xOf(double frame) const { return zeroX + frame * pixelsPerFrame; }
    double frameAt(double x) const { return (x - zeroX) / pixelsPerFrame; }
    /// Zoomed by a factor with the frame under x staying there; between 3 and 200 pixels a frame.
    FrameScale zoomed(double factor, double x) const;
    /// So many frames between two numbers of the ruler that they do not touch.
    int labelStep() const;
};

/// Values are laid out in the curve's space, so that an even zoom is even to the eye.
struct ValueScale {
    Space space = Space::Linear;
    double low = 0, high = 1; // in the space
    double top = 12, bottom = 80;

    double yOf(double value) const { return yOfSpace(toSpace(value, space)); }
    double yOfSpace(double v) const { return bottom - (v - low) / (high - low) * (bottom - top); }
    double spaceAt(double y) const { return low + (bottom - y) / (bottom - top) * (high - low); }
    double valueAt(double y) const { return fromSpace(spaceAt(y), space); }
    /// Everything that a channel's curves show, with some room, and the value at rest.
    static ValueScale fitting(const Channel& channel, const ChannelInfo& info, Space space, double top, double bottom);
};

struct LaneHit {
    enum What { Nowhere, OnKey, OnLeave, OnArrive, OnCurve };
    What what = Nowhere;
    Side side = Side::Outgoing;
    int key = -1; // for OnCurve the key that the segment leaves, or -1 where the curve holds
    bool operator==(const LaneHit&) const = default;
};

struct SelectedKey {
    Side side = Side::Outgoing;
    int key = -1;
};

/// Where a handle's ring lies; nothing for a segment that is not eased or not there.
struct LanePoint {
    double x, y;
};
std::optional<LanePoint> leaveHandleAt(const Curve& curve, int key, const FrameScale& frames, const ValueScale& values);
std::optional<LanePoint> arriveHandleAt(const Curve& curve, int key, const FrameScale& frames,
                                        const ValueScale& values);

/// Keys whose handles are shown: the selected one and its neighbours' sides of the same segments.
LaneHit hitLane(const Channel& channel, const FrameScale& frames, const ValueScale& values, double x, double y,
                const std::optional<SelectedKey>& selected);

} // namespace virga
