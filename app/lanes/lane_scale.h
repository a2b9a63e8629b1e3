#pragma once
// Frames to pixels across, values and speeds to pixels down, and what lies under a point of a lane. Plain data; tested
// without a window.
#include <optional>
#include <vector>

#include "core/curve/key_group.h"
#include "core/motion/move.h"

namespace virga {

inline constexpr double leastPerFrame = 0.5, mostPerFrame = 200; // pixels

struct FrameScale {
    double zeroX = 520; // pixel of frame 0
    double pixelsPerFrame = 36;

    double xOf(double frame) const { return zeroX + frame * pixelsPerFrame; }
    double frameAt(double x) const { return (x - zeroX) / pixelsPerFrame; }
    /// The same axis counted from another of its frames.
    FrameScale from(double frame) const { return {xOf(frame), pixelsPerFrame}; }
    /// Zoomed by a factor with the frame under x staying there.
    FrameScale zoomed(double factor, double x) const;
    /// So many frames between two numbers of the ruler that they do not touch.
    int labelStep() const;
    bool operator==(const FrameScale&) const = default;
};

/// Of a lane's axis, in its space.
struct ValueRange {
    double low = 0, high = 1;
    bool operator==(const ValueRange&) const = default;
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
    bool operator==(const ValueScale&) const = default;
    /// Everything that a channel's curves show, with some room, and the value at rest.
    static ValueScale fitting(const Channel& channel, const ChannelInfo& info, Space space, double top, double bottom);
};

/// A lane's speeds as heights above its floor; which way they go is not drawn.
struct SpeedScale {
    double floor = 86;
    double perUnit = 1; // pixels for one unit of the space per frame
    double yOf(double speed) const { return floor - (speed < 0 ? -speed : speed) * perUnit; }
    bool operator==(const SpeedScale&) const = default;
    /// The fastest place of a channel's curves, where they are on screen, as high as `height`.
    static SpeedScale fitting(const Channel& channel, double floor, double height);
};

/// What is drawn on one axis for each side: its frames and the keys whose handles are seen.
struct LaneAxes {
    FrameScale frames[2]; // by Side
    ValueScale values;
    SpeedScale speeds;
    const FrameScale& of(Side side) const { return frames[side == Side::Incoming]; }
    bool operator==(const LaneAxes&) const = default;
};
/// Outgoing and incoming.
struct SideKeys {
    KeyGroup keys[2];
    const KeyGroup& of(Side side) const { return keys[side == Side::Incoming]; }
    KeyGroup& of(Side side) { return keys[side == Side::Incoming]; }
    bool operator==(const SideKeys&) const = default;
};

struct LaneHit {
    enum What { Nowhere, OnKey, OnLeave, OnArrive, OnCurve, OnSpeed };
    What what = Nowhere;
    Side side = Side::Outgoing;
    int key = -1; // for OnCurve the key that the segment leaves, or -1 where the curve holds
    bool operator==(const LaneHit&) const = default;
};

/// Where a handle's ring lies; nothing for a segment that is not eased or not there.
struct LanePoint {
    double x, y;
};
std::optional<LanePoint> leaveHandleAt(const Curve& curve, int key, const FrameScale& frames, const ValueScale& values);
std::optional<LanePoint> arriveHandleAt(const Curve& curve, int key, const FrameScale& frames,
                                        const ValueScale& values);

/// The handles of the segments that selected keys end, while these are few enough to be told apart.
struct HandleRef {
    int key;
    bool leave;
    bool operator==(const HandleRef&) const = default;
};
std::vector<HandleRef> shownHandles(const Curve& curve, const KeyGroup& selected);

/// `drift`: the curve is on screen on both sides of its zero.
LaneHit hitLane(const Channel& channel, const LaneAxes& axes, double x, double y, const SideKeys& selected,
                bool drift = false);

} // namespace virga
